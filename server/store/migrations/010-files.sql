-- What a file says about itself beside its samples: its title, and when it was recorded (frames since midnight).
alter table medium
  add column title text not null default '',
  add column time_reference bigint check (time_reference >= 0);
