-- A way out and back that a print was sent along by itself.
alter table print add column through jsonb;
