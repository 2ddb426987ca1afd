-- Places of a print where its pass went wrong: what clipped, was lost, broke off or clicks.
alter table print add column faults jsonb not null default '[]';
