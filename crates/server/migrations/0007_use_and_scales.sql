-- Why: what a coat really took against what was reckoned is learned by product, method and kind of part, so each
-- batch keeps both figures beside its row; the log fills them in.
alter table batch
  add column method text,
  add column substrate text,
  add column reckoned_ml double precision,
  add column used_ml double precision;

create index batch_learned on batch (sheet_version_id) where used_ml is not null;
