//! The rigs of the island works, put together from the pieces on its shelf, and one code of tips of its own.

use super::crew::{Crew, id};
use super::sheets::{ADHESIVE, GEL_COAT};
use crate::atomizing::table;
use crate::books::{Draft, NewEntry, Writing};
use crate::problem::Problem;
use crate::rigs;
use jiff::{SignedDuration, Timestamp};
use level_keel_core::atomizing::tips::TipRow;
use level_keel_core::instruments::InstrumentBook;
use level_keel_core::people::Role;
use level_keel_core::pot_life::after;
use level_keel_core::quantity::{Prefs, resolve};
use level_keel_core::rig_book::RigBook;
use level_keel_core::rigs::pieces::{Piece, assemble};
use level_keel_core::rigs::{Rig, RigKind};
use level_keel_core::wire::read;
use serde_json::{Value, json};
use sqlx::PgConnection;

/// A two-litre pot on 25 ft of hose.
pub const BUOY_POT: &str = "rig/buoy pot";
/// External-mix airless with air assist.
pub const FLUME_MACHINE: &str = "rig/flume machine";
/// Two pots for adhesive and activator.
pub const COLLAR_POTS: &str = "rig/collar pots";

/// A wide pot for textures.
pub const DECK_POT: &str = "rig/deck pot";

/// A gun with its own cup.
pub const SIGN_GUN: &str = "rig/sign gun";

/// Kind, name and figures of each piece.
fn shelf() -> Vec<(&'static str, &'static str, Value)> {
    vec![
        ("compressor", "Shed compressor", json!({ "supply_kpa": "90 psi", "compressor_nl_min": "22 scfm" })),
        ("regulators", "Bench pair", json!({ "two_regulators": true })),
        ("regulators", "Deck pair", json!({ "two_regulators": true })),
        ("regulators", "Collar pair", json!({ "two_regulators": true })),
        (
            "vessel",
            "Two-litre pot",
            json!({ "rating_kpa": "80 psi", "relief_kpa": "80 psi", "fill_ml": "2 L", "vent_valve": true }),
        ),
        ("vessel", "Collar pots, ten litres", json!({ "rating_kpa": "80 psi", "relief_kpa": "80 psi", "fill_ml": "10 L" })),
        ("machine", "Flume machine", json!({ "pump_most_kpa": "120 psi", "catalyst_most_kpa": "60 psi", "ladder": "fives" })),
        ("fluid_hose", "Bench hose", json!({ "hose_bore_mm": "3/8 in", "hose_length_mm": "25 ft", "hose_since": "2026-03-02" })),
        ("fluid_hose", "Flume hose", json!({ "hose_bore_mm": "3/8 in", "hose_length_mm": "30 ft", "hose_since": "2026-05-11" })),
        ("fluid_hose", "Collar hose", json!({ "hose_bore_mm": "3/8 in", "hose_length_mm": "20 ft" })),
        ("fluid_hose", "Thin spare", json!({ "hose_bore_mm": "1/4 in", "hose_length_mm": "25 ft", "hose_since": "2025-10-20" })),
        (
            "gun",
            "Pot gun, bench three",
            json!({ "class": "conventional", "printed_air_kpa": "60 psi", "air_nl_min": "12 scfm", "needle_full_count": "3" }),
        ),
        ("gun", "Flume gun", json!({ "class": "air_assisted", "air_nl_min": "6 scfm" })),
        ("gun", "Collar gun", json!({ "class": "twin_feed", "air_nl_min": "10 scfm" })),
        ("gun", "Sign gun", json!({ "class": "hvlp", "air_nl_min": "11 scfm" })),
        ("nozzle", "Sign 1.3", json!({ "nozzle_mm": 1.3, "spare_mm": [1.5] })),
        ("air_hose", "Sign air", json!({ "air_bore_mm": "5/16 in", "air_length_mm": "20 ft" })),
        ("nozzle", "Bench 1.8", json!({ "nozzle_mm": 1.8, "spare_mm": [1.2, 1.4, 2.2] })),
        ("nozzle", "Collar 2.2", json!({ "nozzle_mm": 2.2 })),
        ("tip", "Flume 521", json!({ "tip_code": "521" })),
        (
            "vessel",
            "Deck pot, ten litres",
            json!({ "rating_kpa": "80 psi", "relief_kpa": "80 psi", "fill_ml": "8 L", "vent_valve": true }),
        ),
        ("fluid_hose", "Deck hose", json!({ "hose_bore_mm": "1/2 in", "hose_length_mm": "15 ft" })),
        ("gun", "Deck gun", json!({ "class": "texture", "air_nl_min": "9 scfm" })),
        ("nozzle", "Deck 3.0", json!({ "nozzle_mm": 3.0, "spare_mm": [2.5, 4.0] })),
        ("air_hose", "Deck air", json!({ "air_bore_mm": "5/16 in", "air_length_mm": "20 ft" })),
        ("air_hose", "Bench air", json!({ "air_bore_mm": "5/16 in", "air_length_mm": "25 ft" })),
        ("air_hose", "Flume air", json!({ "air_bore_mm": "1/4 in", "air_length_mm": "30 ft" })),
        ("air_hose", "Collar air", json!({ "air_bore_mm": "5/16 in", "air_length_mm": "20 ft" })),
    ]
}

/// Key, name, kind, lift, and the names of its pieces.
fn built() -> [(&'static str, Value, &'static [&'static str]); 5] {
    [
        (
            SIGN_GUN,
            json!({ "name": "Sign gun, its own cup", "kind": "gun_cup" }),
            &["Shed compressor", "Sign gun", "Sign 1.3", "Sign air"],
        ),
        (
            BUOY_POT,
            json!({ "name": "Buoy pot, two litres", "kind": "pot", "lift_mm": "500 mm" }),
            &["Shed compressor", "Bench pair", "Two-litre pot", "Bench hose", "Pot gun, bench three", "Bench 1.8", "Bench air"],
        ),
        (
            FLUME_MACHINE,
            json!({ "name": "Flume gel-coat machine", "kind": "gel_coat_machine", "since": "2025-05-05" }),
            &["Shed compressor", "Flume machine", "Flume hose", "Flume gun", "Flume 521", "Flume air"],
        ),
        (
            COLLAR_POTS,
            json!({ "name": "Collar twin pots", "kind": "twin_pots", "lift_mm": "300 mm", "since": "2025-09-01" }),
            &[
                "Shed compressor",
                "Collar pair",
                "Collar pots, ten litres",
                "Collar hose",
                "Collar gun",
                "Collar 2.2",
                "Collar air",
            ],
        ),
        (
            DECK_POT,
            json!({ "name": "Deck texture pot", "kind": "pot", "lift_mm": "300 mm" }),
            &["Shed compressor", "Deck pair", "Deck pot, ten litres", "Deck hose", "Deck gun", "Deck 3.0", "Deck air"],
        ),
    ]
}

fn piece((kind, name, figures): (&str, &str, Value)) -> Result<Piece, Problem> {
    let mut figures = figures;
    resolve(&mut figures, Prefs::METRIC)?;
    Ok(read::<Piece>(json!({ "kind": kind, "name": name, "figures": figures }))?.validate(Prefs::METRIC)?)
}

fn piece_id(name: &str) -> uuid::Uuid {
    id(&format!("piece/{name}"))
}

/// Keeps shelf, rigs and codes; those that are there stay as they are.
pub async fn write(crew: &Crew<'_>) -> Result<(), Problem> {
    let state = crew.state;
    let mut tx = state.db.begin().await?;
    let shelf: Vec<Piece> = shelf().into_iter().map(piece).collect::<Result<_, _>>()?;
    for piece in &shelf {
        let id = piece_id(&piece.name);
        if sqlx::query_scalar!("select id from piece where id = $1", id).fetch_optional(&mut *tx).await?.is_none() {
            rigs::pieces::put_piece(&mut tx, id, piece, state.clock.now()).await?;
        }
    }
    for (key, body, names) in built() {
        rig(&mut tx, crew, key, body, names, &shelf).await?;
    }
    if table(&mut *tx).await?.is_empty() {
        // A maker's code that follows another rule: 40° and nineteen thousandths.
        let row = TipRow { code: "K19".into(), angle_deg: 40.0, hole_mm: 0.482_6 };
        sqlx::query!("insert into tip_row (code, angle_deg, hole_mm) values ($1, $2, $3)", row.code, row.angle_deg, row.hole_mm)
            .execute(&mut *tx)
            .await?;
    }
    tx.commit().await?;
    Ok(())
}

/// What the books of the rigs say of the weeks before: days ago, rig, kind, payload. The tip of the flume machine wears.
fn said() -> Vec<(i64, &'static str, &'static str, Value)> {
    let flow = |psi: &str, ml: u32| json!({ "pot_kpa": psi, "caught_ml": ml, "caught_watch_s": "15 s" });
    vec![
        (36, FLUME_MACHINE, "fitted", json!({ "tip_code": "521" })),
        (24, FLUME_MACHINE, "inspected", json!({ "sound": true, "text": "Hoses and trigger lock sound" })),
        (21, FLUME_MACHINE, "tip_flow", flow("40 psi", 310)),
        (14, BUOY_POT, "inspected", json!({ "sound": true, "text": "Relief lifts by its ring" })),
        (10, FLUME_MACHINE, "tip_flow", flow("40 psi", 330)),
        (7, BUOY_POT, "cared", json!({ "item": "strip" })),
        (7, BUOY_POT, "cared", json!({ "item": "gasket" })),
        (2, BUOY_POT, "cleaned", json!({ "text": "Flushed clear after the primer" })),
        (1, FLUME_MACHINE, "tip_flow", flow("42 psi", 385)),
        (17, COLLAR_POTS, "exchanged", json!({ "piece": "filter", "text": "B’s filter, clogged" })),
    ]
}

/// What old cards say of the catches before: days ago, rig, product, pressures, grams of A and B. The catalyst pump of the flume
/// machine drifts over five weeks, and its trend is seen before any catch is out; the twin pots drifted, and were given a filter.
fn cards(now: Timestamp) -> Vec<(&'static str, Value)> {
    let at = |days: f64| after(now, -days * 86_400.0);
    let catalyst = [17.6, 17.4, 17.3, 17.3, 16.9, 16.7, 16.6, 16.4, 16.3, 16.0, 15.7, 15.7, 15.3, 15.2];
    let flume = (0..).map(f64::from).zip(catalyst).map(|(n, b_g)| {
        let card = json!({ "sheet": id(GEL_COAT), "proved_at": at(35.0 - 2.05 * n), "caught_by": "Ansa Reef", "a_g": 812.0, "b_g": b_g,
            "resolution_g": 0.1, "a_kpa": "55 psi", "temp_c": 22, "lot_b": "C-0412", "caught_watch_s": "15 s" });
        (FLUME_MACHINE, card)
    });
    let before = [(40.9, 5.2), (40.6, 5.2), (40.8, 5.1), (41.0, 5.1), (41.2, 5.1)];
    let since = [
        (40.1, 5.0),
        (39.9, 5.0),
        (40.3, 5.0),
        (40.2, 5.0),
        (40.5, 5.0),
        (40.3, 5.0),
        (40.7, 5.0),
        (40.6, 5.0),
        (40.9, 5.0),
        (40.8, 5.0),
    ];
    let days = (0..5).map(|n| 30.0 - 2.5 * f64::from(n)).chain((0..10).map(|n| 16.0 - 1.5 * f64::from(n)));
    let collar = days.zip(before.into_iter().chain(since)).map(|(days, (a_g, b_g))| {
        let card = json!({ "sheet": id(ADHESIVE), "proved_at": at(days), "caught_by": "Ansa Reef", "a_g": a_g, "b_g": b_g,
            "resolution_g": 0.1, "a_kpa": "13 psi", "b_kpa": "8 psi", "temp_c": 21, "lot_a": "K-0041", "lot_b": "V-0012", "caught_watch_s": "15 s" });
        (COLLAR_POTS, card)
    });
    flume.chain(collar).collect()
}

/// Writes it, by the hand of the applicator.
pub async fn history(crew: &Crew<'_>, now: Timestamp) -> Result<(), Problem> {
    let said = said();
    let cards = cards(now);
    for rig in [BUOY_POT, FLUME_MACHINE, COLLAR_POTS] {
        let mut tx = crew.state.db.begin().await?;
        let mut draft = Draft::<RigBook>::open(&mut tx, id(rig), now).await?;
        for (n, (days, _, kind, payload)) in said.iter().enumerate().filter(|(_, of)| of.1 == rig) {
            let at = now.checked_sub(SignedDuration::from_hours(24 * days)).unwrap_or(now);
            let writing = Writing::of(crew.state, crew.one(Role::Applicator), at);
            let entry =
                NewEntry { id: id(&format!("{rig}/{now}/{n}")), kind: (*kind).into(), payload: payload.clone(), ago_s: 0.0 };
            draft.write(&writing, &mut tx, entry).await?;
        }
        for (n, (_, card)) in cards.iter().enumerate().filter(|(_, of)| of.0 == rig) {
            let writing = Writing::of(crew.state, crew.one(Role::Lead), now);
            let (id, kind) = (id(&format!("{rig}/{now}/card/{n}")), "paper_proof".into());
            draft.write(&writing, &mut tx, NewEntry { id, kind, payload: card.clone(), ago_s: 0.0 }).await?;
        }
        draft.store(&mut tx).await?;
        tx.commit().await?;
    }
    checked(crew, now).await
}

/// The bench scale was checked three weeks ago.
async fn checked(crew: &Crew<'_>, now: Timestamp) -> Result<(), Problem> {
    let scale = sqlx::query_scalar!("select id from instrument where kind = 'scale' and name = 'Bench scale'");
    let Some(scale) = scale.fetch_optional(&crew.state.db).await? else { return Ok(()) };
    let at = after(now, -21.0 * 86_400.0);
    let check = json!({ "known_g": "2 kg", "read_g": "2.001 kg", "empty_g": "0 g", "against": "2 kg cast weight" });
    let (id, kind) = (id(&format!("bench scale/{now}")), "checked".into());
    let writing = Writing::of(crew.state, crew.one(Role::Lead), at);
    writing.one::<InstrumentBook>(scale, NewEntry { id, kind, payload: check, ago_s: 0.0 }).await.map(drop)
}

async fn rig(
    tx: &mut PgConnection,
    crew: &Crew<'_>,
    key: &str,
    mut body: Value,
    names: &[&str],
    shelf: &[Piece],
) -> Result<(), Problem> {
    if sqlx::query_scalar!("select id from rig where id = $1", id(key)).fetch_optional(&mut *tx).await?.is_some() {
        return Ok(());
    }
    resolve(&mut body, Prefs::METRIC)?;
    let fitted: Vec<Piece> = shelf.iter().filter(|p| names.contains(&p.name.as_str())).cloned().collect();
    let kind: RigKind = read(body["kind"].clone())?;
    if let Value::Object(map) = &mut body {
        assemble(map, kind, &fitted)?;
        let pieces: serde_json::Map<String, Value> =
            fitted.iter().map(|p| (p.kind.name().to_string(), json!(piece_id(&p.name)))).collect();
        map.insert("pieces".into(), pieces.into());
    }
    let rig = read::<Rig>(body)?.validate(&[], Prefs::METRIC)?;
    let writing = Writing { inside: true, ..Writing::of(crew.state, crew.one(Role::Lead), crew.state.clock.now()) };
    rigs::put_rig(&writing, tx, id(key), &rig).await
}
