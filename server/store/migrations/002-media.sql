-- Samples, in blocks of about one MiB: float32, legs one after the other inside a block. Blocks are written under an
-- upload's key; the last transaction publishes them as a medium. What a dead upload left is collected.

create table upload (
  key bigserial primary key,
  touched_at timestamptz not null default now()
);

create table media (
  sha256 text primary key,
  key bigint not null unique,
  legs integer not null check (legs between 1 and 64),
  frames bigint not null check (frames > 0),
  sample_rate integer not null,
  block_frames integer not null,
  peaks bytea not null,
  made_at timestamptz not null default now()
);

create table media_block (
  key bigint not null,
  index integer not null,
  samples bytea not null,
  primary key (key, index)
);
alter table media_block alter column samples set storage external;

create table job (
  id text primary key,
  session_id text not null references session_head (id) on delete cascade,
  kind text not null, label text not null, args jsonb not null,
  state text not null default 'waiting' check (state in ('waiting', 'running', 'stopping', 'done', 'failed', 'stopped')),
  progress double precision not null default 0, step text not null default '',
  result jsonb, error jsonb, tries integer not null default 0,
  worker_lock bigint, locked_by text,
  made_at timestamptz not null default now(), started_at timestamptz, ended_at timestamptz
);
create index job_session on job (session_id, made_at);
