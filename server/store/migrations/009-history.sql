-- Undo survives the page: the log knows which gesture took back which. Sessions that are removed are kept for a while.
alter table edit_log add column reverts text;
alter table session_head add column removed_at timestamptz;
-- Simple enough to be locked and written through.
create view session_here as select * from session_head where removed_at is null;
