//! Eight weeks of finished work before the demo's own three batches: buoys, flume sections, signs and decks, as plausible weather let
//! them be done; a pot past its life, a porosity with its cause in the record, its repair, a deck accepted by its look.
//!
//! Every figure follows from its name and the day: the same day of loading gives the same weeks.

use super::crew::{Crew, Job, id};
use super::rigs::{BUOY_POT, DECK_POT, FLUME_MACHINE, SIGN_GUN};
use super::scenario::{FINISH_GUARDS, PRIMER_GUARDS, read, wanted};
use super::sheets::{FINISH, GEL_COAT, PRIMER, TEXTURE, WATERBORNE};
use super::stores::{Coming, GEL_ROOM, PAINT_STORE, PEROXIDE, come_in};
use crate::problem::Problem;
use crate::stores::files;
use image::{ImageFormat, Rgb, RgbImage};
use jiff::civil::time;
use jiff::{SignedDuration, Timestamp};
use level_keel_core::conditions::Readings;
use level_keel_core::people::Role;
use level_keel_core::stores::Attached;
use serde_json::{Value, json};
use std::io::Cursor;
use uuid::Uuid;

/// What was used up in those weeks, in kilograms as the other lots are.
const LOTS: [Coming; 7] = [
    ("P-2188", PRIMER, "base", 120, Some(90), 20.0, 3.0, PAINT_STORE),
    ("H-111", PRIMER, "hardener", 120, Some(60), 5.0, 4.0, PAINT_STORE),
    ("F-0917", FINISH, "base", 110, Some(150), 16.0, 4.0, PAINT_STORE),
    ("H-197", FINISH, "hardener", 110, Some(60), 4.0, 4.0, PAINT_STORE),
    ("G-3081", GEL_COAT, "base", 62, Some(20), 225.0, 1.0, GEL_ROOM),
    ("C-0398", GEL_COAT, "hardener", 62, Some(100), 5.0, 3.0, PEROXIDE),
    ("W-0493", WATERBORNE, "base", 80, Some(90), 15.0, 2.0, PAINT_STORE),
];

/// What went wrong with a flume section.
#[derive(Clone, Copy, PartialEq)]
enum Wrong {
    Nothing,
    FirstPassHeavy,
    CatalystAirLow,
}

/// A number between two others that follows from a name.
fn between(name: &str, lo: f64, hi: f64) -> f64 {
    let byte = id(name).as_bytes()[3];
    lo + (hi - lo) * f64::from(byte) / 255.0
}

/// The morning of a day so many days back, in the shop's own time.
fn morning(crew: &Crew<'_>, now: Timestamp, days: i64, name: &str) -> Timestamp {
    let zone = crew.state.shop.zone();
    let day = now.to_zoned(zone.clone()).date().saturating_sub(SignedDuration::from_hours(24 * days));
    let at = day.to_datetime(time(7, 30, 0, 0)).to_zoned(zone).map_or(now, |z| z.timestamp());
    at + SignedDuration::from_mins(between(&format!("{name}/late"), 0.0, 50.0) as i64)
}

/// The weather of a day, in the hall: warm enough, and dry enough, on most days no more than that.
fn weather(days: i64) -> Readings {
    let of = |what: &str, lo: f64, hi: f64| (between(&format!("weather/{days}/{what}"), lo, hi) * 10.0).round() / 10.0;
    let air_c = of("air", 18.5, 25.0);
    read(air_c, air_c - of("surface", 0.4, 1.2), (air_c - 0.5).max(19.0), of("damp", 44.0, 66.0))
}

/// All of it, oldest first, so that numbers run with the days.
pub async fn history(crew: &Crew<'_>, now: Timestamp) -> Result<(), Problem> {
    come_in(crew, now, &LOTS).await?;
    for day in (10..=56).rev() {
        if (day - 11) % 4 == 0 && day <= 55 {
            Box::pin(primer(crew, now, day, 20 + (55 - day) / 4)).await?;
        }
        if (day - 10) % 4 == 0 && day <= 54 {
            Box::pin(finish(crew, now, day, 20 + (54 - day) / 4)).await?;
        }
        if (day - 13) % 5 == 0 && day <= 53 {
            Box::pin(flume(crew, now, day, 1 + (53 - day) / 5)).await?;
        }
        if (day - 14) % 12 == 0 {
            Box::pin(sign(crew, now, day, (62 - day) / 12)).await?;
        }
        if day == 26 || day == 15 {
            Box::pin(deck(crew, now, day, if day == 26 { 1 } else { 2 })).await?;
        }
    }
    Ok(())
}

/// The lead answers what the book marked.
async fn answered(job: &mut Job<'_>, text: &str) -> Result<(), Problem> {
    let open: Vec<_> = job.record().deviations.iter().filter(|d| d.answer.is_none()).cloned().collect();
    for deviation in open {
        let answer = json!({ "entry": deviation.entry, "code": deviation.code, "text": text });
        job.wait(1.0).write_as(Role::Lead, "answer", answer).await?;
    }
    Ok(())
}

async fn primer(crew: &Crew<'_>, now: Timestamp, days: i64, no: i64) -> Result<(), Problem> {
    let name = format!("weeks/primer/{no}/{now}");
    let asked = wanted(PRIMER, (&format!("Buoy {no}"), "primer", &["tower", "hull"], 11.4), "4 mil", 62.0, 5.0);
    let (lots, air) = (["P-2188", "H-111", "T-77"], weather(days));
    let mut buoy = Job::begin(crew, &name, morning(crew, now, days, &name), asked).await?;
    buoy.wait(8.0).ready(air, &PRIMER_GUARDS, &lots).await?;
    let pot = buoy.wait(8.0).mix("pot", 1900.0, lots, between(&name, -2.0, 3.0)).await?;
    buoy.write("choose_rig", json!({ "rig": id(BUOY_POT) })).await?;
    let psi = format!("{:.1} psi", between(&format!("{name}/psi"), 9.4, 10.6));
    buoy.wait(12.0).write("set_up", json!({ "pot_kpa": psi, "atomizing_kpa": "45 psi", "stream_mm": "10 in" })).await?;
    buoy.wait(9.0).prepare(air).await?;
    buoy.wait(2.0).write("start_spraying", json!({ "charge": pot })).await?;
    let used = between(&format!("{name}/used"), 860.0, 960.0).round();
    buoy.wait(4.0).pass(pot, Some(used), 2.0, 1).await?;
    if no == 23 {
        // The crane was away the whole day, and the pot was sprayed all the same.
        buoy.wait(290.0).write("conditions", serde_json::to_value(air)?).await?;
    }
    buoy.wait(14.0).pass(pot, Some(used - 40.0), 4.0, 3).await?;
    buoy.wait(5.0).write("close_charge", json!({ "charge": pot, "how": "emptied" })).await?;
    buoy.wait(3.0).write("flush", json!({ "text": "epoxy thinner until clear" })).await?;
    answered(&mut buoy, "Sprayed past its life while the crane was away. Hardness to be looked at before the finish.").await?;
    buoy.sign().await?;
    buoy.done().await
}

async fn finish(crew: &Crew<'_>, now: Timestamp, days: i64, no: i64) -> Result<(), Problem> {
    let name = format!("weeks/finish/{no}/{now}");
    let asked = wanted(FINISH, (&format!("Buoy {no}"), "finish", &["tower", "hull"], 11.4), "4 mil", 65.0, 5.0);
    let (lots, air) = (["F-0917", "H-197", "T-77"], weather(days));
    let mut buoy = Job::begin(crew, &name, morning(crew, now, days, &name), asked).await?;
    buoy.wait(8.0).ready(air, &FINISH_GUARDS, &lots).await?;
    let pot = buoy.wait(8.0).mix("pot", 1900.0, lots, between(&name, -1.5, 2.0)).await?;
    buoy.write("choose_rig", json!({ "rig": id(BUOY_POT) })).await?;
    let psi = format!("{:.1} psi", between(&format!("{name}/psi"), 10.0, 10.9));
    buoy.wait(10.0).write("set_up", json!({ "pot_kpa": psi, "atomizing_kpa": "45 psi", "stream_mm": "9.5 in" })).await?;
    buoy.wait(6.0).prepare(air).await?;
    buoy.let_go("Past its window by the book: abraded and wiped, seen by me.").await?;
    buoy.wait(2.0).write("start_spraying", json!({ "charge": pot })).await?;
    let used = between(&format!("{name}/used"), 560.0, 620.0).round();
    for (wet, readings) in [(2.0, 1), (3.0, 1), (4.0, 3)] {
        buoy.wait(4.0).pass(pot, Some(used), wet, readings).await?;
    }
    buoy.wait(5.0).write("close_charge", json!({ "charge": pot, "how": "emptied" })).await?;
    buoy.wait(3.0).write("flush", json!({ "text": "urethane thinner until clear" })).await?;
    answered(&mut buoy, "Looked at by the lead.").await?;
    buoy.sign().await?;
    buoy.done().await
}

/// Flume sections: of nine six came out porous, and what it was is settled; the seventh was repaired.
async fn flume(crew: &Crew<'_>, now: Timestamp, days: i64, no: i64) -> Result<(), Problem> {
    let wrong = match no {
        1 | 3 | 4 | 7 => Wrong::FirstPassHeavy,
        2 | 6 => Wrong::CatalystAirLow,
        _ => Wrong::Nothing,
    };
    let name = format!("weeks/flume/{no}/{now}");
    let asked =
        wanted(GEL_COAT, (&format!("Flume section {no}"), "gel coat", &["inlet", "run", "lip"], 9.2), "20 mil", 80.0, 0.0);
    let book = gel_coat(crew, &name, morning(crew, now, days, &name), days, asked, wrong).await?;
    if wrong == Wrong::Nothing {
        return Ok(());
    }
    let mut seen = Job::resume(crew, &format!("{name}/seen"), book, morning(crew, now, days - 2, &name)).await?;
    let lip = seen.record().zones().into_iter().find(|(_, zone)| zone == "lip").and_then(|(id, _)| id);
    let text = "Fine holes, as many as there are grains of sand.";
    seen.write_as(Role::Inspector, "defect_seen", json!({ "symptom": "porosity", "zone": lip, "text": text })).await?;
    let defect = seen.record().defects.last().map(|d| d.entry);
    let (look, yes, cause, how) = if wrong == Wrong::FirstPassHeavy {
        ("holes_from_below", true, "first_pass_heavy", "They begin at the bottom: the first pass was laid on too heavy.")
    } else {
        ("catalyst_air_up", true, "catalyst_air_low", "A card with more catalyst air came out closed.")
    };
    seen.wait(20.0).write_as(Role::Inspector, "defect_look", json!({ "defect": defect, "look": look, "yes": yes })).await?;
    let settled = json!({ "defect": defect, "cause": cause, "text": how });
    seen.wait(15.0).write_as(Role::Lead, "defect_settled", settled).await?;
    seen.noted().await?;
    match defect.filter(|_| no == 7) {
        Some(defect) => Box::pin(repair(crew, now, days - 3, book, defect)).await,
        None => Ok(()),
    }
}

/// The lip sprayed again: cleaned, scuffed, in the way it should have been done at first.
async fn repair(crew: &Crew<'_>, now: Timestamp, days: i64, batch: Uuid, defect: Uuid) -> Result<(), Problem> {
    let name = format!("weeks/repair/{now}");
    let mut asked = wanted(GEL_COAT, ("Flume section 7", "gel coat mend", &["lip"], 1.2), "20 mil", 80.0, 0.0);
    asked["substrate"] = "already_coated".into();
    asked["repairs"] = json!({ "batch": batch, "defect": defect });
    gel_coat(crew, &name, morning(crew, now, days, &name), days, asked, Wrong::Nothing).await.map(drop)
}

/// Grams of catalyst on 812 g of gel coat: the pump of the machine drifts over five weeks, as its old cards say.
fn caught_g(days: i64, name: &str) -> f64 {
    let drifted = (35.0 - days as f64).clamp(0.0, 27.0) / 27.0;
    ((17.6 - 2.4 * drifted + between(&format!("{name}/caught"), -0.12, 0.12)) * 10.0).round() / 10.0
}

async fn gel_coat(crew: &Crew<'_>, name: &str, at: Timestamp, days: i64, asked: Value, wrong: Wrong) -> Result<Uuid, Problem> {
    let (lots, air) = (["G-3081", "C-0398"], weather(days));
    let repairs = !asked["repairs"].is_null();
    let mut job = Job::begin(crew, name, at, asked).await?;
    job.wait(8.0).ready(air, &["peroxide", "styrene", "high_pressure_fluid"], &lots).await?;
    job.wait(4.0).prepare(air).await?;
    let charge = id(&format!("{name}/gun"));
    let wanted_ml = if repairs { 800.0 } else { 5800.0 };
    job.wait(5.0).write("open_charge", json!({ "charge": charge, "kind": "at_gun", "wanted_ml": wanted_ml })).await?;
    job.wait(2.0).write("choose_rig", json!({ "rig": id(FLUME_MACHINE) })).await?;
    let catalyst = if wrong == Wrong::CatalystAirLow { "14 psi" } else { "22 psi" };
    for (pump, pattern) in [("45 psi", "oval_fingers"), ("55 psi", "even")] {
        job.wait(1.5).write("set_up", json!({ "pot_kpa": pump, "catalyst_kpa": catalyst, "pattern": pattern })).await?;
    }
    let caught = json!({ "charge": charge, "a_g": 812.0, "b_g": caught_g(days, name), "resolution_g": 0.1, "a_kpa": "55 psi" });
    job.wait(5.0).write("ratio_check", caught).await?;
    if repairs {
        job.let_go("Scuffed until nothing shines, wiped, seen by me.").await?;
    }
    job.wait(4.0).write("start_spraying", json!({ "charge": charge })).await?;
    let films = if wrong == Wrong::FirstPassHeavy { [14.0, 18.0, 20.0] } else { [7.0, 14.0, 20.0] };
    let used = between(&format!("{name}/used"), 1780.0, 1960.0).round();
    let used = if repairs { 240.0 } else { used };
    for (wet, readings) in films.into_iter().zip([1, 1, 3]) {
        job.wait(3.0).pass(charge, Some(used), wet, readings).await?;
    }
    job.wait(6.0).write("close_charge", json!({ "charge": charge, "how": "emptied" })).await?;
    answered(&mut job, "Looked at by the lead.").await?;
    job.sign().await?;
    let book = job.book;
    job.done().await?;
    Ok(book)
}

async fn sign(crew: &Crew<'_>, now: Timestamp, days: i64, no: i64) -> Result<(), Problem> {
    let name = format!("weeks/sign/{no}/{now}");
    let mut asked = wanted(WATERBORNE, (&format!("Pier sign {no}"), "finish", &[], 1.6), "4 mil", 65.0, 0.0);
    (asked["substrate"], asked["method"]) = ("wood".into(), "gun_cup".into());
    let (lots, air) = (["W-0493", "W-0502", ""], weather(days));
    let mut job = Job::begin(crew, &name, morning(crew, now, days, &name), asked).await?;
    job.wait(4.0).ready(air, &["pressure_vessel"], &lots[..2]).await?;
    let cup = job.wait(3.0).mix("cup", 400.0, lots, 0.0).await?;
    job.write("choose_rig", json!({ "rig": id(SIGN_GUN) })).await?;
    job.wait(6.0).prepare(air).await?;
    job.wait(2.0).write("start_spraying", json!({ "charge": cup })).await?;
    for (wet, readings) in [(2.0, 1), (4.0, 3)] {
        job.wait(6.0).pass(cup, Some(150.0), wet, readings).await?;
    }
    job.wait(3.0)
        .write("close_charge", json!({ "charge": cup, "how": "discarded", "reason": "What was left in the cup." }))
        .await?;
    let _nothing_in_the_line = job.wait(1.0).write("flush", json!({ "text": "water" })).await;
    answered(&mut job, "Looked at by the lead.").await?;
    job.sign().await?;
    job.done().await
}

/// A deck of one can, accepted by its look at each of its stages, beside the sample it should match.
async fn deck(crew: &Crew<'_>, now: Timestamp, days: i64, no: i64) -> Result<(), Problem> {
    let name = format!("weeks/deck/{no}/{now}");
    let mut asked = wanted(TEXTURE, (&format!("Jetty deck {no}"), "texture", &[], 7.5), "20 mil", 65.0, 0.0);
    (asked["substrate"], asked["method"]) = ("already_coated".into(), "pot".into());
    let air = weather(days);
    let mut job = Job::begin(crew, &name, morning(crew, now, days, &name), asked).await?;
    job.wait(5.0).ready(air, &["pressure_vessel"], &["X-0030"]).await?;
    let pot = id(&format!("{name}/pot"));
    let poured = json!({ "charge": pot, "into": "pressure_pot", "fill_ml": "5 L", "lot": "X-0030", "stirred": true });
    job.wait(4.0).write("ready_fill", poured).await?;
    job.write("choose_rig", json!({ "rig": id(DECK_POT) })).await?;
    job.wait(3.0).write("set_up", json!({ "pot_kpa": "12 psi", "atomizing_kpa": "40 psi", "stream_mm": "7 in" })).await?;
    job.wait(3.0).prepare(air).await?;
    job.let_go("Old coat sound and abraded, seen by me.").await?;
    job.wait(2.0).write("start_spraying", json!({ "charge": pot })).await?;
    job.wait(6.0).pass(pot, Some(1900.0), 8.0, 0).await?;
    let sample = drawn(crew, now, "sample", 7).await?;
    job.write("control_sample", json!({ "text": "Deck sample 2, coarse", "photo": sample })).await?;
    let ground = drawn(crew, now, "ground", 0).await?;
    job.wait(20.0).write("stage_look", json!({ "stage": "ground_colour", "good": true, "photo": ground })).await?;
    job.wait(45.0).write("conditions", serde_json::to_value(air)?).await?;
    job.write("tick", json!({ "item": "stir_again", "did": "done" })).await?;
    job.wait(1.0).pass(pot, Some(1800.0), 16.0, 0).await?;
    let pattern = drawn(crew, now, "pattern", 6).await?;
    job.wait(10.0).write("stage_look", json!({ "stage": "pattern_size", "good": true, "photo": pattern })).await?;
    job.wait(4.0).write("film_look", json!({ "good": true })).await?;
    job.wait(1.0).write("close_charge", json!({ "charge": pot, "how": "emptied" })).await?;
    let _nothing_in_the_line = job.wait(1.0).write("flush", json!({ "text": "water" })).await;
    answered(&mut job, "Looked at by the lead.").await?;
    job.sign().await?;
    job.done().await
}

/// A picture of a deck, drawn and not photographed: grains of a size, in sand on grey.
async fn drawn(crew: &Crew<'_>, now: Timestamp, name: &str, grain: u32) -> Result<Attached, Problem> {
    let mut picture = RgbImage::from_pixel(320, 240, Rgb([148, 152, 146]));
    for n in 0..if grain == 0 { 0 } else { 420 } {
        let at = id(&format!("grain/{name}/{n}"));
        let [x, y] = [at.as_bytes()[0], at.as_bytes()[1]].map(u32::from);
        let (x, y) = (x * 320 / 256, y * 240 / 256);
        for (dx, dy) in (0..grain).flat_map(|dx| (0..grain).map(move |dy| (dx, dy))) {
            let round = (2 * dx).abs_diff(grain).pow(2) + (2 * dy).abs_diff(grain).pow(2) <= grain.pow(2);
            if round && x + dx < 320 && y + dy < 240 {
                picture.put_pixel(x + dx, y + dy, Rgb([196, 176, 132]));
            }
        }
    }
    let mut bytes = Vec::new();
    picture.write_to(&mut Cursor::new(&mut bytes), ImageFormat::Png).map_err(|e| Problem::Fault(e.to_string()))?;
    let person = crew.one(Role::Applicator).id;
    files::put(&crew.state.db, person, now, bytes, format!("deck {name}.png")).await
}
