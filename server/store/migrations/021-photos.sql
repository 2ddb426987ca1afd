-- Small pictures of units, for whoever sets them again: kept once by the hash of their bytes, named by rows of units.
create table photo (
  sha256 text primary key check (sha256 ~ '^[0-9a-f]{64}$'),
  jpeg bytea not null check (length(jpeg) <= 524288),
  made_at timestamptz not null default now()
);
alter table unit add column photos jsonb not null default '[]';
