-- Why: people see where they are signed in and end what is not theirs; a session says from where it was opened.
alter table session add column opened_from text not null default '';
create index session_live on session (person_id, expires) where revoked is null;
