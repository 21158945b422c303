//! Records with a cause planted in them: a batch sprayed as it should be, and one thing about it that was not.

use crate::book::*;
use jiff::{SignedDuration, Timestamp};
use level_keel_core::batch::EntryKind;
use level_keel_core::batch::beside::GoodSetUp;
use level_keel_core::batch::diagnosis::RigTold;
use level_keel_core::batch::gates;
use level_keel_core::people::Role;
use level_keel_core::quantity::Prefs;
use level_keel_core::recoat::{CoatBeneath, CoatLink, RecoatTimes};
use level_keel_core::rig_book::{Cared, RigEntry, TipFlow};
use serde_json::{Value, json};
use uuid::Uuid;

pub const HULL: Uuid = Uuid::from_u128(3);

/// How a batch was made; what is not named is as it should be.
#[derive(Clone)]
pub struct Plant {
    pub gun: bool,
    pub substrate: &'static str,
    pub sheet: Value,
    pub air_c: f64,
    pub surface_c: f64,
    pub material_c: f64,
    pub rh_pct: f64,
    pub base_g: f64,
    pub hardener_g: f64,
    pub thinner_g: f64,
    pub stirred: bool,
    pub wait_min: f64,
    pub drum_min: f64,
    /// Items of the lists that fail, and are let go by a lead.
    pub failed: Vec<&'static str>,
    pub pot_kpa: f64,
    pub atomizing_kpa: f64,
    pub catalyst_kpa: f64,
    pub pattern: &'static str,
    pub needle: f64,
    pub nozzle_mm: f64,
    pub supply_kpa: f64,
    /// The comb after each pass, in mil: three readings.
    pub combs: Vec<[f64; 3]>,
    /// Minutes between the passes.
    pub gap_min: f64,
    pub happened: Vec<&'static str>,
    pub doses_g: Vec<f64>,
    pub caught_b_g: f64,
    pub worn: f64,
    pub lot_damaged: bool,
    /// Hours since the coat beneath ended; none: bare.
    pub beneath_h: Option<f64>,
}

impl Plant {
    pub fn pot() -> Plant {
        Plant {
            gun: false,
            substrate: "sanded_steel",
            sheet: json!({}),
            air_c: 21.0,
            surface_c: 20.0,
            material_c: 20.0,
            rh_pct: 55.0,
            base_g: 1900.0,
            hardener_g: 328.0,
            thinner_g: 0.0,
            stirred: true,
            wait_min: 25.0,
            drum_min: 12.0,
            failed: Vec::new(),
            pot_kpa: 70.0,
            atomizing_kpa: 300.0,
            catalyst_kpa: 150.0,
            pattern: "even",
            needle: 4.0,
            nozzle_mm: 1.8,
            supply_kpa: 620.0,
            combs: vec![[3.0; 3], [6.0; 3]],
            gap_min: 10.0,
            happened: Vec::new(),
            doses_g: Vec::new(),
            caught_b_g: 18.0,
            worn: 1.04,
            lot_damaged: false,
            beneath_h: None,
        }
    }

    pub fn gun() -> Plant {
        Plant { gun: true, substrate: "gel_coat_mould", combs: vec![[7.0; 3], [14.0; 3], [20.0; 3]], ..Plant::pot() }
    }

    fn sheet(&self) -> Value {
        let steps = json!([
            { "name": "tack", "passes_count": 1, "wait_s": 300.0, "between_latest_s": 1800.0 },
            { "name": "wet", "passes_count": 2, "between_s": 300.0, "between_latest_s": 1800.0 }
        ]);
        let pot = json!({ "first_pass_max_um": 5.0 * MIL, "wet_um": 6.0 * MIL, "wet_min_um": 5.0 * MIL, "wet_max_um": 8.0 * MIL,
            "thinner_max_pct": 10.0, "thinner_basis": "of_mixed", "thinner_density_kg_l": 0.86, "pot_life_mass_g": 3000.0,
            "recoat_max_s": 259_200.0, "steps": steps, "additives": [{ "name": "grip", "dose_g_l": 20.0 }] });
        let gun = json!({ "charge": "at_gun", "basis": "percent_by_weight", "ratio": null, "tolerance_pct": null, "hardener_pct": 1.8,
            "band_low_pct": 1.2, "band_high_pct": 2.4, "pot_life_s": null, "pot_life_at_c": null, "induction_s": null,
            "catalyst_air_min_kpa": 120.0, "catalyst_air_max_kpa": 180.0, "first_pass_max_um": 12.0 * MIL,
            "wet_um": 20.0 * MIL, "wet_min_um": 15.0 * MIL, "wet_max_um": 25.0 * MIL, "temp_min_c": 16.0, "margin_min_dk": null,
            "drum_stir_min_s": 600.0, "drum_stir_max_s": 900.0, "steps": steps });
        with(with(sheet(), if self.gun { gun } else { pot }), self.sheet.clone())
    }

    fn items(&self) -> Value {
        let tick = |key: &str, text: &str| json!({ "key": key, "group": "surface", "text": text, "what": { "kind": "tick" }, "before": "spray" });
        let mut items = vec![
            tick("water_traps", "Water traps drained"),
            tick("degreased", "Degreased, wiped clean a second time"),
            tick("sanded_body", "Sanded, old edges feathered out"),
        ];
        if self.gun {
            items.push(json!({ "key": "drum_stir", "group": "material", "text": "Stir the drum", "before": "spray",
                "what": { "kind": "timer", "by": "drum_stir", "over": "over-mixed", "least_s": 600.0, "most_s": 900.0 } }));
        }
        json!(items)
    }

    fn fitted(&self) -> Value {
        with(pot_rig(), json!({ "nozzle_mm": self.nozzle_mm, "supply_kpa": self.supply_kpa, "needle_full_count": 4.0 }))
    }

    /// What stands beside it: a good set-up of before, the book of the rig.
    fn beside(&self, now: Timestamp) -> Beside {
        let ago = |hours: f64| now - SignedDuration::from_secs_f64(hours * 3600.0);
        let told = |n: u128, at: Timestamp, said: RigEntry| RigTold { entry: Uuid::from_u128(500 + n), at, said };
        let cared = |item: &str, word: &str| RigEntry::Cared(Cared { item: item.into(), word: word.into(), was_new: false });
        let flow = |ml: f64| RigEntry::TipFlow(TipFlow { pot_kpa: 100.0, caught_ml: ml, caught_watch_s: 30.0 });
        let mut rig_told = vec![told(1, ago(900.0), flow(200.0)), told(2, ago(20.0), flow(200.0 * self.worn))];
        rig_told.push(told(3, ago(3.0), cared("cap", "Cap wiped")));
        if !self.failed.contains(&"water_traps") {
            rig_told.push(told(4, ago(2.0), cared("traps", "Water traps drained")));
        }
        let good = GoodSetUp {
            number: 3,
            pot_kpa: Some(70.0),
            atomizing_kpa: Some(300.0),
            nozzle_mm: Some(1.8),
            ..GoodSetUp::default()
        };
        let beneath = self.beneath_h.map(|hours| CoatBeneath {
            link: CoatLink { batch: Uuid::from_u128(40), number: 2, coat: "primer".into(), product: "Example primer".into() },
            ended: Some(ago(hours)),
            times: RecoatTimes::of_sheet(&serde_json::from_value(self.sheet()).unwrap()),
            surface: None,
            prepare: None,
        });
        Beside { last_good: vec![good], rig_told, beneath, ..Beside::default() }
    }

    /// The batch as it was made, and what stands beside it.
    pub fn made(&self) -> (Book, Beside) {
        let begin = json!({ "substrate": self.substrate, "items": self.items(), "zones": [{ "id": HULL, "name": "hull", "area_m2": 10.0, "place": 1 }] });
        let mut book = Book::begun_with(self.sheet(), begin);
        let beside = self.beside(book.now);
        let read =
            json!({ "air_c": self.air_c, "surface_c": self.surface_c, "material_c": self.material_c, "rh_pct": self.rh_pct });
        book.write(EntryKind::Conditions, read.clone()).unwrap();
        book.write(EntryKind::Guards, json!({ "hazards": ["solvent"] })).unwrap();
        let lot = json!({ "id": Uuid::from_u128(60), "code": "H-1", "stand": { "received": true, "certified": true,
            "damaged": if self.lot_damaged { Some("lid sprung") } else { None }, "expires_at": "2027-01-01T00:00:00Z" } });
        book.write(EntryKind::TakeLot, json!({ "component": "hardener", "lot": lot })).unwrap();
        for key in ["water_traps", "degreased", "sanded_body"] {
            let did = if self.failed.contains(&key) { "failed" } else { "done" };
            book.write(EntryKind::Tick, json!({ "item": key, "did": did })).unwrap();
        }
        if self.gun {
            book.write(EntryKind::Tick, json!({ "item": "drum_stir", "did": "start" })).unwrap();
            book.pass(self.drum_min).write(EntryKind::Tick, json!({ "item": "drum_stir", "did": "stop" })).unwrap();
        }
        book.write(EntryKind::ChooseRig, json!({ "rig": Uuid::from_u128(30), "fitted": self.fitted() })).unwrap();
        let mut set = json!({ "pot_kpa": self.pot_kpa, "atomizing_kpa": self.atomizing_kpa, "pattern": self.pattern, "needle_turns_count": self.needle });
        if self.gun {
            set["catalyst_kpa"] = self.catalyst_kpa.into();
        }
        book.write(EntryKind::SetUp, set).unwrap();
        self.mixed(&mut book);
        self.let_go(&mut book, &beside);
        // Held by something nobody may let go it is sprayed all the same: a pass is a fact.
        let started = book.write_beside(&beside, EntryKind::StartSpraying, on());
        assert!(
            started.is_ok() || !self.stirred || self.wait_min > 200.0 || self.lot_damaged || self.caught_b_g != 18.0,
            "{started:?}"
        );
        self.sprayed(&mut book, &read);
        (book, beside)
    }

    fn mixed(&self, book: &mut Book) {
        if self.gun {
            book.write(EntryKind::OpenCharge, json!({ "charge": POT, "no": 1, "kind": "at_gun", "wanted_ml": 5800.0 })).unwrap();
            let caught = json!({ "charge": POT, "a_g": 1000.0, "b_g": self.caught_b_g, "resolution_g": 0.1 });
            book.write(EntryKind::RatioCheck, caught).unwrap();
            return;
        }
        book.write(EntryKind::OpenCharge, json!({ "charge": POT, "no": 1, "kind": "pot", "wanted_ml": 1700.0 })).unwrap();
        book.pour("base", self.base_g).unwrap();
        let _held = book.write(EntryKind::Combine, on());
        book.pass(2.0).pour("hardener", self.base_g + self.hardener_g).unwrap();
        if self.stirred {
            book.pass(3.0).write(EntryKind::Stirred, on()).unwrap();
        }
        if self.thinner_g > 0.0 {
            book.pour("thinner", self.base_g + self.hardener_g + self.thinner_g).unwrap();
        }
        for dose_g in &self.doses_g {
            let fill = json!({ "charge": POT, "into": "pressure_pot", "fill_ml": 500.0, "dose_g": dose_g, "stirred": true, "strained": false });
            book.pass(1.0).write(EntryKind::Fill, fill).unwrap();
        }
        book.pass(self.wait_min);
    }

    /// A lead lets everything go that may be let go.
    fn let_go(&self, book: &mut Book, beside: &Beside) {
        let record = book.record();
        let holds = gates::all(&Case::new(&record, beside), book.now, Prefs::METRIC);
        for hold in holds.into_iter().filter(|h| h.released.is_none() && h.severity == gates::Severity::Hold) {
            let release =
                json!({ "gate": hold.gate, "charge": hold.charge, "item": hold.item, "trouble": hold.trouble, "reason": "seen" });
            let release = with(release, book.seen());
            // What is not reached yet is not held yet.
            let _ = book.written_beside(Role::Lead, beside, EntryKind::Release, release);
        }
    }

    fn sprayed(&self, book: &mut Book, read: &Value) {
        let teeth: Vec<f64> = (1..40).map(|t| f64::from(t) * MIL).collect();
        for (i, combs) in self.combs.iter().enumerate() {
            if i > 0 {
                book.pass(self.gap_min);
                book.write(EntryKind::Conditions, read.clone()).unwrap();
            }
            book.write(EntryKind::Pass, json!({ "charge": POT, "zones": [HULL], "used_ml": 300.0 })).unwrap();
            for tooth in combs {
                let comb = json!({ "zone": HULL, "tooth_um": tooth * MIL, "teeth_um": teeth, "of": "total" });
                book.pass(0.2).write(EntryKind::Comb, comb).unwrap();
            }
        }
        for what in &self.happened {
            book.write(EntryKind::Happening, json!({ "what": what, "zone": HULL })).unwrap();
        }
        let _ = book.pass(2.0).write(EntryKind::CloseCharge, json!({ "charge": POT, "how": "emptied" }));
    }
}
