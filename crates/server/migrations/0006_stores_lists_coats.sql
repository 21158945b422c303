-- Why: lots stand in the stores with a book of their own each; Ready lists and coat systems are data a lead edits;
-- places and probes keep a bounded history of temperatures.

alter table book drop constraint book_kind_check;
alter table book add constraint book_kind_check check (kind in ('batch', 'rig', 'place', 'lot'));

-- Where lots stand. A probe may watch it; entries by hand are in its book.
create table place (
    id uuid primary key,
    name text not null,
    store_min_c double precision,
    store_max_c double precision,
    probe text,
    created timestamptz not null
);
create unique index place_name on place (lower(name));

-- What the book of a lot decides, and what is left of it by every book. A lot typed at a pour has no book yet.
alter table lot
    add column makers_lot text,
    add column colour text,
    add column received date,
    add column made date,
    add column expires date,
    add column container_g double precision,
    add column containers double precision,
    add column counted_g double precision,
    add column counted_at timestamptz,
    add column left_g double precision,
    add column place_id uuid references place,
    add column quarantined text,
    add column damaged text,
    add column certified boolean not null default false,
    add column class text not null default 'other' check (class in ('peroxide', 'resin', 'other')),
    -- What a word is looked for in: lower case once, so that a list need not fold every row anew.
    add column words text generated always as (lower(code || ' ' || coalesce(makers_lot, ''))) stored;
create index lot_order on lot (received, code, id) where received is not null;
create index lot_first on lot (sheet_id, component, received, expires, code) where received is not null and left_g > 0;
create index lot_place on lot (place_id, class) where place_id is not null;

-- What batches took, derived from their books; struck pours are not here.
create table lot_pour (
    batch_id uuid not null references batch,
    entry_id uuid not null,
    lot_id uuid not null references lot,
    used_g double precision not null,
    at timestamptz not null,
    primary key (entry_id, lot_id)
);
create index lot_pour_lot on lot_pour (lot_id, at);
create index lot_pour_batch on lot_pour (batch_id);

-- Papers and photos, each once, by what they are.
create table attachment (
    sha256 text primary key,
    media text not null,
    bytes bytea not null,
    person_id uuid not null references person,
    created timestamptz not null
);

-- Temperatures and humidity, by probe or by hand (`place:<id>`); pruned, the books keep what people wrote.
create table reading (
    source text not null,
    at timestamptz not null,
    value double precision not null,
    primary key (source, at)
);

-- The Ready lists, one document, each edit a new edition; a batch pins the items it was begun with.
create table ready_lists (
    edition integer primary key,
    body jsonb not null,
    written_by uuid references person,
    written timestamptz not null
);

-- A coat of a part as planned.
alter table coat
    add column sheet_id uuid references sheet,
    add column method text,
    add column film_um double precision,
    add column film_is text check (film_is in ('wet', 'dry')),
    add column prepare text,
    add column retired boolean not null default false;

-- Recoat times of a pair of products; they stand before the sheet's own.
create table pair_window (
    from_sheet uuid not null references sheet,
    to_sheet uuid not null references sheet,
    body jsonb not null,
    written_by uuid not null references person,
    written timestamptz not null,
    primary key (from_sheet, to_sheet)
);

-- How cold and hot the surface was since the coat ended, for the window of a pair.
alter table batch
    add column surface_min_c double precision,
    add column surface_max_c double precision;
