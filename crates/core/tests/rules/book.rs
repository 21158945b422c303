//! A batch book in memory that keeps the rules as the server does, for every test that writes in one.

use jiff::{SignedDuration, Timestamp};
pub use level_keel_core::batch::{Case, beside::Beside};
use level_keel_core::batch::{EntryKind, RULES, Record};
use level_keel_core::book::{Asking, InMemory, Wanted};
use level_keel_core::people::{Role, Writer};
use level_keel_core::quantity::Prefs;
use level_keel_core::refusal::Refusal;
use level_keel_core::worded::VariantArray;
use level_keel_core::worded::Worded;
use serde_json::{Value, json};
use std::ops::{Deref, DerefMut};
use uuid::Uuid;

pub const POT: Uuid = Uuid::from_u128(7);
pub const MIL: f64 = 25.4;
pub const PSI: f64 = 6.894_757_293_168_361;

pub fn person(role: Role) -> Uuid {
    Uuid::from_u128(100 + Role::VARIANTS.iter().position(|r| *r == role).unwrap_or(0) as u128)
}

pub fn writer(role: Role) -> Writer {
    Writer { id: person(role), role, prefs: Prefs::METRIC, works_alone: false }
}

/// A book in memory, with the hands of a clock.
pub struct Book {
    pub kept: InMemory<Record>,
    pub now: Timestamp,
}

impl Deref for Book {
    type Target = InMemory<Record>;

    fn deref(&self) -> &InMemory<Record> {
        &self.kept
    }
}

impl DerefMut for Book {
    fn deref_mut(&mut self) -> &mut InMemory<Record> {
        &mut self.kept
    }
}

impl Book {
    pub fn begun(sheet: Value) -> Book {
        Book::begun_with(sheet, json!({}))
    }

    /// Begun, ready, and a rig chosen.
    pub fn with_rig(sheet: Value, rig: Value) -> Book {
        let mut book = Book::begun(sheet);
        book.ready();
        book.write(EntryKind::ChooseRig, json!({ "rig": Uuid::from_u128(30), "fitted": rig })).unwrap();
        book
    }

    /// Begun with other figures.
    pub fn begun_with(sheet: Value, with: Value) -> Book {
        let mut book = Book { kept: InMemory::new(Uuid::from_u128(6)), now: "2026-05-04T08:00:00Z".parse().unwrap() };
        let mut begin = json!({
            "number": 12, "sheet_version": Uuid::from_u128(1), "sheet_edition": 1, "sheet": sheet, "part": Uuid::from_u128(2),
            "part_name": "Buoy 5", "part_label": "Buoy 5", "zones": [{ "id": Uuid::from_u128(3), "name": "hull" }],
            "coat": Uuid::from_u128(4), "coat_name": "primer", "area_m2": 10.0, "wet_um": 4.0 * MIL, "transfer_pct": 60.0, "thinner_pct": 0.0,
            "rules": RULES, "zone": "Europe/Lisbon"
        });
        for (field, value) in with.as_object().into_iter().flatten() {
            begin[field] = value.clone();
        }
        book.write(EntryKind::Begin, begin).unwrap();
        book
    }

    pub fn pass(&mut self, minutes: f64) -> &mut Self {
        self.now += SignedDuration::from_secs_f64(minutes * 60.0);
        self
    }

    pub fn write_as(&mut self, role: Role, kind: EntryKind, payload: Value) -> Result<Uuid, Refusal> {
        self.written(role, &Beside::default(), kind, payload)
    }

    /// Written by an applicator of a shop that knows this.
    pub fn write_beside(&mut self, beside: &Beside, kind: EntryKind, payload: Value) -> Result<Uuid, Refusal> {
        self.written(Role::Applicator, beside, kind, payload)
    }

    /// Written by somebody of this role in a shop that knows this.
    pub fn written_beside(&mut self, role: Role, beside: &Beside, kind: EntryKind, payload: Value) -> Result<Uuid, Refusal> {
        self.written(role, beside, kind, payload)
    }

    fn written(&mut self, role: Role, beside: &Beside, kind: EntryKind, payload: Value) -> Result<Uuid, Refusal> {
        let id = Uuid::from_u128(1000 + self.entries.len() as u128);
        let (writer, now) = (writer(role), self.now);
        let asked = Asking { writer: &writer, beside, now };
        self.kept.write(Wanted { id, kind, payload, happened: now }, role.word(), &asked)?;
        Ok(id)
    }

    pub fn write(&mut self, kind: EntryKind, payload: Value) -> Result<Uuid, Refusal> {
        self.write_as(Role::Applicator, kind, payload)
    }

    pub fn record(&self) -> Record {
        self.kept.fold()
    }

    pub fn ready(&mut self) {
        self.write(EntryKind::Conditions, json!({ "air_c": 21.0, "surface_c": 20.0, "material_c": 20.0, "rh_pct": 55.0 }))
            .unwrap();
        self.write(EntryKind::Guards, json!({ "hazards": ["solvent"] })).unwrap();
    }

    pub fn pour(&mut self, component: &str, reading_g: f64) -> Result<Uuid, Refusal> {
        self.write(
            EntryKind::Pour,
            json!({ "charge": POT, "component": component, "reading_g": reading_g, "resolution_g": 1.0, "lot": null }),
        )
    }

    /// A pot of about 1.7 L at 4:1 by volume: 1,900 g base, 328 g hardener.
    pub fn mixed(&mut self, hardener_g: f64) {
        self.write(EntryKind::OpenCharge, json!({ "charge": POT, "no": 1, "kind": "pot", "wanted_ml": 1700.0 })).unwrap();
        self.pour("base", 1900.0).unwrap();
        self.write(EntryKind::Combine, on()).unwrap();
        self.pass(2.0).pour("hardener", 1900.0 + hardener_g).unwrap();
        self.pass(3.0).write(EntryKind::Stirred, on()).unwrap();
    }

    pub fn sprayed(&mut self) {
        self.pass(25.0).write(EntryKind::StartSpraying, on()).unwrap();
        self.write(EntryKind::Pass, json!({ "charge": POT, "zones": [], "used_ml": 1600.0 })).unwrap();
        self.pass(2.0).film(4.0);
        self.write(EntryKind::CloseCharge, json!({ "charge": POT, "how": "emptied" })).unwrap();
    }

    /// Three readings at three places, as they prove the total of a zone.
    pub fn film(&mut self, tooth: f64) {
        for _ in 0..3 {
            self.comb(tooth).unwrap();
        }
    }

    pub fn comb(&mut self, tooth: f64) -> Result<Uuid, Refusal> {
        let teeth: Vec<f64> = (1..12).map(|t| f64::from(t) * MIL).collect();
        self.write(EntryKind::Comb, json!({ "zone": null, "tooth_um": tooth * MIL, "teeth_um": teeth, "of": "total" }))
    }

    pub fn seen(&self) -> Value {
        json!({ "seen_seq": self.record().log.head_seq })
    }
}

/// A pot of eighty psi on 25 ft of 3/8 in, the gun half a metre above it, through 1.8 mm.
pub fn pot_rig() -> Value {
    json!({ "name": "Buoy pot", "kind": "pot", "rating_kpa": 80.0 * PSI, "relief_kpa": 80.0 * PSI, "two_regulators": true, "vent_valve": true,
        "hose_bore_mm": 9.525, "hose_length_mm": 7620.0, "lift_mm": 500.0, "gun": "Pot gun", "class": "conventional", "nozzle_mm": 1.8,
        "spare_mm": [1.2, 2.2], "air_nl_min": 340.0, "air_bore_mm": 7.94, "air_length_mm": 7620.0, "supply_kpa": 620.0,
        "compressor_nl_min": 620.0, "printed_air_kpa": 60.0 * PSI })
}

pub fn on() -> Value {
    json!({ "charge": POT })
}

pub fn sheet() -> Value {
    json!({
        "name": "Example primer", "label": "Primer", "charge": "pot", "base_density_kg_l": 1.42, "solids_pct": 62.0,
        "has_hardener": true, "basis": "by_volume", "ratio": 4.0, "hardener_density_kg_l": 0.98, "tolerance_pct": 5.0,
        "pot_life_s": 14400.0, "pot_life_at_c": 20.0, "induction_s": 1200.0, "recoat_min_s": 21600.0, "recoat_at_c": 20.0,
        "wet_um": 4.0 * MIL, "wet_min_um": 3.0 * MIL, "wet_max_um": 6.0 * MIL, "temp_min_c": 10.0, "temp_max_c": 35.0,
        "margin_min_dk": 3.0, "rh_max_pct": 85.0, "stream": "industrial", "hazards": ["solvent"]
    })
}

/// A body with some of its fields changed.
pub fn with(mut body: Value, changes: Value) -> Value {
    for (key, value) in changes.as_object().unwrap() {
        body[key] = value.clone();
    }
    body
}

#[track_caller]
pub fn refused(result: Result<Uuid, Refusal>, code: &str) -> Refusal {
    let refusal = result.expect_err("must be refused");
    assert_eq!(refusal.code, code, "{}", refusal.text);
    refusal
}
