-- Why: the log. Entries are only ever added; the trigger makes that a rule of the database and not a habit.

create table book (
    id uuid primary key,
    kind text not null check (kind in ('batch', 'rig', 'place')),
    created timestamptz not null
);

create table entry (
    book_id uuid not null references book,
    seq bigint not null,
    id uuid not null unique,
    kind text not null,
    version integer not null,
    -- The canonical text that is hashed; the JSON beside it is derived for queries.
    payload text not null,
    payload_json jsonb generated always as (payload::jsonb) stored,
    who uuid not null references person,
    happened timestamptz not null,
    arrived timestamptz not null,
    -- Hash of what the client sent: the same id with the same content is the same entry.
    request_sha256 text not null,
    previous_hash text not null,
    hash text not null,
    primary key (book_id, seq)
);

create function entry_is_append_only() returns trigger language plpgsql as $$
begin
    raise exception 'entries are never changed or deleted';
end $$;
create trigger entry_append_only before update or delete on entry
    for each row execute function entry_is_append_only();

-- One row per batch, rebuilt from its book on demand. Nothing here is the truth; the book is.
create table batch (
    id uuid primary key references book,
    number bigint not null unique,
    sheet_version_id uuid not null references sheet_version,
    part_id uuid not null references part,
    coat_id uuid not null references coat,
    label text not null,
    product text not null,
    state text not null check (state in ('open', 'signed', 'accepted')),
    begun timestamptz not null,
    last_happened timestamptz not null,
    head_seq bigint not null,
    record jsonb not null,
    -- The card as it was accepted, with the version of core that judged it.
    signed_card jsonb
);
create index batch_state on batch (state, last_happened desc);

-- Pot numbers run per shop day across the shop.
create table pot_number (
    day date not null,
    no integer not null,
    charge_id uuid not null unique,
    primary key (day, no)
);

-- Which lots a batch used; struck pours give them back when the projection is rebuilt.
create table lot_use (
    batch_id uuid not null references batch,
    lot_id uuid not null references lot,
    primary key (batch_id, lot_id)
);
