-- Earlier pings of a loop, notes of a unit, and the rig library of the installation: rooms that sessions copy from.
alter table loop add column former jsonb not null default '[]';
alter table unit add column notes text not null default '';
alter table rig add column entry text;

create table rig_entry (
  id text primary key,
  name text not null,
  document jsonb not null,
  made_at timestamptz not null default now(),
  changed_at timestamptz not null default now(),
  removed_at timestamptz
);

-- When a template was kept last, beside when it was first.
alter table template add column changed_at timestamptz not null default now();
update template set changed_at = made_at;
