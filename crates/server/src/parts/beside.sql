-- What stands beside batches: $1 those (null: all that are not accepted); $2 to $5 most of each list; what is wanted:
-- the coat beneath, the lots, the rig, what every station shows, what Mix and what Set shows, the ledger of the ratio: $6 to $12.
select b.id as "id!", h.head_seq as "head_seq!",
  (select teeth_um from instrument where kind = 'comb' order by resolution limit 1) as comb_um,
  (select array_agg(resolution order by resolution) from instrument where kind = 'scale') as scales_g,
  (select jsonb_agg(jsonb_build_object('id', l.id, 'received', l.received is not null, 'colour', l.colour,
     'expires', l.expires, 'quarantined', l.quarantined, 'damaged', l.damaged, 'certified', l.certified, 'left_g', l.left_g))
     from lot_use t join lot l on l.id = t.lot_id where $7 and t.batch_id = b.id) as lots,
  u.id as "beneath?", u.number as "beneath_number?", u.coat as "beneath_coat?", u.product as "beneath_product?",
  u.ended as "ended?: jiff_sqlx::Timestamp", u.body as "beneath_sheet?",
  u.surface_min_c as "coldest_c?", u.surface_max_c as "hottest_c?",
  k.coldest as "since_coldest_c?", k.hottest as "since_hottest_c?", w.body as "pair?",
  (select jsonb_agg(jsonb_build_object('kind', e.kind, 'version', e.version, 'payload', e.payload_json, 'at', e.happened) order by e.seq) from entry e
     where $8 and e.book_id = b.rig_id and e.kind in ('fitted', 'exchanged', 'changed') and (e.happened > b.begun or $12)
       and not exists (select 1 from entry s where s.book_id = e.book_id and s.kind = 'strike'
         and (s.payload_json ->> 'entry')::uuid = e.id)) as exchanged,
  n.id as "next?", n.number as "next_number?", n.coat as "next_coat?", n.product as "next_product?",
  (select jsonb_agg(jsonb_build_object('used_ml', o.used_ml, 'reckoned_ml', o.reckoned_ml) order by o.number desc) from (
     select o.number, o.used_ml, o.reckoned_ml from batch o join sheet_version w on w.id = o.sheet_version_id
     where $10 and w.sheet_id = v.sheet_id and o.id <> b.id and o.used_ml is not null and o.reckoned_ml > 0
       and o.method is not distinct from b.method and o.substrate is not distinct from b.substrate
       and (b.rig_id is null or o.rig_id = b.rig_id)
     order by o.number desc limit $2) o) as took,
  (select jsonb_agg(o.good_set_up order by o.number desc) from (
     select o.number, o.good_set_up from batch o join sheet_version w on w.id = o.sheet_version_id
     where $11 and o.rig_id = b.rig_id and o.good_set_up is not null and w.sheet_id = v.sheet_id and o.id <> b.id
     order by o.number desc limit $3) o) as good,
  (select jsonb_agg(o.seen_bend order by o.number desc) from (
     select o.number, o.seen_bend from batch o, rig r
     where $9 and r.id = b.rig_id and o.seen_bend is not null and o.seen_bend ->> 'gun' = r.body ->> 'gun' and o.id <> b.id
     order by o.number desc limit $4) o) as bends,
  (select jsonb_agg(jsonb_build_object('batch', o.id, 'number', o.number, 'coat', o.job_coat, 'stands', o.state, 'ended', o.ended) order by o.job_coat)
     from batch o where $9 and o.job_id = b.job_id) as job,
  (select jsonb_agg(jsonb_build_object('id', o.id, 'number', o.number, 'label', o.label, 'next_coat', o.next_coat) order by o.number desc) from (
     select o.id, o.number, o.label, coalesce(o.job_id = b.job_id and o.job_coat = b.job_coat + 1, false) as next_coat from batch o
     where ($9 or $10) and o.id <> b.id and o.state = 'open' and o.sheet_version_id = b.sheet_version_id
       and ($10 or (o.job_id = b.job_id and o.job_coat = b.job_coat + 1))
     order by o.number desc limit $5) o) as hand_to,
  (select jsonb_agg(jsonb_build_object('id', a.id, 'rig', a.body, 'last_number', a.last_number, 'last_good', a.good) order by a.last_used desc nulls last, a.name) from (
     select r.id, r.name, r.body,
       (select coalesce(jsonb_agg(g.good_set_up order by g.number desc), '[]') from (
          select o.number, o.good_set_up from batch o join sheet_version w on w.id = o.sheet_version_id
          where o.rig_id = r.id and o.good_set_up is not null and w.sheet_id = v.sheet_id
          order by o.number desc limit $3) g) as good,
       (select max(o.number) from batch o where o.rig_id = r.id) as last_used,
       (select o.number from batch o join sheet_version w on w.id = o.sheet_version_id
          where o.rig_id = r.id and w.sheet_id = v.sheet_id order by o.number desc limit 1) as last_number
     from rig r where $11 and b.rig_id is null and b.state = 'open' and not r.retired) a) as rigs_at_hand,
  (select jsonb_build_object(
     'proofs', (select coalesce(jsonb_agg(x.body order by x.at), '[]') from (
        select p.body, p.at from ratio_proof p where p.rig_id = b.rig_id and p.sheet_id = v.sheet_id and p.book_id <> b.id
        order by p.at desc limit 200) x),
     'totals', (select coalesce(jsonb_agg(jsonb_build_object('number', x.number, 'ended', x.ended, 'kg', x.kg)), '[]') from (
        select t.number, t.ended, t.kg from batch_sprayed t where t.rig_id = b.rig_id and t.sheet_id = v.sheet_id and t.batch_id <> b.id
        order by t.ended desc limit 400) x),
     'renewed', (select coalesce(jsonb_agg(e.happened order by e.seq), '[]') from entry e
        where e.book_id = b.rig_id and e.kind = 'limits_renewed' and e.payload_json ->> 'sheet' = v.sheet_id::text
          and not exists (select 1 from entry s where s.book_id = e.book_id and s.kind = 'strike'
            and (s.payload_json ->> 'entry')::uuid = e.id)))
     where $12 and b.rig_id is not null and v.body ->> 'charge' = 'at_gun') as ledger
from batch b join book h on h.id = b.id join coat c on c.id = b.coat_id join sheet_version v on v.id = b.sheet_version_id
left join lateral (
  select x.id, x.number, cx.name as coat, x.product, x.ended, x.surface_min_c, x.surface_max_c, vx.sheet_id, vx.body
  from batch x join coat cx on cx.id = x.coat_id join sheet_version vx on vx.id = x.sheet_version_id
  where $6 and x.part_id = b.part_id and x.number < b.number and x.state <> 'left_out'
    and (cx.place < c.place or (x.job_id = b.job_id and x.job_coat < b.job_coat)) order by x.number desc limit 1
) u on true
left join lateral (
  select min((e.payload_json ->> 'surface_c')::float8) as coldest, max((e.payload_json ->> 'surface_c')::float8) as hottest
  from entry e join batch x on x.id = e.book_id
  where u.ended is not null and x.part_id = b.part_id and (x.state = 'open' or x.last_happened >= u.ended) and e.kind = 'conditions' and e.happened > u.ended
    and not exists (select 1 from entry s where s.book_id = e.book_id and s.kind = 'strike'
      and (s.payload_json ->> 'entry')::uuid = e.id)
) k on true
left join pair_window w on w.from_sheet = u.sheet_id and w.to_sheet = v.sheet_id
left join lateral (
  select x.id, x.number, cx.name as coat, x.product
  from batch x join coat cx on cx.id = x.coat_id
  where $9 and x.part_id = b.part_id and x.number > b.number and x.state <> 'left_out'
    and (cx.place > c.place or (x.job_id = b.job_id and x.job_coat > b.job_coat)) order by x.number limit 1
) n on true
where b.id = any(coalesce($1, array(select id from batch where state in ('open', 'signed')))) order by b.begun desc
