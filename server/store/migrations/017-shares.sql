-- A print of one channel's share of a tap.
alter table print add column share text,
  add foreign key (session_id, share) references channel (session_id, id) deferrable initially deferred;
create index print_share on print (share, session_id);
