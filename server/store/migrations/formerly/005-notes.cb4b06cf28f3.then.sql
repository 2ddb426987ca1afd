-- How what is heard is folded came into this file after it had run on some databases.
alter table "session" add column heard_as text not null default 'stereo';
