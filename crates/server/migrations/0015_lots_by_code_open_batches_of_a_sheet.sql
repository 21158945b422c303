-- Lots are listed by their code, a page at a time, as fast as by their age.
create index lot_by_code on lot (lower(code), id) where received is not null;
-- Where a remainder may go is read at every key typed at Mix; without this it was looked for among all batches, the newest first.
create index batch_open_of_sheet on batch (sheet_version_id, number) where state = 'open';
