-- Why: what defects came of in this shop weighs in when the next one is looked at, and a batch that repairs another is found from
-- both ends. The logs of batches decide these rows; a strike gives them back.
create table defect (
    batch_id uuid not null references batch,
    entry_id uuid not null,
    symptom text not null,
    zone_id uuid,
    -- None: nobody settled it yet.
    cause text,
    at timestamptz not null,
    primary key (batch_id, entry_id)
);

create index defect_settled on defect (symptom, cause) where cause is not null;

alter table batch add column repairs_batch uuid, add column repairs_defect uuid;

create index batch_repairs on batch (repairs_batch) where repairs_batch is not null;
