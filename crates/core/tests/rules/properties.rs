//! Properties over any input.

use jiff::civil::date;
use jiff::{SignedDuration, Timestamp};
use level_keel_core::batch::Payload;
use level_keel_core::batch::{Entry, EntryKind, Record};
use level_keel_core::book::{fold, fold_on};
use level_keel_core::conditions::{Gate, Readings, dew_point_c, judge, troubles};
use level_keel_core::mixing::{
    Component, Cup, PlannedPour, PotLimits, RescueTo, Weighed, b_per_a, plan, rescues, retarget, said, split, to_go, total_g,
};
use level_keel_core::pot_life::{HeldTemperature, age};
use level_keel_core::quantity::{NumberFormat, Prefs, QuantityKind, UnitSet, parse, resolve, show};
use level_keel_core::sheets::Sheet;
use level_keel_core::sheets::times::Curve;
use level_keel_core::stores::fifo::{Waiting, first};
use level_keel_core::stores::lot::left_g;
use level_keel_core::verdict::Verdict;
use level_keel_core::weighing::{Grammar, OWN_PATTERN};
use level_keel_core::worded::VariantArray;
use proptest::prelude::*;
use serde_json::Value;
use uuid::Uuid;

fn prefs() -> impl Strategy<Value = Prefs> {
    let units = prop_oneof![Just(UnitSet::Us), Just(UnitSet::Metric), Just(UnitSet::Mixed)];
    let numbers = prop_oneof![Just(NumberFormat::Point), Just(NumberFormat::Comma)];
    (units, numbers).prop_map(|(units, numbers)| Prefs { units, numbers })
}

/// 4:1 by volume, thinned to 20 % of mixed at most.
fn sheet() -> Sheet {
    serde_json::from_value(serde_json::json!({
        "name": "Example primer", "label": "Primer", "charge": "pot", "base_density_kg_l": 1.42, "solids_pct": 62.0,
        "has_hardener": true, "basis": "by_volume", "ratio": 4.0, "hardener_density_kg_l": 0.98, "tolerance_pct": 5.0,
        "thinner_max_pct": 20.0, "thinner_basis": "of_mixed", "thinner_density_kg_l": 0.87,
        "pot_life_s": 14400.0, "pot_life_at_c": 20.0, "wet_um": 101.6, "wet_min_um": 76.2, "wet_max_um": 152.4,
        "temp_min_c": 10.0, "temp_max_c": 35.0, "stream": "industrial", "hazards": []
    }))
    .expect("a sheet")
}

fn kind() -> impl Strategy<Value = QuantityKind> {
    (0..QuantityKind::VARIANTS.len()).prop_map(|i| QuantityKind::VARIANTS[i])
}

fn json() -> impl Strategy<Value = Value> {
    let leaf = prop_oneof![
        Just(Value::Null),
        any::<bool>().prop_map(Value::from),
        any::<f64>().prop_map(|n| serde_json::json!(n)),
        ".{0,12}".prop_map(Value::from),
    ];
    leaf.prop_recursive(3, 24, 4, |inner| {
        prop_oneof![
            prop::collection::vec(inner.clone(), 0..4).prop_map(Value::from),
            prop::collection::btree_map("(charge|reading_g|tooth_um|teeth_um|air_c|text|of|zones|[a-z_]{1,8})", inner, 0..5)
                .prop_map(|m| Value::Object(m.into_iter().collect())),
        ]
    })
}

/// Two thousand in the tests; `script/fuzz` asks for a million.
fn cases() -> u32 {
    std::env::var("PROPTEST_CASES").ok().and_then(|n| n.parse().ok()).unwrap_or(2000)
}

proptest! {
    #![proptest_config(ProptestConfig { failure_persistence: None, cases: cases(), ..ProptestConfig::default() })]

    #[test]
    fn the_parser_never_panics_and_never_gives_what_is_not_a_number(text in ".{0,40}", kind in kind(), prefs in prefs()) {
        if let Ok(value) = parse(&text, kind, prefs) {
            prop_assert!(value.is_finite());
        }
    }

    #[test]
    fn near_misses_never_panic(text in "[-+0-9.,/: ehminspftozglbarkPa°CF%½²]{0,16}", kind in kind(), prefs in prefs()) {
        let _ = parse(&text, kind, prefs);
    }

    #[test]
    fn what_is_shown_is_read_back_within_a_displayed_digit(value in -50.0..50_000.0f64, kind in kind(), prefs in prefs()) {
        // Time is shown in whole minutes, and a ratio or a mass is never negative.
        let most = match kind {
            QuantityKind::Density => 3.5,
            QuantityKind::Temperature => 80.0,
            QuantityKind::TempDiff => 20.0,
            QuantityKind::Percent | QuantityKind::Ratio => 300.0,
            _ => 50_000.0,
        };
        let value = if kind == QuantityKind::Temperature { value.min(most) } else { value.abs() % most };
        prop_assume!(kind != QuantityKind::Ratio || value > 0.01);
        let shown = show(value, kind, prefs);
        prop_assert!(shown.figure.chars().count() <= 8 || kind == QuantityKind::Time, "{} is too long", shown.figure);
        let text = if kind == QuantityKind::Ratio { shown.figure.clone() } else { shown.text.clone() };
        let back = parse(&text, kind, prefs).map_err(|e| TestCaseError::fail(format!("{text}: {e}")))?;
        // One digit of what was shown, in the base unit; for times a minute, and a tenth of a day from three days.
        let digit = match kind {
            QuantityKind::Time if value >= 259_200.0 => 8640.0,
            QuantityKind::Time => 60.0,
            _ => {
                let decimals = shown.figure.split_once(['.', ',']).map_or(0, |(_, d)| d.len());
                let step = if decimals == 0 { "1".to_string() } else { format!("0.{}1", "0".repeat(decimals - 1)) };
                let step = if prefs.numbers == NumberFormat::Comma { step.replace('.', ",") } else { step };
                let unit = if kind == QuantityKind::Ratio { String::new() } else { format!(" {}", shown.unit) };
                let zero = parse(&format!("0{unit}"), kind, prefs).unwrap_or(0.0);
                (parse(&format!("{step}{unit}"), kind, prefs).unwrap_or(1.0) - zero).abs()
            }
        };
        prop_assert!((back - value).abs() <= digit, "{value} shown as {text} is read as {back}");
    }

    #[test]
    fn a_figure_is_never_longer_than_eight_characters(mantissa in -10.0..10.0f64, power in -9..15i32, kind in kind(), prefs in prefs()) {
        let shown = show(mantissa * 10f64.powi(power), kind, prefs);
        prop_assert!(shown.figure.chars().count() <= 8 || kind == QuantityKind::Time, "{kind:?}: {} is too long", shown.figure);
    }

    #[test]
    fn go_is_go_by_either_way_of_asking(
        air in -10.0..50.0f64, surface in -10.0..50.0f64, material in 0.0..45.0f64, rh in 5.0..100.0f64,
        margin in prop::option::of(0.0..8.0f64), most in prop::option::of(40.0..95.0f64)
    ) {
        let sheet = serde_json::json!({
            "name": "S", "label": "S", "charge": "pot", "base_density_kg_l": 1.2, "solids_pct": 50.0, "has_hardener": false,
            "wet_um": 100.0, "wet_min_um": 80.0, "wet_max_um": 150.0, "temp_min_c": 8.0, "temp_max_c": 35.0,
            "margin_min_dk": margin, "rh_max_pct": most, "stream": "industrial"
        });
        let sheet: Sheet = serde_json::from_value(sheet).expect("a sheet");
        let read = Readings { air_c: air, surface_c: surface, material_c: material, rh_pct: rh };
        let judged = judge(&sheet, &read, Prefs::METRIC);
        prop_assert_eq!(troubles(&sheet, &read).is_empty(), judged.gate == Gate::Go);
        // What the levels draw and what the gate says are one judgement.
        prop_assert_eq!(judged.levels.iter().all(|l| l.word == "in"), judged.gate == Gate::Go);
    }

    #[test]
    fn resolving_any_json_never_panics(mut value in json(), prefs in prefs()) {
        let _ = resolve(&mut value, prefs);
    }

    #[test]
    fn decoding_and_folding_any_payloads_never_panics(payloads in prop::collection::vec((0..EntryKind::VARIANTS.len(), json()), 0..8)) {
        let entries: Vec<Entry> = payloads.into_iter().zip(1..).map(|((kind, payload), seq)| Entry {
            id: Uuid::from_u128(seq as u128),
            seq,
            kind: EntryKind::VARIANTS[kind],
            version: 1,
            payload,
            who: Uuid::nil(),
            by: "someone".into(),
            happened: Timestamp::UNIX_EPOCH,
            arrived: Timestamp::UNIX_EPOCH,
            hash: String::new(),
        }).collect();
        for entry in &entries {
            let _ = Payload::decode(entry.kind, entry.version, &entry.payload);
        }
        let record: Record = fold(&entries);
        prop_assert_eq!(record.log.len(), entries.len());
        // Step by step comes to the same as all at once.
        for n in 1..=entries.len() {
            prop_assert_eq!(fold_on::<Record>(&fold(&entries[..n - 1]), &entries[..n]), fold(&entries[..n]));
        }
    }

    #[test]
    fn a_rescue_never_takes_out_and_lands_on_target(a in 100.0..5000.0f64, b in 10.0..2000.0f64, ratio in 1.0..20.0f64) {
        let plan = [
            PlannedPour { component: Component::Base, mass_g: 1000.0, volume_ml: 1000.0, running_g: 1000.0 },
            PlannedPour { component: Component::Hardener, mass_g: 1000.0 / ratio, volume_ml: 1.0, running_g: 0.0 },
        ];
        let pours = [
            Weighed { component: Component::Base, reading_g: a, tared: false, resolution_g: 0.001, start_g: None },
            Weighed { component: Component::Hardener, reading_g: b, tared: true, resolution_g: 0.001, start_g: None },
        ];
        let go = to_go(&sheet(), &plan, &pours);
        prop_assert!(go.iter().all(|p| p.mass_g >= 0.0));
        let total = |c: Component, i: usize| total_g(&pours, c) + go[i].mass_g;
        let landed = total(Component::Base, 0) / total(Component::Hardener, 1);
        prop_assert!((landed / ratio - 1.0).abs() < 1e-4, "{landed} for {ratio}");
    }

    /// Exact lands on target, least wholly inside; neither ever takes anything out.
    #[test]
    fn every_rescue_lands(over in 0.5..2.0f64, wanted in 300.0..20_000.0f64, d in prop::sample::select(vec![0.1, 0.5, 1.0])) {
        let sheet = sheet();
        let plan = plan(&sheet, wanted, 0.0, Prefs::METRIC).unwrap();
        let at = |component, g: f64| Weighed { component, reading_g: (g / d).round() * d, resolution_g: d, ..Weighed::default() };
        let a = at(Component::Base, plan[0].mass_g);
        let pours = [a, at(Component::Hardener, a.reading_g + plan[1].mass_g * over)];
        for way in rescues(&sheet, &plan, &pours, over < 1.0) {
            prop_assert!(way.adds.iter().all(|p| p.mass_g > 0.0), "{way:?}");
            let last = pours[1].reading_g;
            let after: Vec<Weighed> = pours.iter().copied().chain(way.adds.iter().scan(last, |run, add| {
                *run += add.mass_g;
                Some(Weighed { component: add.component, reading_g: *run, resolution_g: d, ..Weighed::default() })
            })).collect();
            let landed = said(&sheet, b_per_a(&after).unwrap()).unwrap();
            match way.to {
                RescueTo::Exact => prop_assert!((b_per_a(&after).unwrap().value / sheet.hardener().unwrap().b_per_a - 1.0).abs() < 1e-6),
                RescueTo::Least => prop_assert_eq!(landed.tolerance.judge(landed.measured), Verdict::In),
            }
            let target = retarget(&plan, &pours, &way);
            prop_assert!(target.iter().zip(&plan).all(|(t, p)| t.mass_g >= total_g(&pours, p.component) - 1e-9));
        }
    }

    /// What is planned, poured as planned and read back is in, and its ratio that of the sheet.
    #[test]
    fn plan_pour_ratio_comes_round(wanted in 200.0..50_000.0f64, thinner in 0.0..20.0f64) {
        let sheet = sheet();
        let plan = plan(&sheet, wanted, thinner, Prefs::METRIC).unwrap();
        let pours: Vec<Weighed> = plan.iter().map(|p| Weighed { component: p.component, reading_g: p.running_g, resolution_g: 0.01, ..Weighed::default() }).collect();
        let ratio = b_per_a(&pours).unwrap();
        prop_assert!((ratio.value / sheet.hardener().unwrap().b_per_a - 1.0).abs() < 1e-9);
        prop_assert!(rescues(&sheet, &plan, &pours, true).is_empty());
    }

    /// Pots of a split are the need, none over a limit, each mixed before it is sprayed.
    #[test]
    fn splitting_conserves(need in 100.0..200_000.0f64, rate in 50.0..2000.0f64, fill in 500.0..20_000.0f64, life_h in 0.7..8.0f64) {
        let by = PotLimits { rate_ml_min: rate, life_s: Some(life_h * 3600.0), induction_s: 900.0, fill_ml: Some(fill),
            life_mass_g: None, density_kg_l: 1.3, handling_s: 300.0 };
        if let Ok((pots, _)) = split(need, &by, Prefs::METRIC) {
            prop_assert!((pots.iter().map(|p| p.ml).sum::<f64>() / need - 1.0).abs() < 1e-9);
            for p in &pots {
                prop_assert!(p.ml <= fill * (1.0 + 1e-9) && p.mix_by_s < p.from_s && p.to_s <= p.last_call_s.unwrap() + 1e-6);
            }
        }
    }

    /// Any bytes are a reading or a fault.
    #[test]
    fn a_scale_line_never_panics(bytes in prop::collection::vec(any::<u8>(), 0..300), tail in "[-+W=;UMgk0-9. stilovernga]{0,60}") {
        let grammar = Grammar::new(OWN_PATTERN, None).unwrap();
        let _ = grammar.read(&bytes);
        if let Ok(seen) = grammar.read(tail.as_bytes()) {
            prop_assert!(seen.overload || seen.load_g.is_some_and(f64::is_finite));
        }
    }

    /// A cup filled to the level of a volume holds that volume.
    #[test]
    fn a_cup_comes_round(floor in 20.0..400.0f64, taper in 0.0..1.8f64, height in 30.0..600.0f64, part in 0.01..0.99f64) {
        let cup = Cup { floor_mm: floor, rim_mm: floor * (1.0 + taper), height_mm: height };
        let volume = cup.volume_ml(height * part);
        let level = cup.level_mm(volume).unwrap();
        prop_assert!((level / (height * part) - 1.0).abs() < 1e-6, "{level}");
    }

    #[test]
    fn a_ratio_as_weighed_lies_in_its_own_interval(a in 50.0..5000.0f64, b in 1.0..1000.0f64, d in 0.1..5.0f64, tared: bool) {
        let pours = [
            Weighed { component: Component::Base, reading_g: a, tared: false, resolution_g: d, start_g: None },
            Weighed { component: Component::Hardener, reading_g: if tared { b } else { a + b }, tared, resolution_g: d, start_g: None },
        ];
        let m = b_per_a(&pours).expect("both are in");
        prop_assert!(m.lo <= m.value && m.value <= m.hi && m.lo >= 0.0);
    }

    #[test]
    fn age_never_falls(temps in prop::collection::vec(-10.0..45.0f64, 1..6), one in 0..20_000i64, more in 0..20_000i64) {
        let at = |s: i64| Timestamp::UNIX_EPOCH + SignedDuration::from_secs(s);
        let history: Vec<_> = temps.iter().enumerate().map(|(i, t)| HeldTemperature { from: at(i as i64 * 3000), temp_c: *t }).collect();
        let earlier = age(&Curve::through([(20.0, 14_400.0)]).unwrap(), 20.0, &history, at(0), at(one));
        let later = age(&Curve::through([(20.0, 14_400.0)]).unwrap(), 20.0, &history, at(0), at(one + more));
        prop_assert!(later >= earlier);
    }

    /// Dew lies at or under the air, and rises with humidity.
    #[test]
    fn dew_never_lies_over_the_air_and_rises_with_humidity(air in -20.0_f64..60.0, rh in 1.0_f64..99.0, more in 0.01_f64..1.0) {
        let dew = dew_point_c(air, rh);
        prop_assert!(dew <= air + 1e-9, "{dew} over {air}");
        prop_assert!(dew_point_c(air, rh + more) > dew);
        prop_assert!((dew_point_c(air, 100.0) - air).abs() < 1e-6);
    }

    /// First in never offers what nobody may take, and what it offers is the oldest of the rest.
    #[test]
    fn first_in_is_always_fit_and_oldest(
        lots in prop::collection::vec((0_i32..60, prop::option::of(-30_i32..30), any::<bool>(), any::<bool>(), 0_u8..3), 0..12)
    ) {
        let today = date(2026, 6, 1);
        let day = |n: i32| today.saturating_add(jiff::Span::new().days(n));
        let lots: Vec<Waiting> = lots
            .into_iter()
            .enumerate()
            .map(|(i, (ago, expires, quarantined, damaged, left))| Waiting {
                code: format!("L-{i:02}"),
                received: day(-ago),
                expires: expires.map(day),
                quarantined,
                damaged,
                left_g: f64::from(left),
            })
            .collect();
        let fit = |l: &Waiting| !l.quarantined && !l.damaged && l.left_g > 0.0 && l.expires.is_none_or(|e| e >= today);
        match first(&lots, today) {
            Some(lot) => {
                prop_assert!(fit(lot), "{lot:?}");
                prop_assert!(lots.iter().filter(|l| fit(l)).all(|l| l.received >= lot.received));
            }
            None => prop_assert!(lots.iter().all(|l| !fit(l))),
        }
    }

    /// What is left falls by what is taken, never under nothing, and a use taken back gives it back.
    #[test]
    fn stock_falls_by_what_is_taken_and_is_given_back(
        total in 1.0_f64..1e6, taken in prop::collection::vec((0_i64..1000, 0.0_f64..5e4), 0..10), counted in prop::option::of((0_i64..1000, 0.0_f64..1e6))
    ) {
        let at = |s: i64| Timestamp::UNIX_EPOCH + SignedDuration::from_secs(s);
        let uses: Vec<_> = taken.iter().map(|(s, g)| (at(*s), *g)).collect();
        let count = counted.map(|(s, g)| (g, at(s)));
        let left = left_g(Some(total), count, &uses).unwrap();
        prop_assert!(left >= 0.0 && left <= count.map_or(total, |c| c.0));
        for i in 0..uses.len() {
            let mut fewer = uses.clone();
            let (when, grams) = fewer.remove(i);
            let back = left_g(Some(total), count, &fewer).unwrap();
            prop_assert!(back >= left);
            let counts = count.is_none_or(|c| when > c.1);
            if left > 0.0 {
                let given = if counts { grams } else { 0.0 };
                prop_assert!((back - left - given).abs() < 1e-6 * total.max(1.0));
            }
        }
    }

    /// A life never grows with heat, whatever a sheet states that falls with heat.
    #[test]
    fn a_life_falls_as_it_warms(start in 3600.0_f64..1e5, falls in prop::collection::vec(0.2_f64..1.0, 0..4), cold in -10.0_f64..15.0) {
        let mut points = vec![(cold, start)];
        for (i, fall) in falls.iter().enumerate() {
            let (c, s) = points[i];
            points.push((c + 8.0, s * fall));
        }
        let curve = Curve::through(points).unwrap();
        let mut before = f64::MAX;
        for c in -30..60 {
            let life = curve.life_s(f64::from(c));
            prop_assert!(life > 0.0 && life <= before * (1.0 + 1e-9), "{life} after {before} at {c}");
            before = life;
        }
    }

    /// The bound of B per A is the true extreme: no corner of the readings goes past it, and one touches it.
    #[test]
    fn the_ratio_is_bounded_exactly(
        pours in prop::collection::vec((0..3_usize, 20.0_f64..900.0, any::<bool>(), 0.1_f64..4.0), 2..9)
    ) {
        let of = [Component::Base, Component::Hardener, Component::Thinner];
        let mut on_scale = 0.0;
        let weighed: Vec<Weighed> = pours
            .iter()
            .enumerate()
            .map(|(i, (c, g, tared, d))| {
                on_scale = if *tared { *g } else { on_scale + g };
                // Both are in, whatever else is.
                let component = if i < 2 { of[i] } else { of[*c] };
                Weighed { component, reading_g: on_scale, tared: *tared, resolution_g: *d, start_g: None }
            })
            .collect();
        let bound = b_per_a(&weighed).expect("base by far more than the scale is off");
        let (mut lo, mut hi) = (f64::MAX, f64::MIN);
        for corner in 0..1_u32 << weighed.len() {
            let mut shifted = weighed.clone();
            for (i, pour) in shifted.iter_mut().enumerate() {
                let half = pour.resolution_g / 2.0;
                pour.reading_g += if corner >> i & 1 == 1 { half } else { -half };
            }
            let ratio = total_g(&shifted, Component::Hardener) / total_g(&shifted, Component::Base);
            (lo, hi) = (lo.min(ratio), hi.max(ratio));
        }
        prop_assert!((bound.lo - lo).abs() <= 1e-12 * hi.max(1.0), "{} and {lo}", bound.lo);
        prop_assert!((bound.hi - hi).abs() <= 1e-12 * hi.max(1.0), "{} and {hi}", bound.hi);
    }
}
