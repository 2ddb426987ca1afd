-- Connections that are normalled behind a patch bay, and routes inside an interface with their level; trims of outputs.
alter table cable
  add column normalled text check (normalled in ('half', 'full')),
  add column inside boolean not null default false,
  add column level_db double precision default 0;
-- A jack takes one plug and is normalled to one other; a route is there once.
alter table cable drop constraint cable_jack_port, drop constraint cable_jack_unit;
alter table cable
  add constraint cable_plug_port exclude using btree (session_id with =, to_port with =)
    where (normalled is null and not inside) deferrable initially deferred,
  add constraint cable_plug_unit exclude using btree (session_id with =, to_unit with =, to_jack with =)
    where (normalled is null and not inside) deferrable initially deferred,
  add constraint cable_normal_port exclude using btree (session_id with =, to_port with =)
    where (normalled is not null and not inside) deferrable initially deferred,
  add constraint cable_normal_unit exclude using btree (session_id with =, to_unit with =, to_jack with =)
    where (normalled is not null and not inside) deferrable initially deferred,
  add constraint cable_route exclude using btree (session_id with =, from_port with =, to_port with =)
    where (inside) deferrable initially deferred;
alter table port add column trim_db double precision not null default 0;
-- What a player plays; settings under names; switches that are asked back.
alter table unit
  add column plays text,
  add column presets jsonb not null default '[]',
  add column put_back jsonb not null default '{}',
  add foreign key (session_id, plays) references medium (session_id, id) deferrable initially deferred;
create index unit_plays on unit (plays, session_id);
-- What a track is compared with.
alter table channel
  add column reference text,
  add foreign key (session_id, reference) references channel (session_id, id) deferrable initially deferred;
create index channel_reference on channel (reference, session_id);
