-- What comparisons of a print found, the newest first.
alter table print add column proofs jsonb not null default '[]';
