-- A gesture is applied once however often it arrives: its key is unique in its session's log. Rows of before get keys.
-- The era tells a session from another one that was made under the same id later.

alter table session_head add column era text not null default gen_random_uuid()::text;

alter table edit_log rename column tab to gesture;
alter table edit_log add column client text not null default '';
update edit_log set gesture = 'before-' || revision;
alter table edit_log add constraint edit_log_gesture unique (session_id, gesture);

-- Who asked for a job: what it stores is that client's to undo.
alter table job add column client text not null default '';
