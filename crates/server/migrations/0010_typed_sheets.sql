-- What was typed into a sheet stays typed: its texts are kept beside the figures they were understood as, so that a sheet
-- opened and saved unchanged changes nothing.
alter table sheet_version add column typed jsonb not null default '{}';
