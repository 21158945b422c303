//! The passes of a coat: zone by zone, by time and by look, with what happens between them.

mod events;
mod film;
mod order;
mod paint;
mod part;
mod properties;

use crate::book::*;
use level_keel_core::batch::view::{PassBoard, SprayView, Viewer};
use level_keel_core::batch::{Case, EntryKind, whole};
use level_keel_core::people::Role;
use serde_json::{Value, json};
use uuid::Uuid;

pub const TOWER: u128 = 51;
pub const HULL: u128 = 52;
pub const SKIRT: u128 = 53;

/// Three zones of 4 m² each, of a sheet with these changes.
pub fn three_zones(changes: Value) -> Book {
    let zone = |id: u128, name: &str, place: u32| json!({ "id": Uuid::from_u128(id), "name": name, "area_m2": 4.0, "area_assumed": false, "place": place });
    let zones = [zone(TOWER, "tower", 1), zone(HULL, "hull", 2), zone(SKIRT, "skirt", 3)];
    let sheet = with(sheet(), changes);
    let wet_um = sheet["wet_um"].clone();
    Book::begun_with(sheet, json!({ "zones": zones, "area_m2": 12.0, "wet_um": wet_um }))
}

/// The same with its pot on the gun.
pub fn spraying(changes: Value) -> Book {
    let mut book = three_zones(changes);
    book.ready();
    book.mixed(328.0);
    book.pass(25.0).write(EntryKind::StartSpraying, on()).unwrap();
    book
}

pub fn spray(book: &Book) -> SprayView {
    let viewer = Viewer { writer: writer(Role::Lead), comb_um: (1..25).map(|t| f64::from(t) * MIL).collect(), scale_g: 1.0 };
    whole(Uuid::from_u128(9), &Case::alone(&book.record()), &viewer, book.now).expect("a begun batch").spray
}

pub fn board(book: &Book) -> PassBoard {
    spray(book).board
}

pub fn stamp(book: &mut Book, zone: u128) -> Uuid {
    book.write(EntryKind::Pass, json!({ "charge": POT, "zones": [Uuid::from_u128(zone)] })).unwrap()
}

pub fn next(book: &Book) -> Option<String> {
    board(book).next.map(|n| n.title)
}
