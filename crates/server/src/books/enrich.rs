//! What the server adds to an entry before core sees it: pot numbers, lots, the resolution of a scale.

use super::Writing;
use super::chain::in_hand;
use crate::instruments::weighs_g;
use crate::problem::Problem;
use crate::stores::files::{PHOTOS, must_be_here};
use crate::stores::known;
use jiff_sqlx::ToSqlx;
use level_keel_core::batch::entries::{CarryOn, carried};
use level_keel_core::batch::{EntryKind, Record};
use level_keel_core::limits::check_text;
use level_keel_core::mixing::Component;
use level_keel_core::refusal::Refusal;
use level_keel_core::scan::{ThingKind, is_address, scanned_into};
use level_keel_core::stores::check::CODE_CHARS;
use serde_json::{Map, Value, json};
use sqlx::PgConnection;
use uuid::Uuid;

/// Keys of the advisory locks that make numbers run without gaps.
pub(super) const BATCH_NUMBERS: i64 = 0x4b45_4c01;
const POT_NUMBERS: i64 = 0x4b45_4c02;

/// Adds to `payload` in place.
pub async fn enrich(
    w: &Writing<'_>,
    tx: &mut PgConnection,
    (book, record): (Uuid, &Record),
    kind: EntryKind,
    payload: &mut Value,
) -> Result<(), Problem> {
    let Value::Object(map) = payload else {
        return Err(Refusal::bad_input("not-understood", "payload", "This is not an entry.").into());
    };
    if matches!(kind, EntryKind::Pour | EntryKind::RatioCheck | EntryKind::WholeRun | EntryKind::Transfer) {
        let scale = map.get("instrument").and_then(Value::as_str).map(Uuid::parse_str);
        if let Some(id) = scale {
            let id = id.map_err(|_| Refusal::bad_input("unknown-scale", "instrument", "There is no such scale."))?;
            let (resolution_g, overdue) = weighs_g(&mut *tx, id, w.now, w.state.shop.now().overdue_scale).await?;
            map.insert("resolution_g".into(), json!(resolution_g));
            if matches!(kind, EntryKind::Pour | EntryKind::RatioCheck)
                && let Some(overdue) = overdue
            {
                map.insert("overdue".into(), json!(overdue));
            }
        }
    }
    if matches!(kind, EntryKind::Pour | EntryKind::TakeLot) {
        lot(w, tx, (book, record), kind, map).await?;
    }
    if kind == EntryKind::ReadyFill {
        // One can has one component.
        map.insert("component".into(), json!(Component::Base));
        lot(w, tx, (book, record), kind, map).await?;
        map.remove("component");
    }
    if matches!(
        kind,
        EntryKind::Tick
            | EntryKind::BondTest
            | EntryKind::StageLook
            | EntryKind::ControlSample
            | EntryKind::Backdrop
            | EntryKind::DefectSeen
    ) && let Some(sha) = map.get("photo").and_then(|p| p.get("sha256")).and_then(Value::as_str)
    {
        must_be_here(tx, sha, &PHOTOS).await?;
    }
    if kind == EntryKind::SetUp {
        if let Some(sha) = map.get("photo").and_then(|p| p.get("sha256")).and_then(Value::as_str) {
            must_be_here(tx, sha, &PHOTOS).await?;
        }
        // What the transmitters read while it is written; one typed later than it happened has none.
        let read = record.rig().map(|rig| w.state.gauges(&rig.name, w.now)).unwrap_or_default();
        for (field, kpa) in [("gauge_pot_kpa", read.pot_kpa), ("gauge_gun_kpa", read.gun_kpa)] {
            map.insert(field.into(), json!(kpa));
        }
    }
    if kind == EntryKind::ChooseRig
        && let Some(id) = map.get("rig").and_then(Value::as_str)
    {
        let id = Uuid::parse_str(id).map_err(|_| Refusal::bad_input("unknown-rig", "rig", "There is no such rig."))?;
        map.insert("fitted".into(), serde_json::to_value(crate::rigs::pinned(&mut *tx, id).await?)?);
    }
    if kind == EntryKind::InHand
        && let Some(id) = map.get("person").and_then(Value::as_str)
    {
        let unknown = || Refusal::bad_input("unknown-person", "person", "Nobody here goes by that.");
        let id = Uuid::parse_str(id).map_err(|_| unknown())?;
        let name =
            sqlx::query_scalar!("select name from person where id = $1 and not retired", id).fetch_optional(&mut *tx).await?;
        map.insert("name".into(), json!(name.ok_or_else(unknown)?));
    }
    if kind == EntryKind::CarryOn {
        let carried = carried_on(w, tx, record, map.get("touched") == Some(&Value::Bool(true))).await?;
        if let Value::Object(all) = serde_json::to_value(carried)? {
            map.extend(all);
        }
    }
    let new = match kind {
        EntryKind::OpenCharge | EntryKind::ReadyFill => map.get("charge"),
        EntryKind::Divide => map.get("new_charge"),
        _ => None,
    };
    if let Some(id) = new.and_then(Value::as_str).and_then(|t| Uuid::parse_str(t).ok()) {
        map.insert("no".into(), json!(pot_number(w, tx, id).await?));
    }
    Ok(())
}

/// What of the coat before stands for this one: the newest coat of its job that is on.
async fn carried_on(w: &Writing<'_>, tx: &mut PgConnection, record: &Record, touched: bool) -> Result<CarryOn, Problem> {
    let none = || Refusal::conflict("no-coat-before", "There is no coat of this job before it.");
    let job = record.aim().and_then(|aim| aim.job).ok_or_else(none)?;
    let before = sqlx::query!(
        "select b.id, h.head_seq from batch b join book h on h.id = b.id
         where b.job_id = $1 and b.job_coat < $2 and b.state <> 'left_out' order by b.job_coat desc limit 1",
        job.job,
        i32::try_from(job.coat).unwrap_or(i32::MAX)
    )
    .fetch_optional(&mut *tx)
    .await?
    .ok_or_else(none)?;
    let from = in_hand::<Record>(tx, w.state, before.id, before.head_seq).await?;
    Ok(carried((before.id, &from), record, touched, w.now)?)
}

/// A lot sent by its code becomes the row of that lot, with what the stores know of it now. A pour that names none is
/// of the lot taken at Ready.
async fn lot(
    w: &Writing<'_>,
    tx: &mut PgConnection,
    (book, record): (Uuid, &Record),
    kind: EntryKind,
    map: &mut Map<String, Value>,
) -> Result<(), Problem> {
    let Some(of) = map.get("component").cloned().and_then(|c| serde_json::from_value::<Component>(c).ok()) else { return Ok(()) };
    let typed = map.get("lot").and_then(Value::as_str).map(|c| c.trim().to_string()).filter(|c| !c.is_empty());
    let code = match typed {
        Some(code) if is_address(&code) => code_on_label(tx, &code).await?,
        Some(code) => check_text("lot", &code, CODE_CHARS)?,
        None if kind == EntryKind::TakeLot => return Err(Refusal::bad_input("missing", "lot", "Which lot?").into()),
        None => {
            let taken = record.lots.iter().rev().find(|l| l.it.component == of);
            match taken {
                Some(taken) => taken.it.lot.code.clone(),
                None => {
                    map.insert("lot".into(), Value::Null);
                    return Ok(());
                }
            }
        }
    };
    let (id, known) = known(tx, w.state, (book, record), of, &code, w.now).await?;
    map.insert("lot".into(), json!({ "id": id, "code": code, "stand": known }));
    Ok(())
}

/// The code of the lot whose label was scanned where its code is typed.
async fn code_on_label(tx: &mut PgConnection, text: &str) -> Result<String, Problem> {
    let id = scanned_into("lot", text, ThingKind::Lot)?;
    let code = sqlx::query_scalar!("select code from lot where id = $1", id).fetch_optional(tx).await?;
    Ok(code.ok_or_else(|| Refusal::bad_input("unknown-lot", "lot", "This label names no lot that is kept here."))?)
}

/// The next pot number of the shop day.
async fn pot_number(w: &Writing<'_>, tx: &mut PgConnection, charge: Uuid) -> Result<i32, Problem> {
    let zone = w.state.shop.zone();
    let day = w.now.to_zoned(zone).date();
    sqlx::query!("select pg_advisory_xact_lock($1)", POT_NUMBERS).execute(&mut *tx).await?;
    let taken = sqlx::query_scalar!("select no from pot_number where charge_id = $1", charge).fetch_optional(&mut *tx).await?;
    if let Some(no) = taken {
        return Ok(no);
    }
    Ok(sqlx::query_scalar!(
        "insert into pot_number (day, no, charge_id)
         select $1, coalesce(max(no), 0) + 1, $2 from pot_number where day = $1 returning no",
        day.to_sqlx() as _,
        charge,
    )
    .fetch_one(tx)
    .await?)
}
