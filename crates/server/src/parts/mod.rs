//! Parts, zones, coats and lots: names typed by people become rows at once.

pub mod pairs;
pub mod system;

use crate::auth::Person;
use crate::problem::{Answer, Problem};
use crate::state::State;
use actix_web::{get, web};
use jiff::Timestamp;
use jiff::civil::Date;
use jiff::tz::TimeZone;
use jiff_sqlx::ToSqlx;
use level_keel_core::batch::beside::{Beside, Exchanged, HandTo, Neighbour};
use level_keel_core::batch::entries::Zone;
use level_keel_core::book::LedgerKind;
use level_keel_core::mixing::{LEARN_NEWEST, Learned};
use level_keel_core::recoat::{CoatBeneath, CoatLink, PairTimes, RecoatTimes, SurfaceRange};
use level_keel_core::rig_book::{RigEntry, RigEntryKind};
use level_keel_core::sheets::Sheet;
use level_keel_core::sheets::propose_label;
use level_keel_core::stores::{LotKnown, good_until};
use level_keel_core::worded::VariantArray;
use serde::de::DeserializeOwned;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use sqlx::PgConnection;
use utoipa::ToSchema;
use uuid::Uuid;

/// A part by name.
#[derive(Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct Part {
    pub id: Uuid,
    pub name: String,
    pub label: String,
    /// Its zones.
    pub zones: Vec<String>,
    /// Its coats, in order.
    pub coats: Vec<String>,
}

/// Parts, newest first, for the name field of Begin.
#[utoipa::path(operation_id = "parts_list", tag = "parts", responses((status = 200, body = [Part])))]
#[get("/parts")]
pub async fn list(state: web::Data<State>, _person: Person) -> Answer<Vec<Part>> {
    let rows = sqlx::query!(
        r#"select p.id, p.name, p.label,
             coalesce((select array_agg(z.name order by z.place, z.id) from zone z where z.part_id = p.id), '{}') as "zones!",
             coalesce((select array_agg(c.name order by c.place) from coat c where c.part_id = p.id and not c.retired), '{}') as "coats!"
           from part p order by p.created desc limit 200"#
    )
    .fetch_all(&state.db)
    .await?;
    let parts = rows.into_iter().map(|r| Part { id: r.id, name: r.name, label: r.label, zones: r.zones, coats: r.coats });
    Ok(web::Json(parts.collect()))
}

/// The part, coat and zones of these names, made when they are new.
pub struct Named {
    /// Part.
    pub part: Uuid,
    /// Its short label.
    pub label: String,
    /// Coat.
    pub coat: Uuid,
    /// Zones in the order asked.
    pub zones: Vec<Zone>,
}

/// Finds or makes the rows for typed names, zones with their area and whether it is assumed, inside the caller's transaction.
pub async fn ensure(
    tx: &mut PgConnection,
    part: &str,
    coat: &str,
    zones: &[(&str, f64, bool)],
    now: Timestamp,
) -> Result<Named, Problem> {
    let (part, coat) = (part.trim(), coat.trim());
    let row = sqlx::query!(
        "insert into part (id, name, label, created) values ($1, $2, $3, $4)
         on conflict (lower(name)) do update set name = part.name returning id, label",
        Uuid::now_v7(),
        part,
        propose_label(part),
        now.to_sqlx() as _,
    )
    .fetch_one(&mut *tx)
    .await?;
    let coat = sqlx::query_scalar!(
        "insert into coat (id, part_id, name, place)
         values ($1, $2, $3, (select count(*)::int + 1 from coat where part_id = $2))
         on conflict (part_id, lower(name)) do update set name = coat.name returning id",
        Uuid::now_v7(),
        row.id,
        coat,
    )
    .fetch_one(&mut *tx)
    .await?;
    let mut found = Vec::new();
    for (place, (name, area_m2, area_assumed)) in (1..).zip(zones) {
        // What somebody measured is not given up for a share of the whole.
        let zone = sqlx::query!(
            "insert into zone (id, part_id, name, place, area_m2, area_assumed) values ($1, $2, $3, $4, $5, $6)
             on conflict (part_id, lower(name)) do update set place = $4,
               area_m2 = case when $6 and not zone.area_assumed then zone.area_m2 else $5 end,
               area_assumed = zone.area_assumed and $6
             returning id, name",
            Uuid::now_v7(),
            row.id,
            name,
            place,
            area_m2,
            area_assumed,
        )
        .fetch_one(&mut *tx)
        .await?;
        found.push(Zone {
            id: zone.id,
            name: zone.name,
            area_m2: *area_m2,
            area_assumed: *area_assumed,
            place: u32::try_from(place).unwrap_or(u32::MAX),
        });
    }
    Ok(Named { part: row.id, label: row.label, coat, zones: found })
}

/// The lot of this code for a component of a product, made when it is new.
pub async fn ensure_lot(
    tx: &mut PgConnection,
    sheet: Uuid,
    component: &str,
    code: &str,
    now: Timestamp,
) -> Result<Uuid, Problem> {
    // A lot that is there is only read: writing it to learn its id would lock it, and two who pour from the same two lots
    // would wait for each other.
    let known = sqlx::query_scalar!(
        "select id from lot where sheet_id = $1 and component = $2 and lower(code) = lower($3)",
        sheet,
        component,
        code
    )
    .fetch_optional(&mut *tx)
    .await?;
    if let Some(id) = known {
        return Ok(id);
    }
    Ok(sqlx::query_scalar!(
        "insert into lot (id, code, sheet_id, component, created) values ($1, $2, $3, $4, $5)
         on conflict (sheet_id, component, lower(code)) do update set code = lot.code returning id",
        Uuid::now_v7(),
        code,
        sheet,
        component,
        now.to_sqlx() as _,
    )
    .fetch_one(tx)
    .await?)
}

/// Last good set-ups looked back to.
const GOOD_SET_UPS: i64 = 5;

/// Bends looked back to.
const BENDS: i64 = 20;
/// Batches a remainder may go to that are offered.
const HANDED: i64 = 12;

/// What the shop knows beside each of these batches, asked in one go: the coat beneath and the one that follows, what such
/// coats really took, what was good of Set, what people called a bend, where a remainder may go.
///
/// The coat beneath is the newest earlier batch of an earlier coat of the same part; the one that follows the oldest later
/// batch of a later coat. Learned goes by product, method and kind of part, and by rig once one is chosen; good set-ups by
/// product and rig; bends by gun: the newest few of each.
///
/// `batches`: these; `None`: every one that is not accepted, the newest first. Of the neighbours only `needs` are looked for.
/// `shop_zone` is the zone the shop works in, for a book that names none.
pub async fn beside(
    tx: &mut PgConnection,
    shop_zone: &str,
    batches: Option<&[Uuid]>,
    needs: &[Neighbour],
) -> Result<Vec<Opened>, Problem> {
    let [beneath, lots, rig, shown] = Neighbour::VARIANTS else { return Err(Problem::Fault("another neighbour".into())) };
    let wants = |one: &Neighbour| needs.contains(one);
    let rows = sqlx::query!(
        r#"select b.id as "id!", h.head_seq as "head_seq!",
             (select teeth_um from instrument where kind = 'comb' order by resolution limit 1) as comb_um,
             (select min(resolution) from instrument where kind = 'scale') as scale_g,
             (select jsonb_agg(jsonb_build_object('id', l.id, 'received', l.received is not null, 'colour', l.colour,
                'expires', l.expires, 'quarantined', l.quarantined, 'damaged', l.damaged, 'certified', l.certified, 'left_g', l.left_g))
                from lot_use t join lot l on l.id = t.lot_id where $7 and t.batch_id = b.id) as lots,
             u.id as "beneath?", u.number as "beneath_number?", u.coat as "beneath_coat?", u.product as "beneath_product?",
             u.ended as "ended?: jiff_sqlx::Timestamp", u.body as "beneath_sheet?",
             u.surface_min_c as "coldest_c?", u.surface_max_c as "hottest_c?",
             k.coldest as "since_coldest_c?", k.hottest as "since_hottest_c?", w.body as "pair?",
             (select jsonb_agg(jsonb_build_object('kind', e.kind, 'version', e.version, 'payload', e.payload_json, 'at', e.happened) order by e.seq) from entry e
                where $8 and e.book_id = b.rig_id and e.kind in ('fitted', 'exchanged', 'changed') and e.happened > b.begun
                  and not exists (select 1 from entry s where s.book_id = e.book_id and s.kind = 'strike'
                    and (s.payload_json ->> 'entry')::uuid = e.id)) as exchanged,
             n.id as "next?", n.number as "next_number?", n.coat as "next_coat?", n.product as "next_product?",
             (select jsonb_agg(jsonb_build_object('used_ml', o.used_ml, 'reckoned_ml', o.reckoned_ml) order by o.number desc) from (
                select o.number, o.used_ml, o.reckoned_ml from batch o join sheet_version w on w.id = o.sheet_version_id
                where $9 and w.sheet_id = v.sheet_id and o.id <> b.id and o.used_ml is not null and o.reckoned_ml > 0
                  and o.method is not distinct from b.method and o.substrate is not distinct from b.substrate
                  and (b.rig_id is null or o.rig_id = b.rig_id)
                order by o.number desc limit $2) o) as took,
             (select jsonb_agg(o.good_set_up order by o.number desc) from (
                select o.number, o.good_set_up from batch o join sheet_version w on w.id = o.sheet_version_id
                where $9 and o.rig_id = b.rig_id and o.good_set_up is not null and w.sheet_id = v.sheet_id and o.id <> b.id
                order by o.number desc limit $3) o) as good,
             (select jsonb_agg(o.seen_bend order by o.number desc) from (
                select o.number, o.seen_bend from batch o, rig r
                where $9 and r.id = b.rig_id and o.seen_bend is not null and o.seen_bend ->> 'gun' = r.body ->> 'gun' and o.id <> b.id
                order by o.number desc limit $4) o) as bends,
             (select jsonb_agg(jsonb_build_object('id', o.id, 'number', o.number, 'label', o.label) order by o.number desc) from (
                select o.id, o.number, o.label from batch o
                where $9 and o.id <> b.id and o.state = 'open' and o.sheet_version_id = b.sheet_version_id
                order by o.number desc limit $5) o) as hand_to
           from batch b join book h on h.id = b.id join coat c on c.id = b.coat_id join sheet_version v on v.id = b.sheet_version_id
           left join lateral (
             select x.id, x.number, cx.name as coat, x.product, x.ended, x.surface_min_c, x.surface_max_c, vx.sheet_id, vx.body
             from batch x join coat cx on cx.id = x.coat_id join sheet_version vx on vx.id = x.sheet_version_id
             where $6 and x.part_id = b.part_id and x.number < b.number and cx.place < c.place order by x.number desc limit 1
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
             where $9 and x.part_id = b.part_id and x.number > b.number and cx.place > c.place order by x.number limit 1
           ) n on true
           where b.id = any(coalesce($1, array(select id from batch where state <> 'accepted'))) order by b.begun desc"#,
        batches as Option<&[Uuid]>,
        LEARN_NEWEST as i64,
        GOOD_SET_UPS,
        BENDS,
        HANDED,
        wants(beneath),
        wants(lots),
        wants(rig),
        wants(shown)
    )
    .fetch_all(tx)
    .await?;
    let link = |batch: Option<Uuid>, number: Option<i64>, coat: Option<String>, product: Option<String>| {
        Some(CoatLink { batch: batch?, number: number?, coat: coat?, product: product? })
    };
    let zone = TimeZone::get(shop_zone).unwrap_or(TimeZone::UTC);
    rows.into_iter()
        .map(|r| {
            let at = |t: Option<jiff_sqlx::Timestamp>| t.map(|t| t.to_jiff());
            let ended = at(r.ended);
            let pair: Option<PairTimes> = r.pair.and_then(|body| serde_json::from_value(body).ok());
            // The surface while its own book was open, and by every book of the part since.
            let read = [r.coldest_c, r.hottest_c, r.since_coldest_c, r.since_hottest_c];
            let surface = SurfaceRange::of(read.into_iter().flatten());
            let sheet: Option<Sheet> = r.beneath_sheet.and_then(|body| serde_json::from_value(body).ok());
            let times = match (&pair, &sheet) {
                (Some(pair), _) => pair.times(),
                (None, Some(sheet)) => RecoatTimes::of_sheet(sheet),
                (None, None) => RecoatTimes::default(),
            };
            let prepare = pair.and_then(|p| p.prepare);
            let beneath = link(r.beneath, r.beneath_number, r.beneath_coat, r.beneath_product);
            let beneath = beneath.map(|link| CoatBeneath { link, ended, times, surface, prepare });
            let beside = Beside {
                beneath,
                next: link(r.next, r.next_number, r.next_coat, r.next_product),
                zone: Some(shop_zone.to_owned()),
                rig_exchanged: listed::<RigWritten>(r.exchanged)?.into_iter().filter_map(RigWritten::exchanged).collect(),
                learned: Learned::of(listed(r.took)?),
                last_good: listed(r.good)?,
                bends: listed(r.bends)?,
                lots: listed::<LotNow>(r.lots)?.into_iter().map(|l| l.known(&zone)).collect(),
                hand_to: listed::<Open>(r.hand_to)?.into_iter().map(Open::offered).collect(),
            };
            Ok(Opened { id: r.id, head_seq: r.head_seq, comb_um: r.comb_um, scale_g: r.scale_g, beside })
        })
        .collect()
}

/// A batch as it is opened: its head, and what stands beside it and at hand.
pub struct Opened {
    /// Which.
    pub id: Uuid,
    /// Sequence of its head.
    pub head_seq: i64,
    /// Teeth of the shop's comb, where one is put down.
    pub comb_um: Option<Vec<f64>>,
    /// Digits of its finest scale, where one is put down.
    pub scale_g: Option<f64>,
    /// What stands beside it.
    pub beside: Beside,
}

/// A lot in use, as the stores know it.
#[derive(Deserialize)]
struct LotNow {
    id: Uuid,
    received: bool,
    colour: Option<String>,
    expires: Option<Date>,
    quarantined: Option<String>,
    damaged: Option<String>,
    certified: bool,
    left_g: Option<f64>,
}

impl LotNow {
    fn known(self, zone: &TimeZone) -> (Uuid, LotKnown) {
        let known = LotKnown {
            received: self.received,
            colour: self.colour,
            expires_at: self.expires.and_then(|d| good_until(d, zone)),
            quarantined: self.quarantined,
            damaged: self.damaged,
            certified: self.certified,
            left_g: self.left_g,
            ..LotKnown::default()
        };
        (self.id, known)
    }
}

/// An entry of the rig's book.
#[derive(Deserialize)]
struct RigWritten {
    kind: String,
    version: i32,
    payload: Value,
    at: Timestamp,
}

impl RigWritten {
    /// What it exchanged in the way of the paint, if it did.
    fn exchanged(self) -> Option<Exchanged> {
        let entry = RigEntry::decode(RigEntryKind::from_name(&self.kind)?, self.version, &self.payload).ok()?;
        Some(Exchanged { at: self.at, what: entry.exchanged()? })
    }
}

/// An open batch, as it is offered.
#[derive(Deserialize)]
struct Open {
    id: Uuid,
    number: i64,
    label: String,
}

impl Open {
    fn offered(self) -> HandTo {
        HandTo { id: self.id, label: format!("{:04} {}", self.number, self.label) }
    }
}

/// What a list of the database says; nothing where there is none.
fn listed<T: DeserializeOwned>(rows: Option<Value>) -> Result<Vec<T>, Problem> {
    Ok(rows.map(serde_json::from_value).transpose()?.unwrap_or_default())
}
