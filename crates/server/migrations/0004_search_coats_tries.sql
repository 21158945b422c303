-- Why: records are found by part, product, lot, person and day without reading every row; a coat knows the
-- window of the coat beneath it; wrong PINs are counted by person and by address in one place.

-- Word search inside names. Trusted since PostgreSQL 13: the owner of the database may create it.
create extension if not exists pg_trgm;

-- The folded record is no longer kept: written anew with every entry it cost more than folding the log again. The
-- server keeps folded records in memory, each for the head it was folded at, and a book knows its head.
alter table batch drop column record, drop column head_seq;
alter table book add column head_seq bigint not null default 0;
update book set head_seq = coalesce((select max(seq) from entry where book_id = book.id), 0);

-- Derived from the record like every column of this table; filled for older rows by the rebuild at start.
alter table batch
    add column ended timestamptz,
    add column recoat_earliest timestamptz,
    add column recoat_latest timestamptz;
create index batch_part_number on batch (part_id, number);
create index batch_last on batch (last_happened desc, id desc) where state <> 'open';
create index batch_begun on batch (begun);
create index batch_label_words on batch using gin (label gin_trgm_ops);
create index batch_product_words on batch using gin (product gin_trgm_ops);
create index part_words on part using gin (name gin_trgm_ops);
create index lot_words on lot using gin (code gin_trgm_ops);
create index lot_use_lot on lot_use (lot_id);

-- Who worked on a batch, by the log.
create table batch_person (
    batch_id uuid not null references batch,
    person_id uuid not null references person,
    primary key (batch_id, person_id)
);
create index batch_person_person on batch_person (person_id);

-- One row for a person or an address that tried to sign in: how often within the window that began at `since`.
create table sign_in_try (
    key text primary key,
    tries integer not null,
    since timestamptz not null
);
drop table sign_in_failure;
