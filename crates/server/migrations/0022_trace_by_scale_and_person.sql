-- Why: what else was weighed on a scale that is found off, and what else somebody did that day, is found without reading every log.
-- The logs of batches decide these rows; a strike gives them back.
create table batch_instrument (
    batch_id uuid not null references batch,
    instrument_id uuid not null references instrument,
    first_at timestamptz not null,
    last_at timestamptz not null,
    primary key (batch_id, instrument_id)
);

create index batch_instrument_by_scale on batch_instrument (instrument_id, last_at);

create index batch_person_by_person on batch_person (person_id);
