-- Why: a rig is never opened under pressure, so the row knows when a batch pressed it last; what zero was read since is in
-- its book. A rig is put together from pieces that are kept once. A shop's other tip codes are rows it edits. What eye and
-- gun made of a stream stands beside the batch that saw it.
alter table rig
  add column pressed_at timestamptz,
  add column pressed_by bigint;

create table piece (
  id uuid primary key,
  kind text not null,
  name text not null check (length(name) between 1 and 80),
  figures jsonb not null,
  retired boolean not null default false,
  created timestamptz not null
);

create unique index piece_name on piece (kind, lower(name));

create table tip_row (
  code text primary key check (length(code) between 1 and 12 and code = upper(code)),
  angle_deg double precision not null,
  hole_mm double precision not null
);

alter table batch
  add column seen_bend jsonb;

create index batch_bend on batch ((seen_bend ->> 'gun'), (seen_bend ->> 'by'), number desc) where seen_bend is not null;
