-- Why: who may do what, what is worked on, and with which instruments. Times are given by the
-- application's clock, never by the database, so that scaled time holds everywhere.

create table person (
    id uuid primary key,
    name text not null,
    role text not null check (role in ('applicator', 'lead', 'inspector', 'owner')),
    pin_hash text not null,
    units text not null default 'mixed' check (units in ('us', 'metric', 'mixed')),
    numbers text not null default 'point' check (numbers in ('point', 'comma')),
    retired boolean not null default false,
    created timestamptz not null
);
create unique index person_name on person (lower(name));

-- The cookie holds a random token; only its hash is kept, so a stolen table opens nothing.
create table session (
    id uuid primary key,
    token_sha256 text not null unique,
    person_id uuid not null references person,
    created timestamptz not null,
    last_seen timestamptz not null,
    expires timestamptz not null,
    revoked timestamptz
);
create index session_person on session (person_id);

-- Wrong PINs, counted by person; a right one clears them.
create table sign_in_failure (
    person_id uuid primary key references person,
    failures integer not null,
    locked_until timestamptz
);

create table instrument (
    id uuid primary key,
    kind text not null check (kind in ('scale', 'comb', 'gauge', 'probe')),
    name text not null unique,
    resolution double precision not null check (resolution > 0),
    -- Teeth of a comb in micrometres; empty for the rest.
    teeth_um double precision[] not null default '{}'
);

create table sheet (
    id uuid primary key,
    created timestamptz not null
);

-- Versions are immutable: an edit is a new row, and a batch pins one.
create table sheet_version (
    id uuid primary key,
    sheet_id uuid not null references sheet,
    edition integer not null,
    name text not null,
    body jsonb not null,
    written_by uuid not null references person,
    written timestamptz not null,
    unique (sheet_id, edition)
);

-- Names typed by people become rows at once, so that trace works from the first day.
create table part (
    id uuid primary key,
    name text not null,
    label text not null,
    created timestamptz not null
);
create unique index part_name on part (lower(name));

create table zone (
    id uuid primary key,
    part_id uuid not null references part,
    name text not null
);
create unique index zone_name on zone (part_id, lower(name));

create table coat (
    id uuid primary key,
    part_id uuid not null references part,
    name text not null,
    place integer not null
);
create unique index coat_name on coat (part_id, lower(name));

create table lot (
    id uuid primary key,
    code text not null,
    sheet_id uuid not null references sheet,
    component text not null,
    created timestamptz not null
);
create unique index lot_code on lot (sheet_id, component, lower(code));

-- Small facts about the database itself: whether it is a demo, its seed.
create table house (
    key text primary key,
    value text not null
);
