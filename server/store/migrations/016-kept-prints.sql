-- A print outlives what it was made from.
alter table print alter column source drop not null, add column source_name text not null default '';
