-- Movement: levels, placement and settings that follow points in time. What moves is one row of three tables.

create table envelope (
  session_id text not null references session_head (id) on delete cascade, id text not null,
  channel text, feed text, slot text, field text not null,
  "on" boolean not null, points jsonb not null check (jsonb_array_length(points) <= 20000),
  primary key (session_id, id),
  check (num_nonnulls(channel, feed, slot) = 1),
  foreign key (session_id, channel) references channel (session_id, id) deferrable initially deferred,
  foreign key (session_id, feed) references feed (session_id, id) deferrable initially deferred,
  foreign key (session_id, slot) references slot (session_id, id) deferrable initially deferred
);
-- One envelope for what moves.
create unique index envelope_target on envelope (session_id, coalesce(channel, ''), coalesce(feed, ''), coalesce(slot, ''), field);
