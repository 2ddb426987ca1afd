-- What core's rules say, as far as SQL can say it: a bug cannot store what the model forbids. Sessions that broke a rule
-- were mended just before this ran (see mend.ts).

-- Ids are of a stated alphabet and length.
do $$
declare name text;
begin
  foreach name in array array['medium', 'rig', 'interface', 'port', 'unit', 'cable', 'channel', 'clip', 'loop', 'slot', 'feed', 'print', 'link', 'envelope', 'phrase'] loop
    execute format('alter table %I add constraint %I check (id ~ ''^[A-Za-z0-9][A-Za-z0-9_.:/+~-]*$'' and length(id) <= 200)', name, name || '_id');
  end loop;
end $$;

-- What a row names is there.
alter table "session"
  add foreign key (session_id, rig) references rig (session_id, id) deferrable initially deferred,
  add foreign key (session_id, heard_channel) references channel (session_id, id) deferrable initially deferred;
alter table print add foreign key (session_id, clip) references clip (session_id, id) deferrable initially deferred;

-- Without these, every row that goes makes the database look through whole tables.
create index interface_rig on interface (session_id, rig);
create index port_interface on port (session_id, interface);
create index unit_rig on unit (session_id, rig);
create index cable_rig on cable (session_id, rig);
create index cable_from_port on cable (session_id, from_port);
create index cable_to_port on cable (session_id, to_port);
create index cable_from_unit on cable (session_id, from_unit);
create index cable_to_unit on cable (session_id, to_unit);
create index clip_channel on clip (session_id, channel);
create index clip_medium on clip (session_id, medium);
create index loop_rig on loop (session_id, rig);
create index slot_channel on slot (session_id, channel);
create index feed_from on feed (session_id, "from");
create index feed_to on feed (session_id, "to");
create index feed_slot on feed (session_id, slot);
create index print_channel on print (session_id, channel);
create index print_source on print (session_id, source);
create index print_clip on print (session_id, clip);
create index envelope_channel on envelope (session_id, channel);
create index envelope_feed on envelope (session_id, feed);
create index envelope_slot on envelope (session_id, slot);
create index phrase_channel on phrase (session_id, channel);

-- A loop is in one slot at most; looked at when a transaction ends, so that two may change places in it.
drop index slot_loop;
alter table slot add constraint slot_loop unique (session_id, loop) deferrable initially deferred;
alter table slot add constraint slot_holds check ((processor = 'loop') = (loop is not null));

create function all_different(list jsonb) returns boolean language sql immutable parallel safe as
  $$ select count(*) = count(distinct item) from jsonb_array_elements(list) item $$;

alter table channel add constraint channel_speakers check (all_different(layout));
alter table loop add constraint loop_ports check (all_different(out_ports) and all_different(in_ports) and jsonb_array_length(in_ports) <= 2);
alter table link add constraint link_members check (all_different(members) and jsonb_array_length(members) >= 2);
alter table cable add constraint cable_jack_port unique (session_id, to_port) deferrable initially deferred;
alter table cable add constraint cable_jack_unit unique (session_id, to_unit, to_jack) deferrable initially deferred;

-- Every kind of feed has its two ends and no other.
alter table feed add constraint feed_two_ends check (case kind
  when 'key' then jsonb_array_length(ports) = 0
  when 'port' then slot is null and all_different(ports)
  when 'input' then slot is null and all_different(ports)
  else slot is null and jsonb_array_length(ports) = 0 end);

-- What lists name is there, and feeds end where their kind may end. Looked at when a transaction ends, on what it left.
create function check_feed() returns trigger language plpgsql as $$
declare f feed;
begin
  select * into f from feed where session_id = new.session_id and id = new.id;
  if not found then return null; end if;
  if f.kind in ('main', 'send') and not exists (select 1 from channel where session_id = f.session_id and id = f."to" and kind = 'bus') then
    raise exception 'the feed "%" does not end at a bus', f.id using errcode = '23514';
  end if;
  if exists (select 1 from jsonb_array_elements_text(f.ports) p where not exists (
      select 1 from port where session_id = f.session_id and id = p and direction = case f.kind when 'port' then 'out' else 'in' end)) then
    raise exception 'the feed "%" names a port that is not there', f.id using errcode = '23503';
  end if;
  return null;
end $$;
create constraint trigger feed_ends after insert or update of kind, "to", ports on feed
  deferrable initially deferred for each row execute function check_feed();

create function check_loop() returns trigger language plpgsql as $$
declare l loop;
begin
  select * into l from loop where session_id = new.session_id and id = new.id;
  if not found then return null; end if;
  if exists (select 1 from jsonb_array_elements_text(l.out_ports) p where not exists (
      select 1 from port where session_id = l.session_id and id = p and direction = 'out'))
    or exists (select 1 from jsonb_array_elements_text(l.in_ports) p where not exists (
      select 1 from port where session_id = l.session_id and id = p and direction = 'in')) then
    raise exception 'the loop "%" names a port that is not there', l.id using errcode = '23503';
  end if;
  return null;
end $$;
create constraint trigger loop_names after insert or update of out_ports, in_ports on loop
  deferrable initially deferred for each row execute function check_loop();

create function check_link() returns trigger language plpgsql as $$
begin
  if exists (select 1 from link l, jsonb_array_elements_text(l.members) m where l.session_id = new.session_id and l.id = new.id
      and not exists (select 1 from channel where session_id = l.session_id and id = m)) then
    raise exception 'the link "%" names a channel that is not there', new.id using errcode = '23503';
  end if;
  return null;
end $$;
create constraint trigger link_names after insert or update of members on link
  deferrable initially deferred for each row execute function check_link();

create function check_port_gone() returns trigger language plpgsql as $$
begin
  if exists (select 1 from port where session_id = old.session_id and id = old.id) then return null; end if;
  if exists (select 1 from feed where session_id = old.session_id and ports ? old.id)
    or exists (select 1 from loop where session_id = old.session_id and (out_ports ? old.id or in_ports ? old.id)) then
    raise exception 'the port "%" is still named', old.id using errcode = '23503';
  end if;
  return null;
end $$;
create constraint trigger port_gone after delete on port deferrable initially deferred for each row execute function check_port_gone();

create function check_channel_gone() returns trigger language plpgsql as $$
begin
  if exists (select 1 from channel where session_id = old.session_id and id = old.id) then return null; end if;
  if exists (select 1 from link where session_id = old.session_id and members ? old.id) then
    raise exception 'the channel "%" is still linked', old.id using errcode = '23503';
  end if;
  return null;
end $$;
create constraint trigger channel_gone after delete on channel deferrable initially deferred for each row execute function check_channel_gone();
