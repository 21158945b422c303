-- Why: a set-up is repeated with the rig it was found with. A rig is a row a lead edits; a batch pins it as it stood, and
-- keeps what was good of its set-up beside its row, so that the next one starts from there. The log fills both in.
create table rig (
  id uuid primary key,
  name text not null check (length(name) between 1 and 80),
  body jsonb not null,
  retired boolean not null default false,
  created timestamptz not null
);

create unique index rig_name on rig (lower(name));

alter table batch
  -- An index of what the log says: a rig that is gone does not stop the rows from being made anew.
  add column rig_id uuid,
  add column good_set_up jsonb;

create index batch_good on batch (rig_id, number desc) where good_set_up is not null;
