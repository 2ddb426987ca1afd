-- Units and cables that turn the polarity of what passes.
alter table unit add column inverts boolean not null default false;
alter table cable add column inverts boolean not null default false;
