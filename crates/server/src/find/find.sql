-- What is found: $1 a pattern of words, $2 a number of a batch, $3 the id on a label, $4 most of each kind. The place of a kind is
-- its place among the kinds of core.
select place as "place!", id as "id!", label as "label!", facts as "facts!" from (
  (select case when b.state = 'open' then 0 else 1 end as place, b.id, b.label,
     b.product || ', batch ' || lpad(b.number::text, 4, '0') as facts, -b.number as rank
   from batch b where b.label ilike $1 or b.product ilike $1 or b.number = $2 or b.id = $3
   order by b.number desc limit 2 * $4::bigint)
  union all
  (select 2, p.id, p.name, (select count(*) from batch b where b.part_id = p.id) || ' batches', 0
   from part p where p.name ilike $1 or p.label ilike $1 or p.id = $3 order by p.created desc limit $4)
  union all
  (select 3, l.id, l.code, v.name || ', ' || l.component, 0
   from lot l join lateral (select name from sheet_version w where w.sheet_id = l.sheet_id order by w.edition desc limit 1) v on true
   where l.code ilike $1 or l.id = $3 order by l.created desc limit $4)
  union all
  (select 4, v.sheet_id, v.name, 'edition ' || v.edition, 0
   from sheet_version v where (v.name ilike $1 or v.sheet_id = $3)
     and not exists (select 1 from sheet_version n where n.sheet_id = v.sheet_id and n.edition > v.edition)
   order by lower(v.name) limit $4)
  union all
  (select 5, r.id, r.name, case when r.retired then 'not used any more' else 'rig' end, 0
   from rig r where r.name ilike $1 or r.id = $3 order by r.retired, lower(r.name) limit $4)
  union all
  (select 6, p.id, p.name, p.role, 0 from person p where p.name ilike $1 and not p.retired order by lower(p.name) limit $4)
) found order by place, rank, lower(label)
