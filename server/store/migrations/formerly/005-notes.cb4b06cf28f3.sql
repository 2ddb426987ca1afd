-- Note tracks: a tempo map, and phrases of notes in beats.

alter table "session"
  add column tempo jsonb not null default '[[0, 120]]',
  add column beats_per_bar integer not null default 4 check (beats_per_bar between 1 and 32);

create table phrase (
  session_id text not null references session_head (id) on delete cascade, id text not null,
  channel text not null, name text not null,
  "as" text not null check ("as" in ('notes', 'steps', 'chord')), voice text not null check (voice in ('pad', 'pluck', 'drum')),
  level_db double precision,
  start_beat double precision not null check (start_beat >= 0), length_beats double precision not null check (length_beats > 0),
  repeats integer not null check (repeats between 1 and 4096), step_beats double precision not null check (step_beats > 0),
  notes jsonb not null check (jsonb_array_length(notes) <= 20000),
  primary key (session_id, id),
  foreign key (session_id, channel) references channel (session_id, id) deferrable initially deferred
);
