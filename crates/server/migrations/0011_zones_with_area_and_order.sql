-- A zone has an area and a place in the order of the work: the next pass, the section and the film by use go by both.
-- Zones that are here get equal shares of the area of the newest batch that named them, marked as assumed; one that no batch
-- named has none until a batch does.
alter table zone add column place integer;
alter table zone add column area_m2 double precision;
alter table zone add column area_assumed boolean not null default true;

update zone z set place = n.place
from (select id, row_number() over (partition by part_id order by id) as place from zone) n where n.id = z.id;
alter table zone alter column place set not null;

update zone z set area_m2 = s.area_m2
from (
  select distinct on (k.zone ->> 'id') (k.zone ->> 'id')::uuid as id,
    (e.payload_json ->> 'area_m2')::double precision / jsonb_array_length(e.payload_json -> 'zones') as area_m2
  from entry e cross join lateral jsonb_array_elements(e.payload_json -> 'zones') as k (zone)
  where e.kind = 'begin' order by k.zone ->> 'id', e.arrived desc
) s where s.id = z.id;
