-- What 0 dBFS of a recording was where it was made, in dBu.
alter table channel add column source_dbu double precision;
