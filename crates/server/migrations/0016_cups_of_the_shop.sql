-- A shop keeps its printed cups beside its scales and combs. The resolution of a cup is a quarter of its step, in millilitres.
alter table instrument drop constraint instrument_kind_check;
alter table instrument add constraint instrument_kind_check check (kind in ('scale', 'comb', 'gauge', 'probe', 'cup'));
alter table instrument add column body jsonb;
