//! The rest of today's shift, one batch of every kind of work: a gun cup, a gel coat, ready to use, by brush, and one that is held.

use super::crew::{Crew, Job, id};
use super::rigs::{DECK_POT, FLUME_MACHINE, SIGN_GUN};
use super::scenario::{PRIMER_GUARDS, read};
use super::sheets::{GEL_COAT, PRIMER, TEXTURE, WATERBORNE};
use crate::problem::Problem;
use jiff::Timestamp;
use level_keel_core::conditions::Readings;
use level_keel_core::pot_life::after;
use serde_json::{Value, json};

/// What is asked for: sheet, part, coat, area, film, and how it is put on what.
struct Wanted<'a> {
    sheet: &'a str,
    part: &'a str,
    coat: &'a str,
    zones: &'a [&'a str],
    area_m2: f64,
    film: &'a str,
    substrate: &'a str,
    method: &'a str,
}

impl Wanted<'_> {
    fn said(&self) -> Value {
        json!({ "sheet": id(self.sheet), "part": self.part, "coat": self.coat, "zones": self.zones, "area_m2": self.area_m2,
                "film_um": self.film, "film_is": "wet", "transfer_pct": if self.method == "brush" { 95.0 } else { 65.0 },
                "thinner_pct": 0.0, "substrate": self.substrate, "method": self.method })
    }
}

const INDOORS: Readings = Readings { air_c: 22.5, surface_c: 21.4, material_c: 21.8, rh_pct: 57.0 };

/// All five, each somewhere on its way at `now`.
pub async fn every_kind(crew: &Crew<'_>, key: &str, now: Timestamp) -> Result<(), Problem> {
    let ago = |minutes: f64| after(now, -minutes * 60.0);
    Box::pin(ready_to_use(crew, &format!("{key}/deck"), [ago(150.0), ago(14.0)])).await?;
    Box::pin(gel_coat(crew, &format!("{key}/flume"), [ago(110.0), ago(24.0)])).await?;
    Box::pin(gun_cup(crew, &format!("{key}/sign"), [ago(85.0), ago(23.0)])).await?;
    Box::pin(by_brush(crew, &format!("{key}/ladder"), [ago(75.0), ago(18.0)])).await?;
    // Last, so that the newest batch of the primer is one by pot: it is what the next one is proposed by.
    Box::pin(held(crew, &format!("{key}/held"), ago(35.0))).await
}

/// Air and surface do not stay what they were: read again a while ago.
async fn read_again(job: &mut Job<'_>, at: Timestamp) -> Result<(), Problem> {
    job.at = at;
    job.write("conditions", serde_json::to_value(INDOORS)?).await
}

/// A sign out of the gun's own cup: set, mixed, the first pass on.
async fn gun_cup(crew: &Crew<'_>, name: &str, [at, lately]: [Timestamp; 2]) -> Result<(), Problem> {
    let wanted = Wanted {
        sheet: WATERBORNE,
        part: "Harbour sign 4",
        coat: "finish",
        zones: &[],
        area_m2: 1.6,
        film: "4 mil",
        substrate: "wood",
        method: "gun_cup",
    };
    let mut sign = Job::begin(crew, name, at, wanted.said()).await?;
    let lots = ["W-0501", "W-0502", ""];
    sign.wait(4.0).ready(INDOORS, &["pressure_vessel"], &lots[..2]).await?;
    let cup = sign.wait(3.0).mix("cup", 400.0, lots, 0.0).await?;
    sign.write("choose_rig", json!({ "rig": id(SIGN_GUN) })).await?;
    sign.wait(6.0).prepare(INDOORS).await?;
    sign.wait(2.0).write("start_spraying", json!({ "charge": cup })).await?;
    sign.wait(3.0).pass(cup, Some(110.0), 2.0, 1).await?;
    read_again(&mut sign, lately).await?;
    sign.done().await
}

/// A flume section on its way up the ladder: fingers still, the next step is to be tried.
async fn gel_coat(crew: &Crew<'_>, name: &str, [at, lately]: [Timestamp; 2]) -> Result<(), Problem> {
    let wanted = Wanted {
        sheet: GEL_COAT,
        part: "Flume section 12",
        coat: "gel coat",
        zones: &["inlet", "run", "lip"],
        area_m2: 9.2,
        film: "20 mil",
        substrate: "gel_coat_mould",
        method: "gel_coat_machine",
    };
    let mut flume = Job::begin(crew, name, at, wanted.said()).await?;
    flume.wait(5.0).ready(INDOORS, &["peroxide", "styrene", "high_pressure_fluid"], &["G-3107", "C-0412"]).await?;
    flume.wait(3.0).write("choose_rig", json!({ "rig": id(FLUME_MACHINE) })).await?;
    let gun = id(&format!("{name}/gun"));
    flume.wait(1.0).write("open_charge", json!({ "charge": gun, "kind": "at_gun", "wanted_ml": 5800 })).await?;
    for (pump, pattern) in [("30 psi", "round_fingers"), ("40 psi", "oval_fingers")] {
        let burst = json!({ "pot_kpa": pump, "catalyst_kpa": "22 psi", "pattern": pattern });
        flume.wait(2.0).write("set_up", burst).await?;
    }
    read_again(&mut flume, lately).await?;
    flume.done().await
}

/// A deck of one can: nothing ages, its first step is on, and it waits for the second.
async fn ready_to_use(crew: &Crew<'_>, name: &str, [at, lately]: [Timestamp; 2]) -> Result<(), Problem> {
    let wanted = Wanted {
        sheet: TEXTURE,
        part: "Jetty deck 3",
        coat: "texture",
        zones: &[],
        area_m2: 7.5,
        film: "20 mil",
        substrate: "already_coated",
        method: "pot",
    };
    let mut deck = Job::begin(crew, name, at, wanted.said()).await?;
    deck.wait(5.0).ready(INDOORS, &["pressure_vessel"], &["X-0030"]).await?;
    let pot = id(&format!("{name}/pot"));
    let poured = json!({ "charge": pot, "into": "pressure_pot", "fill_ml": "5 L", "lot": "X-0030", "stirred": true });
    deck.wait(4.0).write("ready_fill", poured).await?;
    deck.write("choose_rig", json!({ "rig": id(DECK_POT) })).await?;
    deck.wait(3.0).write("set_up", json!({ "pot_kpa": "12 psi", "atomizing_kpa": "40 psi", "stream_mm": "7 in" })).await?;
    deck.wait(3.0).prepare(INDOORS).await?;
    deck.wait(2.0).write("start_spraying", json!({ "charge": pot })).await?;
    deck.wait(6.0).pass(pot, Some(1900.0), 8.0, 0).await?;
    read_again(&mut deck, lately).await?;
    deck.write("tick", json!({ "item": "stir_again", "did": "done" })).await?;
    deck.done().await
}

/// A buoy that stands too near its dew point: held until it is warmer, or a lead says otherwise.
async fn held(crew: &Crew<'_>, name: &str, at: Timestamp) -> Result<(), Problem> {
    let wanted = Wanted {
        sheet: PRIMER,
        part: "Buoy 9",
        coat: "primer",
        zones: &[],
        area_m2: 11.4,
        film: "4 mil",
        substrate: "blasted_steel",
        method: "pot",
    };
    let mut buoy = Job::begin(crew, name, at, wanted.said()).await?;
    buoy.wait(5.0).write("conditions", serde_json::to_value(read(17.0, 13.5, 15.0, 76.0))?).await?;
    buoy.wait(2.0).write("guards", json!({ "hazards": PRIMER_GUARDS })).await?;
    buoy.wait(1.0).write("note", json!({ "text": "Came in cold from the slip. Heaters on." })).await?;
    buoy.done().await
}

/// A ladder by brush: no rig and nothing to prove; the can is through its induction, and brushed from.
async fn by_brush(crew: &Crew<'_>, name: &str, [at, blasted]: [Timestamp; 2]) -> Result<(), Problem> {
    let wanted = Wanted {
        sheet: PRIMER,
        part: "Slip ladder 2",
        coat: "stripe coat",
        zones: &[],
        area_m2: 0.9,
        film: "4 mil",
        substrate: "blasted_steel",
        method: "brush",
    };
    let mut ladder = Job::begin(crew, name, at, wanted.said()).await?;
    let lots = ["P-2207", "H-118", "T-77"];
    ladder.wait(4.0).ready(INDOORS, &PRIMER_GUARDS, &lots[..2]).await?;
    let can = ladder.wait(3.0).mix("can", 300.0, lots, 0.0).await?;
    ladder.at = blasted;
    ladder.prepare(INDOORS).await?;
    ladder.wait(2.0).write("start_spraying", json!({ "charge": can })).await?;
    ladder.done().await
}

/// In the evening it is warm enough: a buoy that was held is mixed for, so that it can be finished with the rest.
pub async fn warm_up(job: &mut Job<'_>) -> Result<(), Problem> {
    let lots = ["P-2207", "H-118", "T-77"];
    job.wait(2.0).ready(read(21.5, 20.4, 20.5, 60.0), &PRIMER_GUARDS, &lots).await?;
    job.wait(2.0).mix("evening", 1900.0, lots, 0.0).await?;
    job.wait(22.0);
    Ok(())
}
