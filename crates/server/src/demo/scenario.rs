//! What happened at the island works: three finished batches, and a shift in full swing.

use super::crew::{Crew, Job, id};
use super::rigs::{BUOY_POT, COLLAR_POTS, FLUME_MACHINE};
use super::sheets::{ADHESIVE, FINISH, GEL_COAT, PRIMER};
use super::shift;
use crate::problem::Problem;
use jiff::SignedDuration;
use jiff::Timestamp;
use level_keel_core::batch::Record;
use level_keel_core::batch::record::Deviation;
use level_keel_core::coat_system::Method;
use level_keel_core::conditions::Readings;
use level_keel_core::people::Role;
use level_keel_core::pot_life::after;
use level_keel_core::sheets::{ChargeKind, FilmProof};
use serde_json::{Value, json};
use uuid::Uuid;

pub(super) const FINISH_GUARDS: [&str; 3] = ["isocyanate", "solvent", "pressure_vessel"];
pub(super) const PRIMER_GUARDS: [&str; 2] = ["solvent", "pressure_vessel"];

/// A part as asked for: name, coat, zones, area.
type Asked<'a> = (&'a str, &'a str, &'a [&'a str], f64);

pub(super) fn wanted(
    sheet: &str,
    (part, coat, zones, area_m2): Asked<'_>,
    film: &str,
    transfer_pct: f64,
    thinner_pct: f64,
) -> Value {
    let (substrate, method) = match sheet {
        GEL_COAT => ("gel_coat_mould", "gel_coat_machine"),
        ADHESIVE => ("foam", "twin_feed"),
        FINISH => ("already_coated", "pot"),
        _ => ("blasted_steel", "pot"),
    };
    json!({ "sheet": id(sheet), "part": part, "coat": coat, "zones": zones, "area_m2": area_m2, "film_um": film, "film_is": "wet",
            "transfer_pct": transfer_pct, "thinner_pct": thinner_pct, "substrate": substrate, "method": method })
}

pub(super) fn read(air_c: f64, surface_c: f64, material_c: f64, rh_pct: f64) -> Readings {
    Readings { air_c, surface_c, material_c, rh_pct }
}

/// At this hour some days before; a job that would begin in the evening began in the afternoon, so that no midnight falls into it: a
/// check of the ratio stands for its day.
fn days_before(crew: &Crew<'_>, now: Timestamp, days: i64) -> Timestamp {
    let evening = now.to_zoned(crew.state.shop.zone()).hour() >= LAST_BEGINS;
    let earlier = if evening { HOURS_EARLIER } else { 0 };
    now.checked_sub(SignedDuration::from_hours(24 * days + earlier)).unwrap_or(now)
}

/// No job of the history begins at this hour or later.
const LAST_BEGINS: i8 = 19;
/// By how much it began earlier instead.
const HOURS_EARLIER: i64 = 8;

/// Finished batches: two buoys primed, a flume section gel coated.
pub async fn history(crew: &Crew<'_>, now: Timestamp) -> Result<(), Problem> {
    primed(crew, days_before(crew, now, 9), "Buoy 3", ["P-2204", "H-118", "T-77"], true).await?;
    gel_coated(crew, days_before(crew, now, 6)).await?;
    // The coat beneath today's finish.
    primed(crew, days_before(crew, now, 2), "Buoy 7", ["P-2207", "H-118", "T-77"], false).await
}

/// A buoy primed; `measured`: its dry film by spots, once it is hard.
async fn primed(crew: &Crew<'_>, key: Timestamp, part: &str, lots: [&str; 3], measured: bool) -> Result<(), Problem> {
    let mut asked = wanted(PRIMER, (part, "primer", &[], 11.4), "4 mil", 62.0, 5.0);
    if measured {
        // A small one, taken off by its shapes: spots are drawn on them.
        asked["takeoff"] = json!([
            { "shape": { "is": "cone", "diameter_mm": 1200, "height_mm": 1600 }, "piece_count": 1, "zone": "tower" },
            { "shape": { "is": "cylinder", "diameter_mm": 1600, "height_mm": 1000, "end_count": 0 }, "piece_count": 1, "zone": "hull" },
            { "shape": { "is": "cylinder", "diameter_mm": 1600, "height_mm": 627, "end_count": 0 }, "piece_count": 1, "zone": "skirt" }
        ]);
    }
    let mut buoy = Job::begin(crew, &format!("{key}/buoy"), key, asked).await?;
    buoy.wait(10.0).ready(read(21.0, 20.4, 20.5, 62.0), &PRIMER_GUARDS, &lots).await?;
    let pot = buoy.wait(10.0).mix("pot", 1900.0, lots, 0.0).await?;
    buoy.write("choose_rig", json!({ "rig": id(BUOY_POT) })).await?;
    buoy.wait(12.0).write("set_up", json!({ "pot_kpa": "8 psi", "atomizing_kpa": "45 psi", "stream_mm": "7 in" })).await?;
    buoy.wait(3.0).write("set_up", json!({ "pot_kpa": "10 psi", "atomizing_kpa": "45 psi", "stream_mm": "10 in" })).await?;
    buoy.wait(6.0).prepare(read(21.4, 20.6, 20.7, 61.0)).await?;
    buoy.wait(2.0).write("start_spraying", json!({ "charge": pot })).await?;
    buoy.wait(4.0).pass(pot, Some(950.0), 2.0, 1).await?;
    buoy.wait(14.0).pass(pot, Some(880.0), 4.0, 3).await?;
    buoy.wait(5.0).write("close_charge", json!({ "charge": pot, "how": "emptied" })).await?;
    buoy.wait(3.0).write("flush", json!({ "text": "epoxy thinner until clear" })).await?;
    buoy.write("note", json!({ "text": "Lifting eye and seam striped by brush before the second pass." })).await?;
    if measured {
        buoy.sign_work().await?;
        by_spots(&mut buoy).await?;
        buoy.accept().await?;
    } else {
        buoy.sign().await?;
    }
    buoy.done().await
}

/// The inspector measures the dry film the day after: the gauge on bare steel and on its foil, three readings a spot, the foil again.
async fn by_spots(buoy: &mut Job<'_>) -> Result<(), Problem> {
    let with = |more: Value| {
        let mut said = json!({ "gauge": "Film gauge", "division_um": 1 });
        more.as_object().into_iter().flatten().for_each(|(k, v)| said[k] = v.clone());
        said
    };
    let foil = with(json!({ "foil_um": 127, "readings_um": [126, 127] }));
    buoy.wait(22.0 * 60.0).write_as(Role::Inspector, "gauge_bare", with(json!({ "bare_um": [22, 26, 24, 25, 23] }))).await?;
    buoy.wait(3.0).write_as(Role::Inspector, "gauge_foil", foil.clone()).await?;
    let plan = json!({ "by": "spots", "dry_min_um": 45, "dry_max_um": 90 });
    buoy.wait(2.0).write_as(Role::Inspector, "plan_acceptance", plan).await?;
    for (i, spot) in buoy.record().spots_now().into_iter().enumerate() {
        // Films of a hand that sprays evenly, a little thinner on the tower.
        let um = 88 + [3, -6, 9, -11, 1, 6, -4, 12, -8, 2][i % 10];
        let read =
            json!({ "spots": [{ "area_no": spot.area_no, "spot_no": spot.spot_no, "readings_um": [um - 3, um + 2, um + 1] }] });
        buoy.wait(1.5).write_as(Role::Inspector, "gauge_read", with(read)).await?;
    }
    buoy.wait(2.0).write_as(Role::Inspector, "gauge_foil", foil).await
}

async fn gel_coated(crew: &Crew<'_>, key: Timestamp) -> Result<(), Problem> {
    let zones = ["inlet", "run", "lip"];
    let mut flume = Job::begin(
        crew,
        &format!("{key}/flume"),
        key,
        wanted(GEL_COAT, ("Flume section 11", "gel coat", &zones, 9.2), "20 mil", 80.0, 0.0),
    )
    .await?;
    let guards = ["peroxide", "styrene", "high_pressure_fluid"];
    flume.wait(10.0).ready(read(22.5, 21.6, 22.0, 55.0), &guards, &["G-3107", "C-0412"]).await?;
    flume.wait(4.0).prepare(read(22.6, 21.8, 22.1, 55.0)).await?;
    let charge = id(&format!("{key}/flume/gun"));
    flume.wait(6.0).write("open_charge", json!({ "charge": charge, "kind": "at_gun", "wanted_ml": 5800 })).await?;
    flume.wait(2.0).write("choose_rig", json!({ "rig": id(FLUME_MACHINE) })).await?;
    for (pump, pattern) in [("30 psi", "round_fingers"), ("40 psi", "oval_fingers"), ("50 psi", "heavy_ends"), ("55 psi", "even")]
    {
        let burst = json!({ "pot_kpa": pump, "catalyst_kpa": "22 psi", "pattern": pattern });
        flume.wait(1.25).write("set_up", burst).await?;
    }
    // Proved at the pressure it is sprayed at.
    let caught = json!({ "charge": charge, "a_g": 812.4, "b_g": 14.9, "resolution_g": 0.1, "a_kpa": "55 psi" });
    flume.wait(6.0).write("ratio_check", caught).await?;
    flume.wait(5.0).write("start_spraying", json!({ "charge": charge })).await?;
    for (wet, readings) in [(7.0, 1), (14.0, 1), (20.0, 3)] {
        flume.wait(3.0).pass(charge, Some(1900.0), wet, readings).await?;
    }
    flume.wait(6.0).write("close_charge", json!({ "charge": charge, "how": "emptied" })).await?;
    flume.sign().await?;
    flume.done().await
}

/// How the buoys are sprayed: a two-litre pot on 25 ft of hose.
fn planned(rate: &str) -> Value {
    json!({ "rate_ml_min": rate, "fill_ml": "2 L",
        "more": { "hose_bore_mm": "3/8 in", "hose_length_mm": "25 ft", "heel_ml": "80 mL", "extra_pct": "5 %" } })
}

/// Today's shift: one pot in last call, one ready, one inducting, and a twin feed on its way to its ratio.
pub async fn shift(crew: &Crew<'_>, now: Timestamp) -> Result<(), Problem> {
    let ago = |minutes: f64| after(now, -minutes * 60.0);
    let key = now.to_string();
    // Its zones come from the take-off, and are drawn as what they are.
    let mut buoy = wanted(FINISH, ("Buoy 7", "finish", &[], 22.8), "4 mil", 65.0, 5.0);
    buoy["takeoff"] = json!([
        { "shape": { "is": "cone", "diameter_mm": 1800, "height_mm": 2400 }, "piece_count": 1, "zone": "tower" },
        { "shape": { "is": "cylinder", "diameter_mm": 2400, "height_mm": 1500, "end_count": 0 }, "piece_count": 1, "zone": "hull" },
        { "shape": { "is": "cylinder", "diameter_mm": 2400, "height_mm": 563, "end_count": 0 }, "piece_count": 1, "zone": "skirt" }
    ]);
    let mut finish = Job::begin(crew, &format!("{key}/finish"), ago(225.0), buoy).await?;
    let lots = ["F-0931", "H-204", "T-77"];
    finish.wait(6.0).ready(read(23.1, 21.9, 22.0, 55.0), &FINISH_GUARDS, &lots).await?;
    finish.write("plan_mix", planned("350 mL/min")).await?;
    // Combined a little over three hours ago at 22 °C on a four-hour sheet at 20 °C: about 0.92 of its life.
    finish.at = ago(194.0);
    let first = finish.mix("first", 1900.0, lots, 0.0).await?;
    finish.write("choose_rig", json!({ "rig": id(BUOY_POT) })).await?;
    finish.wait(6.0).write("set_up", json!({ "pot_kpa": "8 psi", "atomizing_kpa": "45 psi", "stream_mm": "7 in" })).await?;
    finish.wait(2.0).write("set_up", json!({ "pot_kpa": "10.5 psi", "atomizing_kpa": "45 psi", "stream_mm": "9.5 in" })).await?;
    finish.wait(10.0).prepare(read(22.9, 21.6, 22.0, 56.0)).await?;
    finish.wait(2.0).write("start_spraying", json!({ "charge": first })).await?;
    finish.wait(5.0).pass(first, Some(1150.0), 2.0, 1).await?;
    finish.at = ago(120.0);
    finish.write("conditions", serde_json::to_value(read(22.8, 21.5, 22.0, 57.0))?).await?;
    finish.at = ago(68.0);
    finish.write("conditions", serde_json::to_value(read(22.6, 21.3, 22.0, 57.0))?).await?;
    finish.at = ago(66.0);
    finish.mix("second", 1900.0, lots, 4.0).await?;
    // The evening comes: the surface falls, the air grows damp.
    finish.at = ago(12.0);
    finish.write("conditions", serde_json::to_value(read(22.4, 21.2, 22.0, 58.0))?).await?;
    // The tack is dry long since; the wet passes begin at the tower, the skirt waits.
    let zones: Vec<_> = finish.record().zones().into_iter().filter_map(|(id, _)| id).collect();
    finish.at = ago(8.0);
    finish.write("pass_look", json!({ "zones": zones, "look": "gloss_gone" })).await?;
    for (zone, minutes) in zones.iter().zip([6.0, 2.5]) {
        finish.at = ago(minutes);
        finish.write("pass", json!({ "charge": first, "zones": [zone] })).await?;
    }
    finish.done().await?;

    let mut primer = Job::begin(
        crew,
        &format!("{key}/primer"),
        ago(34.0),
        wanted(PRIMER, ("Buoy 8", "primer", &[], 11.4), "4 mil", 62.0, 5.0),
    )
    .await?;
    let lots = ["P-2207", "H-118", "T-77"];
    primer.wait(5.0).ready(read(22.4, 21.0, 21.5, 58.0), &PRIMER_GUARDS, &lots).await?;
    primer.write("plan_mix", planned("300 mL/min")).await?;
    primer.at = ago(16.0);
    primer.mix("only", 1900.0, lots, 0.0).await?;
    // Blasted a few minutes ago: the surface is open, the rest of its list is still to do.
    primer.at = ago(4.0);
    for item in ["degreased", "open_steel"] {
        primer.write("tick", json!({ "item": item, "did": "done" })).await?;
    }
    primer.done().await?;

    // Two catches, one pressure moved between them: the third is to be found.
    let zones = ["upper half", "lower half"];
    let mut collar = Job::begin(
        crew,
        &format!("{key}/collar"),
        ago(25.0),
        wanted(ADHESIVE, ("Float collar 12", "bond", &zones, 6.4), "3 mil", 70.0, 0.0),
    )
    .await?;
    collar.wait(3.0).ready(read(22.4, 21.6, 21.0, 58.0), &PRIMER_GUARDS, &["K-0055", "V-0018"]).await?;
    let gun = id(&format!("{key}/collar/gun"));
    collar.write("choose_rig", json!({ "rig": id(COLLAR_POTS) })).await?;
    collar.wait(2.0).write("open_charge", json!({ "charge": gun, "kind": "at_gun", "wanted_ml": 700 })).await?;
    let caught = |a_kpa: &str, a_g: f64, b_g: f64| json!({ "charge": gun, "a_g": a_g, "b_g": b_g, "resolution_g": 0.1, "a_kpa": a_kpa, "b_kpa": "8 psi", "caught_watch_s": "15 s" });
    collar.wait(4.0).write("ratio_check", caught("9 psi", 24.8, 6.2)).await?;
    collar.wait(5.0).write("ratio_check", caught("13 psi", 40.5, 6.3)).await?;
    collar.done().await?;
    shift::every_kind(crew, &key, now).await
}

/// The crew finishes what the old shift left: sprays what may be sprayed, discards the rest, signs.
pub async fn close_old_shift(crew: &Crew<'_>) -> Result<(), Problem> {
    let open = sqlx::query!("select b.id from batch b where b.state = 'open' order by b.begun").fetch_all(&crew.state.db).await?;
    for row in open {
        // Batches a visitor began carry random ids; those stay open for them.
        if row.id.get_version_num() != 5 {
            continue;
        }
        let name = format!("close/{}", row.id);
        let mut job = Job::resume(crew, &name, row.id, Timestamp::default()).await?;
        job.at = job.record().log.iter().map(|l| l.at).max().unwrap_or_default();
        job.wait(21.0);
        if job.record().charges.is_empty() {
            Box::pin(shift::warm_up(&mut job)).await?;
        }
        let left = job.record().clone();
        close(&mut job, &left).await?;
        job.done().await?;
    }
    Ok(())
}

async fn close(job: &mut Job<'_>, record: &Record) -> Result<(), Problem> {
    let combed = usize::from(record.film_proof() == FilmProof::Comb);
    let wanted_mil = record.aim().map_or(4.0, |b| (b.wet_um / 25.4).round());
    let mut wet_mil = wanted_mil * if record.passes.is_empty() { 0.5 } else { 0.75 };
    for charge in record.charges.iter().filter(|c| c.closed.is_none()) {
        if charge.kind == ChargeKind::AtGun && charge.started.is_none() {
            prove(job, record, charge.id).await?;
        }
        if charge.started.is_none() {
            job.prepare(read(21.0, 20.2, 20.5, 58.0)).await?;
        }
        // A sheet that states the least rig waits for one to be chosen.
        if record.rig().is_none() && record.aim().is_some_and(|aim| aim.method.is_none_or(Method::sprays)) {
            job.write("choose_rig", json!({ "rig": id(BUOY_POT) })).await?;
        }
        let started = charge.started.is_some() || job.write("start_spraying", json!({ "charge": charge.id })).await.is_ok();
        if started && record.clock(charge, job.at).is_none_or(|c| c.age < 1.0) {
            job.wait(2.0).pass(charge.id, None, wet_mil, combed).await?;
            wet_mil = wanted_mil;
            job.wait(2.0).pass(charge.id, None, wet_mil, 3 * combed).await?;
        }
        job.wait(1.0)
            .write(
                "close_charge",
                json!({ "charge": charge.id, "how": "discarded", "reason": "End of shift; the rest of the pot." }),
            )
            .await?;
    }
    if record.film_proof() == FilmProof::Look {
        job.wait(1.0).write("film_look", json!({ "good": true })).await?;
    }
    // Mixed paint does not stay in a hose over night; where there is none, there is nothing to flush.
    let _ = job.wait(1.0).write("flush", json!({})).await;
    let open: Vec<Deviation> = job.record().deviations.iter().filter(|d| d.answer.is_none()).cloned().collect();
    for open in open {
        let answer = json!({ "entry": open.entry, "code": open.code, "text": "Looked at by the lead at the end of the shift." });
        job.wait(1.0).write_as(Role::Lead, "answer", answer).await?;
    }
    // What cannot be signed by the rules stays open for a person to look at.
    let _ = job.sign().await;
    Ok(())
}

/// The crew found the pressure: a pair of catches on the ratio.
async fn prove(job: &mut Job<'_>, record: &Record, charge: Uuid) -> Result<(), Problem> {
    let Some(hardener) = record.aim().and_then(|b| b.sheet.hardener()) else { return Ok(()) };
    let caught =
        json!({ "charge": charge, "a_g": 400.0, "b_g": (4000.0 * hardener.b_per_a).round() / 10.0, "resolution_g": 0.1 });
    job.wait(2.0).write("ratio_check", caught).await?;
    Ok(())
}
