-- Why: a photo is shown small where it was taken, so its small picture is kept beside it; what was kept before has none.
alter table attachment add column small bytea;
