-- Takes: several recordings of a track, of which at most one is heard.
create table take (
  session_id text not null references session_head (id) on delete cascade, id text not null,
  channel text not null, name text not null, "order" text not null,
  rating text not null check (rating in ('unrated', 'spare', 'good', 'best')),
  primary key (session_id, id),
  foreign key (session_id, channel) references channel (session_id, id) deferrable initially deferred
);
create index take_channel on take (channel, session_id);

alter table channel add column take text,
  add foreign key (session_id, take) references take (session_id, id) deferrable initially deferred;
alter table clip add column take text,
  add foreign key (session_id, take) references take (session_id, id) deferrable initially deferred;
create index channel_take on channel (take, session_id);
create index clip_take on clip (take, session_id);
