-- A job has one entry in the queue, by its key: who holds it is the queue's own affair.
alter table job drop column locked_by;
