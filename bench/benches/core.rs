//! Core alone: a book folded and seen, a plan, a ratio with its corners, a text read.

use criterion::{Criterion, criterion_group, criterion_main};
use jiff::Timestamp;
use level_keel_core::batch::view::{Viewer, view, whole};
use level_keel_core::batch::{Case, Entry, EntryKind, Record, StationName};
use level_keel_core::book::fold;
use level_keel_core::delivery::{Fluid, FluidLine};
use level_keel_core::mixing::{Component, Weighed, b_per_a, plan};
use level_keel_core::people::Role;
use level_keel_core::people::Writer;
use level_keel_core::quantity::{Prefs, QuantityKind, parse};
use level_keel_core::ratio_check::{Ledger, LedgerFigure, LedgerProof, ProofKind, Trend};
use level_keel_core::sheets::Sheet;
use level_keel_core::verdict::Verdict;
use serde_json::{Value, json};
use std::hint::black_box;
use uuid::Uuid;

fn sheet() -> Value {
    json!({
        "name": "Bench primer", "label": "Primer", "charge": "pot", "base_density_kg_l": 1.42, "solids_pct": 62.0,
        "has_hardener": true, "basis": "by_volume", "ratio": 4.0, "hardener_density_kg_l": 0.98, "tolerance_pct": 5.0,
        "thinner_max_pct": 10.0, "thinner_basis": "of_mixed", "thinner_density_kg_l": 0.87,
        "pot_life_s": 14400.0, "pot_life_at_c": 20.0, "induction_s": 1200.0,
        "wet_um": 101.6, "wet_min_um": 76.2, "wet_max_um": 152.4, "temp_min_c": 10.0, "temp_max_c": 35.0,
        "margin_min_dk": 3.0, "rh_max_pct": 85.0, "stream": "industrial", "hazards": ["solvent"]
    })
}

/// A book of a full day: four pots, each poured, stirred, sprayed in eight passes with a comb after each.
fn book() -> Vec<Entry> {
    let id = Uuid::from_u128;
    let mut said = vec![
        (
            EntryKind::Begin,
            json!({ "number": 1, "sheet_version": id(1), "sheet_edition": 1, "sheet": sheet(), "part": id(2), "part_name": "Buoy",
            "part_label": "Buoy", "zones": [], "coat": id(3), "coat_name": "primer", "area_m2": 22.8, "wet_um": 101.6, "transfer_pct": 65.0, "thinner_pct": 0.0 }),
        ),
        (EntryKind::Conditions, json!({ "air_c": 21.0, "surface_c": 20.0, "material_c": 20.0, "rh_pct": 60.0 })),
        (EntryKind::Guards, json!({ "hazards": ["solvent"] })),
    ];
    let teeth: Vec<f64> = (1..=20).map(|n| f64::from(n) * 25.4).collect();
    for pot in 0..4_u128 {
        let charge = id(100 + pot);
        said.push((EntryKind::OpenCharge, json!({ "charge": charge, "no": pot as i64 + 1, "kind": "pot", "wanted_ml": 1900.0 })));
        said.push((EntryKind::Pour, json!({ "charge": charge, "component": "base", "reading_g": 2158.0, "resolution_g": 1.0 })));
        said.push((EntryKind::Combine, json!({ "charge": charge })));
        said.push((
            EntryKind::Pour,
            json!({ "charge": charge, "component": "hardener", "reading_g": 2530.0, "resolution_g": 1.0 }),
        ));
        said.push((EntryKind::Stirred, json!({ "charge": charge })));
        said.push((EntryKind::StartSpraying, json!({ "charge": charge })));
        for pass in 0..8 {
            said.push((EntryKind::Pass, json!({ "charge": charge, "zones": [], "used_ml": 200.0 })));
            said.push((EntryKind::Comb, json!({ "tooth_um": teeth[pass % 4], "teeth_um": teeth, "of": "total" })));
        }
    }
    let entry = |(seq, (kind, payload)): (i64, (EntryKind, Value))| Entry {
        id: id(1000 + seq as u128),
        seq,
        kind,
        version: 1,
        payload,
        who: id(9),
        by: "Hand".into(),
        happened: Timestamp::from_second(1_700_000_000 + seq * 60).expect("a time"),
        arrived: Timestamp::from_second(1_700_000_000 + seq * 60).expect("a time"),
        hash: format!("{seq:064}"),
    };
    (1..).zip(said).map(entry).collect()
}

fn core(c: &mut Criterion) {
    let entries = book();
    c.bench_function(&format!("fold a book of {} entries", entries.len()), |b| b.iter(|| fold::<Record>(black_box(&entries))));
    let record: Record = fold(&entries);
    let case = Case::alone(&record);
    let viewer = Viewer {
        writer: Writer { id: Uuid::from_u128(9), role: Role::Lead, prefs: Prefs::default(), works_alone: false },
        comb_um: (1..=20).map(|n| f64::from(n) * 25.4).collect(),
        scale_g: 0.1,
    };
    let now = Timestamp::from_second(1_700_008_000).expect("a time");
    c.bench_function("see it", |b| b.iter(|| whole(Uuid::nil(), black_box(&case), &viewer, now)));
    // What an answer while typing is made of: the head and the station it was typed at.
    for at in [StationName::Mix, StationName::Set] {
        c.bench_function(&format!("see it at {at:?}"), |b| {
            b.iter(|| view(Uuid::nil(), black_box(&case), &viewer, now, Some(at)))
        });
    }
    let sheet: Sheet = serde_json::from_value(sheet()).expect("a sheet");
    c.bench_function("plan a pot", |b| b.iter(|| plan(black_box(&sheet), 1900.0, 5.0, Prefs::METRIC)));
    let pours: Vec<Weighed> = (0..12)
        .map(|n| Weighed {
            component: if n % 2 == 0 { Component::Base } else { Component::Hardener },
            reading_g: f64::from(n + 1) * 100.0,
            tared: false,
            resolution_g: 1.0,
            ..Weighed::default()
        })
        .collect();
    c.bench_function("ratio of twelve pours, every corner", |b| b.iter(|| b_per_a(black_box(&pours))));
    c.bench_function("read “5 ft 6 1/2 in”", |b| {
        b.iter(|| parse(black_box("5 ft 6 1/2 in"), QuantityKind::Length, Prefs::METRIC))
    });
}

/// The lines of `bench/reference_brentq.py`, laminar and turbulent.
fn delivery(c: &mut Criterion) {
    let line = |hose_bore_mm, hose_length_mm, lift_mm, nozzle_mm| FluidLine { hose_bore_mm, hose_length_mm, lift_mm, nozzle_mm };
    let paint = |viscosity_mpa_s, density_kg_l| Fluid { viscosity_mpa_s, density_kg_l, flow_index: 1.0 };
    let cases = [
        (line(9.525, 7620.0, 500.0, 1.8), paint(100.0, 1.2), 69.0),
        (line(6.35, 15_240.0, 0.0, 1.4), paint(30.0, 0.9), 120.0),
        (line(12.7, 10_668.0, 1000.0, 2.2), paint(400.0, 1.4), 200.0),
        (line(6.35, 15_240.0, 0.0, 4.0), paint(1.0, 1.0), 300.0),
        (line(9.525, 15_240.0, 0.0, 5.0), paint(0.8, 0.8), 400.0),
    ];
    c.bench_function("five fluid lines solved", |b| {
        b.iter(|| cases.iter().map(|(l, f, kpa)| l.at(black_box(f), *kpa).flow_ml_min).sum::<f64>())
    });
    let gel = Fluid { viscosity_mpa_s: 8000.0, density_kg_l: 1.2, flow_index: 0.45 };
    c.bench_function("a power law solved", |b| b.iter(|| cases[0].0.at(black_box(&gel), 300.0)));
}

/// A ledger of ten thousand proofs: a lot every hundred, one catch an hour.
fn ledger(c: &mut Criterion) {
    const PROOFS: usize = 10_000;
    let figure = |n: usize| {
        let value = 8.0 + 0.0004 * (n % 100) as f64 + 0.03 * ((n * 7919) % 97) as f64 / 97.0;
        LedgerFigure { lo: value - 0.04, value, hi: value + 0.04, least: 8.0 / 1.05, most: 8.0 / 0.95, percent: false }
    };
    let proof = |n: usize| LedgerProof {
        entry: Uuid::from_u128(n as u128),
        kind: ProofKind::TwoCatches,
        at: Timestamp::from_second(1_700_000_000 + 3600 * n as i64).expect("a time"),
        by: "Ansa Reef".into(),
        number: Some(n as i64 / 4),
        lot_a: Some(format!("K-{}", n / 100)),
        lot_b: None,
        a_kpa: Some(90.0),
        b_kpa: Some(55.0),
        setting_count: None,
        temp_c: None,
        instrument: None,
        resolution_g: Some(0.1),
        a_g: Some(40.0),
        b_g: Some(5.0),
        caught_watch_s: Some(15.0),
        figure: Some(figure(n)),
        verdict: Verdict::In,
        sprayed_kg: Some((n % 4) as f64),
        bond: None,
        two_scales: false,
    };
    let points: Vec<(f64, f64)> = (0..PROOFS).map(|n| (n as f64, figure(n).value)).collect();
    c.bench_function("the trend of 10,000 catches", |b| b.iter(|| Trend::of(black_box(&points))));
    let ledger = Ledger { proofs: std::sync::Arc::new((0..PROOFS).map(proof).collect()), ..Ledger::default() };
    let now = Timestamp::from_second(1_800_000_000).expect("a time");
    c.bench_function("a page of a ledger of 10,000 proofs", |b| b.iter(|| black_box(&ledger).page(now, 0, false, Prefs::METRIC)));
    c.bench_function("the same with every proof drawn", |b| b.iter(|| black_box(&ledger).page(now, 0, true, Prefs::METRIC)));
}

criterion_group!(benches, core, delivery, ledger);
criterion_main!(benches);
