-- Linked strips, families as the session knows them, clocks of interfaces, loops that are left as late as they are.

alter table "session" add column families jsonb;

alter table interface
  add column clock text not null default 'locked' check (clock in ('locked', 'free')),
  add column drift_ppm double precision not null default 0 check (drift_ppm between -200 and 200);

alter table loop add column compensated boolean not null default true;

create table link (
  session_id text not null references session_head (id) on delete cascade, id text not null,
  name text not null check (length(name) between 1 and 300), "order" text collate "C" not null,
  members jsonb not null, levels boolean not null, mutes boolean not null, solos boolean not null,
  primary key (session_id, id)
);

-- Networks to be laid over other sessions. They belong to nobody's session.
create table template (
  id text primary key,
  name text not null check (length(name) between 1 and 300),
  document jsonb not null,
  made_at timestamptz not null default now()
);

-- The same bytes may be audio of other legs: silence in one leg is half as long in two.
alter table media drop constraint media_pkey;
alter table media add primary key (sha256, legs);
