-- Sessions as rows. Every table is keyed by session and id: ids are any text and mean something only inside their session.
-- References are checked at the end of a transaction, so that an edit may write its rows in any order.

create table session_head (
  id text primary key,
  revision integer not null default 0,
  created_at timestamptz not null default now(),
  updated_at timestamptz not null default now()
);

create table "session" (
  session_id text not null references session_head (id) on delete cascade,
  id text not null check (id = 'session'),
  name text not null check (length(name) between 1 and 300),
  sample_rate integer not null check (sample_rate between 8000 and 384000),
  seed bigint not null,
  rig text, heard_channel text,
  heard_level_db double precision,
  primary key (session_id, id)
);

create table medium (
  session_id text not null references session_head (id) on delete cascade, id text not null,
  name text not null, sha256 text not null, file text not null,
  legs integer not null check (legs between 1 and 64), frames bigint not null check (frames >= 0),
  sample_rate integer not null, original_rate integer, peak_db double precision, loudness_lufs double precision,
  primary key (session_id, id)
);
create index medium_sha256 on medium (sha256);

create table rig (
  session_id text not null references session_head (id) on delete cascade, id text not null,
  name text not null, "order" text collate "C" not null,
  primary key (session_id, id)
);

create table interface (
  session_id text not null references session_head (id) on delete cascade, id text not null,
  rig text not null, name text not null, sample_rates jsonb not null,
  reported_latency_samples double precision not null check (reported_latency_samples >= 0),
  true_latency_samples double precision not null check (true_latency_samples >= 0),
  noise_dbfs double precision, dc_corner_hz double precision, reference_dbu double precision not null,
  primary key (session_id, id),
  foreign key (session_id, rig) references rig (session_id, id) deferrable initially deferred
);

create table port (
  session_id text not null references session_head (id) on delete cascade, id text not null,
  interface text not null, name text not null, "order" text collate "C" not null,
  direction text not null check (direction in ('out', 'in')), signal text not null check (signal in ('analog', 'digital')),
  reference_dbu double precision,
  primary key (session_id, id),
  foreign key (session_id, interface) references interface (session_id, id) deferrable initially deferred
);

create table unit (
  session_id text not null references session_head (id) on delete cascade, id text not null,
  rig text not null, name text not null, model text not null, "order" text collate "C" not null,
  powered boolean not null, settings jsonb not null,
  primary key (session_id, id),
  foreign key (session_id, rig) references rig (session_id, id) deferrable initially deferred
);

create table cable (
  session_id text not null references session_head (id) on delete cascade, id text not null,
  rig text not null,
  from_port text, from_unit text, from_jack integer not null check (from_jack >= 0),
  to_port text, to_unit text, to_jack integer not null check (to_jack >= 0),
  primary key (session_id, id),
  check (num_nonnulls(from_port, from_unit) = 1), check (num_nonnulls(to_port, to_unit) = 1),
  foreign key (session_id, rig) references rig (session_id, id) deferrable initially deferred,
  foreign key (session_id, from_port) references port (session_id, id) deferrable initially deferred,
  foreign key (session_id, to_port) references port (session_id, id) deferrable initially deferred,
  foreign key (session_id, from_unit) references unit (session_id, id) deferrable initially deferred,
  foreign key (session_id, to_unit) references unit (session_id, id) deferrable initially deferred
);

create table channel (
  session_id text not null references session_head (id) on delete cascade, id text not null,
  name text not null check (length(name) between 1 and 300),
  kind text not null check (kind in ('track', 'bus')), role text not null,
  layout jsonb not null check (jsonb_array_length(layout) between 1 and 24),
  family text not null, family_guessed boolean not null, colour integer not null check (colour between 0 and 11),
  "order" text collate "C" not null,
  trim_db double precision, flipped_legs jsonb not null, muted_legs jsonb not null,
  low_cut_hz double precision, high_cut_hz double precision,
  level_db double precision, pan double precision not null check (pan between -1 and 1),
  muted boolean not null, soloed boolean not null, safe boolean not null, parked boolean not null,
  listen text not null check (listen in ('print', 'feed', 'follow')), ready boolean not null,
  primary key (session_id, id)
);

create table clip (
  session_id text not null references session_head (id) on delete cascade, id text not null,
  channel text not null, medium text not null, name text not null,
  start_frame bigint not null, offset_frames bigint not null check (offset_frames >= 0), frames bigint check (frames > 0),
  gain_db double precision, fade_in_frames bigint not null, fade_out_frames bigint not null, leg_map jsonb,
  primary key (session_id, id),
  foreign key (session_id, channel) references channel (session_id, id) deferrable initially deferred,
  foreign key (session_id, medium) references medium (session_id, id) deferrable initially deferred
);

create table loop (
  session_id text not null references session_head (id) on delete cascade, id text not null,
  rig text not null, name text not null, "order" text collate "C" not null,
  out_ports jsonb not null, in_ports jsonb not null,
  send_db double precision, return_db double precision, inverted boolean not null, ping jsonb, applied boolean not null,
  primary key (session_id, id),
  foreign key (session_id, rig) references rig (session_id, id) deferrable initially deferred
);

create table slot (
  session_id text not null references session_head (id) on delete cascade, id text not null,
  channel text not null, "order" text collate "C" not null, after_fader boolean not null,
  state text not null check (state in ('on', 'bypassed', 'off')), processor text not null, params jsonb not null,
  mix double precision not null check (mix between 0 and 1), loop text,
  key_low_cut_hz double precision, key_high_cut_hz double precision, kept jsonb,
  primary key (session_id, id),
  foreign key (session_id, channel) references channel (session_id, id) deferrable initially deferred,
  foreign key (session_id, loop) references loop (session_id, id) deferrable initially deferred
);
-- A loop can be in one place at a time.
create unique index slot_loop on slot (session_id, loop) where loop is not null;

create table feed (
  session_id text not null references session_head (id) on delete cascade, id text not null,
  kind text not null check (kind in ('main', 'send', 'key', 'port', 'input')),
  "from" text, "to" text, slot text, ports jsonb not null,
  tap text not null check (tap in ('input', 'pre', 'post')),
  level_db double precision, pan double precision check (pan between -1 and 1),
  muted boolean not null, with_mute boolean not null,
  primary key (session_id, id),
  -- Both ends of a connection are one row: what kind of ends it has follows from its kind.
  check (case kind
    when 'key' then "from" is not null and slot is not null and "to" is null
    when 'port' then "from" is not null and jsonb_array_length(ports) > 0 and "to" is null
    when 'input' then "to" is not null and jsonb_array_length(ports) > 0 and "from" is null
    else "from" is not null and "to" is not null end),
  foreign key (session_id, "from") references channel (session_id, id) deferrable initially deferred,
  foreign key (session_id, "to") references channel (session_id, id) deferrable initially deferred,
  foreign key (session_id, slot) references slot (session_id, id) deferrable initially deferred
);

create table print (
  session_id text not null references session_head (id) on delete cascade, id text not null,
  channel text not null, source text not null, tap text not null check (tap in ('input', 'pre', 'post')),
  clip text, takes_over boolean not null, fingerprint text not null, parts jsonb not null, seed bigint not null,
  start_frame bigint not null, frames bigint not null, latency_samples integer not null,
  residual_db double precision, verified text not null, notes jsonb not null, printed_at text not null,
  primary key (session_id, id),
  foreign key (session_id, channel) references channel (session_id, id) deferrable initially deferred,
  foreign key (session_id, source) references channel (session_id, id) deferrable initially deferred
);

-- What happened, as row changes: verbs may mean something else in the next version, rows do not.
create table edit_log (
  session_id text not null references session_head (id) on delete cascade,
  revision integer not null,
  label text not null, tab text not null, changes jsonb not null, hash text not null,
  made_at timestamptz not null default now(),
  primary key (session_id, revision)
);
