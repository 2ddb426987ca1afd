-- Templates that are removed are kept for a while, as sessions are.
alter table template add column removed_at timestamptz;
