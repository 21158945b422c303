-- Why: scales and gauges are checked against a known mass or another gauge, each in a book of its own; the row keeps when the
-- next check is due, so that a reading knows at once whether its scale is overdue.
alter table book drop constraint book_kind_check;
alter table book add constraint book_kind_check check (kind in ('batch', 'rig', 'place', 'lot', 'instrument'));
alter table instrument add column due timestamptz;
create index ratio_proof_weighed_on on ratio_proof ((body ->> 'instrument'), at);
