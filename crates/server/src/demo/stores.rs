//! The stores of the island works: places, lots old and new, a coat system with its pair of products.

use super::crew::{Crew, Job, id};
use super::sheets::{ADHESIVE, FINISH, GEL_COAT, PRIMER, RELEASE, TEXTURE, WATERBORNE};
use crate::books::{Draft, NewEntry, Writing};
use crate::problem::Problem;
use crate::stores::append::{receive, row_for};
use crate::stores::first_in;
use crate::stores::places::put_down;
use jiff::civil::Date;
use jiff::{SignedDuration, Timestamp};
use jiff_sqlx::ToSqlx;
use level_keel_core::lists::What;
use level_keel_core::people::Role;
use level_keel_core::sheets::propose_label;
use level_keel_core::stores::place::{Place, PlaceBook, PlaceKind};
use level_keel_core::stores::{Lot, LotKind};
use level_keel_core::worded::Worded;
use serde_json::json;
use uuid::Uuid;

pub(super) const PAINT_STORE: &str = "Paint store";
pub(super) const GEL_ROOM: &str = "Gel-coat room";
pub(super) const PEROXIDE: &str = "Peroxide cabinet";

/// Code, sheet, component, days since it came in, days it is still good, container in kg, containers, place.
pub(super) type Coming = (&'static str, &'static str, &'static str, i64, Option<i64>, f64, f64, &'static str);

const LOTS: [Coming; 22] = [
    ("P-2191", PRIMER, "base", 210, Some(-12), 20.0, 2.0, PAINT_STORE),
    ("P-2204", PRIMER, "base", 96, Some(150), 20.0, 1.0, PAINT_STORE),
    ("P-2207", PRIMER, "base", 60, Some(240), 20.0, 3.0, PAINT_STORE),
    ("P-2215", PRIMER, "base", 12, Some(340), 20.0, 4.0, PAINT_STORE),
    ("H-118", PRIMER, "hardener", 96, Some(21), 5.0, 4.0, PAINT_STORE),
    ("H-124", PRIMER, "hardener", 12, Some(300), 5.0, 4.0, PAINT_STORE),
    ("T-77", PRIMER, "thinner", 96, None, 20.0, 2.0, PAINT_STORE),
    ("F-0931", FINISH, "base", 45, Some(280), 16.0, 3.0, PAINT_STORE),
    ("F-0940", FINISH, "base", 9, Some(350), 16.0, 3.0, PAINT_STORE),
    ("H-204", FINISH, "hardener", 45, Some(130), 4.0, 4.0, PAINT_STORE),
    ("H-209", FINISH, "hardener", 9, Some(170), 4.0, 4.0, PAINT_STORE),
    ("T-77", FINISH, "thinner", 96, None, 20.0, 1.0, PAINT_STORE),
    ("G-3107", GEL_COAT, "base", 40, Some(48), 225.0, 1.0, GEL_ROOM),
    ("G-3122", GEL_COAT, "base", 8, Some(80), 225.0, 2.0, GEL_ROOM),
    ("C-0412", GEL_COAT, "hardener", 40, Some(140), 5.0, 3.0, PEROXIDE),
    ("C-0420", GEL_COAT, "hardener", 8, Some(170), 5.0, 3.0, PEROXIDE),
    ("K-0055", ADHESIVE, "base", 30, Some(120), 18.0, 4.0, PAINT_STORE),
    ("V-0018", ADHESIVE, "hardener", 30, Some(90), 2.5, 4.0, PAINT_STORE),
    ("W-0501", WATERBORNE, "base", 22, Some(160), 15.0, 2.0, PAINT_STORE),
    ("W-0502", WATERBORNE, "hardener", 22, Some(90), 1.5, 2.0, PAINT_STORE),
    ("R-0071", RELEASE, "base", 80, Some(300), 4.0, 2.0, PAINT_STORE),
    ("X-0030", TEXTURE, "base", 70, Some(200), 25.0, 2.0, PAINT_STORE),
];

/// Lays the stores on.
pub async fn write(crew: &Crew<'_>, now: Timestamp) -> Result<(), Problem> {
    let bands = [
        (PAINT_STORE, Some(5.0), Some(30.0), Some("Paint store")),
        (GEL_ROOM, Some(21.1), Some(29.4), None),
        (PEROXIDE, None, Some(26.7), Some("Peroxide cabinet")),
    ];
    for (name, min, max, probe) in bands {
        let place = Place { name: name.into(), store_min_c: min, store_max_c: max, probe: probe.map(String::from) };
        let mut tx = crew.state.db.begin().await?;
        put_down(&Writing::of(crew.state, crew.one(Role::Lead), now), &mut tx, id(name), place).await?;
        tx.commit().await?;
    }
    come_in(crew, now, &LOTS).await?;
    systems(crew, now).await?;
    readings(crew, now).await
}

/// Lots come in, each with its certificate but for one.
pub(super) async fn come_in(crew: &Crew<'_>, now: Timestamp, lots: &[Coming]) -> Result<(), Problem> {
    let today = crew.state.shop_day();
    let writing = Writing::of(crew.state, crew.one(Role::Lead), now);
    let mut tx = crew.state.db.begin().await?;
    for &(code, sheet, component, came, good, kg, containers, place) in lots {
        let received = days(today, -came);
        let payload = json!({
            "code": code, "sheet": id(sheet), "component": component, "makers_lot": format!("{code}-{component}-26"),
            "colour": colour(sheet, component), "received": received, "made": days(received, -20),
            "expires": good.map(|d| days(today, d)), "container_g": kg * 1000.0, "containers_count": containers, "place": place
        });
        let mut coming = NewEntry::now(id(&format!("lot/{sheet}/{code}")), LotKind::Received, payload);
        let lot = row_for(&writing, &mut tx, &mut coming).await?;
        let mut draft = Draft::<Lot>::open(&mut tx, lot, now).await?;
        draft.write(&writing, &mut tx, coming).await?;
        if component != "thinner" && code != "H-124" {
            let values =
                json!([{ "name": "density", "value": "on the sheet" }, { "name": "gel time", "value": "12 min at 25 °C" }]);
            let name = id(&format!("certificate/{sheet}/{code}"));
            let certified = NewEntry::now(name, LotKind::Certified, json!({ "values": values }));
            draft.write(&writing, &mut tx, certified).await?;
        }
        if code == "H-209" {
            let why = json!({ "reason": "lid not tight on arrival" });
            let quarantined = NewEntry::now(id("quarantine/H-209"), LotKind::Quarantined, why);
            draft.write(&writing, &mut tx, quarantined).await?;
        }
        draft.store(&mut tx).await?;
    }
    Ok(tx.commit().await?)
}

fn days(from: Date, days: i64) -> Date {
    from.saturating_add(SignedDuration::from_hours(24 * days))
}

fn colour(sheet: &str, component: &str) -> Option<&'static str> {
    match (sheet, component) {
        (PRIMER, "base") => Some("grey"),
        (FINISH, "base") => Some("signal red"),
        (GEL_COAT, "base") => Some("sand"),
        _ => None,
    }
}

/// Buoys are primed, then finished; the pair has its own window.
async fn systems(crew: &Crew<'_>, now: Timestamp) -> Result<(), Problem> {
    let lead = crew.one(Role::Lead).id;
    let times = json!({ "recoat_min_s": 8.0 * 3600.0, "recoat_max_s": 5.0 * 86_400.0, "recoat_at_c": 20.0,
                        "prepare": "Nibs off, wipe with the finish's thinner." });
    sqlx::query!(
        "insert into pair_window (from_sheet, to_sheet, body, written_by, written) values ($1, $2, $3, $4, $5)",
        id(PRIMER),
        id(FINISH),
        times,
        lead,
        now.to_sqlx() as _
    )
    .execute(&crew.state.db)
    .await?;
    for (days, part) in [(9, "Buoy 3"), (2, "Buoy 7"), (0, "Buoy 8")] {
        let part_id = id(&format!("part/{part}"));
        let made = now.checked_sub(SignedDuration::from_hours(24 * days + 1)).unwrap_or(now);
        sqlx::query!(
            "insert into part (id, name, label, created) values ($1, $2, $3, $4)",
            part_id,
            part,
            propose_label(part),
            made.to_sqlx() as _
        )
        .execute(&crew.state.db)
        .await?;
        let coats =
            [("primer", PRIMER, 101.6, "Blast to bright metal, blow off."), ("finish", FINISH, 101.6, "Nibs off, wiped.")];
        for (place, (name, sheet, film_um, prepare)) in (1..).zip(coats) {
            sqlx::query!(
                "insert into coat (id, part_id, name, place, sheet_id, method, film_um, film_is, prepare) values ($1, $2, $3, $4, $5, 'pot', $6, 'wet', $7)",
                id(&format!("coat/{part}/{name}")),
                part_id,
                name,
                place,
                id(sheet),
                film_um,
                prepare
            )
            .execute(&crew.state.db)
            .await?;
        }
    }
    Ok(())
}

/// A week of the gel-coat room read by hand, warm on one afternoon.
async fn readings(crew: &Crew<'_>, now: Timestamp) -> Result<(), Problem> {
    let mut tx = crew.state.db.begin().await?;
    let mut room = Draft::<PlaceBook>::open(&mut tx, id(GEL_ROOM), now).await?;
    for (no, hours) in (12..=156_i64).rev().step_by(12).enumerate() {
        let temp_c = if (78..=84).contains(&hours) { 30.6 } else { 23.0 + (no % 3) as f64 * 0.4 };
        let at = now.checked_sub(SignedDuration::from_hours(hours)).unwrap_or(now);
        let entry = NewEntry::now(id(&format!("gel room {no}")), PlaceKind::Temperature, json!({ "temp_c": temp_c }));
        let writing = Writing::of(crew.state, crew.one(Role::Applicator), at);
        room.write(&writing, &mut tx, entry).await?;
    }
    room.store(&mut tx).await?;
    Ok(tx.commit().await?)
}

/// The crew goes through the lists of a batch: takes lots, received when the stores have none, and does every item.
/// For tests and measurements on the demo, where the lists are not what is looked at.
pub async fn make_ready(state: &crate::state::State, book: Uuid) -> Result<(), Problem> {
    let crew = Crew::known(state).await?;
    let now = state.clock.now();
    let mut job = Job::resume(&crew, &format!("ready/{book}"), book, now).await?;
    let Some(aim) = job.record().aim().cloned() else { return Err(Problem::NotFound("batch")) };
    let sheet =
        sqlx::query_scalar!("select sheet_id from sheet_version where id = $1", aim.sheet_version).fetch_one(&state.db).await?;
    for item in &aim.items {
        let What::Lot { component } = item.what else {
            job.tick(item).await?;
            continue;
        };
        let waiting = first_in(&mut *state.db.acquire().await?, sheet, component, state.shop_day()).await?;
        let code = match waiting {
            Some(code) => code,
            None => {
                let code = format!("M-{}", component.word());
                let today = state.shop_day();
                let payload = json!({
                    "code": code, "sheet": sheet, "component": component, "received": today, "expires": days(today, 300),
                    "container_g": 20_000.0, "containers_count": 10
                });
                let coming = NewEntry::now(id(&format!("lot/{sheet}/{code}")), LotKind::Received, payload);
                receive(&Writing::of(state, crew.one(Role::Lead), now), coming).await?;
                code
            }
        };
        job.write("take_lot", json!({ "component": component, "lot": code })).await?;
    }
    job.done().await
}
