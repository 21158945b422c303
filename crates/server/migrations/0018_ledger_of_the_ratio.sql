-- Why: every proof of the ratio of a rig and a product is read in one ledger and followed over time, and a trend runs along the
-- kilograms that were sprayed. The logs of batches and rigs decide these rows; a strike gives them back.
create table ratio_proof (
    book_id uuid not null references book,
    -- The entry; of a pot as weighed the pot.
    entry_id uuid not null,
    -- None: the batch had no rig by then.
    rig_id uuid,
    sheet_id uuid not null references sheet,
    at timestamptz not null,
    body jsonb not null,
    primary key (book_id, entry_id)
);

create index ratio_proof_of_rig on ratio_proof (rig_id, sheet_id, at);

create table batch_sprayed (
    batch_id uuid primary key references batch,
    number bigint not null,
    rig_id uuid not null,
    sheet_id uuid not null references sheet,
    ended timestamptz not null,
    kg double precision not null
);

create index batch_sprayed_of_rig on batch_sprayed (rig_id, sheet_id, ended);
