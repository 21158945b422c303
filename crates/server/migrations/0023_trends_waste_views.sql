-- Why: what finished batches came to is looked at by product, rig and person without reading every log; what was thrown away on a day is
-- added up; and what somebody asks of the records again and again is kept under a name.
-- The logs of batches decide the columns and the rows of waste; a strike gives them back. A saved view is its person's own.
alter table batch
    add column film_pct double precision,
    add column ratio_off_pct double precision,
    add column use_pct double precision,
    add column work_s double precision,
    add column first_time boolean;

create index batch_finished_by_ended on batch (ended) where state <> 'open';

create table waste (
    batch_id uuid not null references batch,
    entry_id uuid not null,
    at timestamptz not null,
    waste_ml double precision,
    waste_g double precision,
    cost_minor double precision,
    primary key (batch_id, entry_id)
);

create index waste_at on waste (at);

create table saved_view (
    id uuid primary key,
    person_id uuid not null references person,
    name text not null,
    asks jsonb not null,
    created timestamptz not null
);

create unique index saved_view_name on saved_view (person_id, lower(name));
