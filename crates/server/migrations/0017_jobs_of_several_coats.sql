-- Several coats of one product, begun together, are one job; a coat of it may be left out.
alter table batch add column job_id uuid, add column job_coat integer;
create index batch_of_job on batch (job_id, job_coat) where job_id is not null;
alter table batch drop constraint batch_state_check;
alter table batch add constraint batch_state_check check (state in ('open', 'signed', 'accepted', 'left_out'));
