//! Proportioning. Check values: arithmetic of the ratio, worked by hand.

use super::near;
use super::sheet::{example, with};
use level_keel_core::mixing::{
    Amount, Component, FigureIs, OnThePart, PlannedPour, Weighed, b_per_a, finished_solids_pct, plan, said, thinner_ml, to_go,
    wanted_ml,
};
use level_keel_core::quantity::Prefs;
use level_keel_core::sheets::ThinnerBasis;
use level_keel_core::verdict::Verdict;
use serde_json::json;

fn pour(component: Component, reading_g: f64, tared: bool) -> Weighed {
    Weighed { component, reading_g, tared, resolution_g: 1.0, start_g: None }
}

#[test]
fn a_volume_ratio_weighed_takes_the_densities() {
    // 4:1 by volume at 1.42 and 0.98 kg/L: 100·0.98/(4·1.42) g of B per 100 g of A.
    near(100.0 * example().hardener().unwrap().b_per_a, 17.254, 0.0005);
    let by_weight = with(json!({ "basis": "by_weight" })).unwrap();
    near(100.0 * by_weight.hardener().unwrap().b_per_a, 25.0, 1e-9);
}

#[test]
fn thinner_by_its_basis() {
    near(thinner_ml(800.0, 200.0, 15.0, ThinnerBasis::OfBase), 120.0, 1e-9);
    near(thinner_ml(800.0, 200.0, 15.0, ThinnerBasis::OfMixed), 150.0, 1e-9);
    near(thinner_ml(800.0, 200.0, 15.0, ThinnerBasis::OfFinished), 176.5, 0.05);
}

#[test]
fn catalyst_by_weight() {
    // 1.8 % of 2,400 g.
    let gel = with(json!({ "basis": "percent_by_weight", "hardener_pct": 1.8 })).unwrap();
    near(2400.0 * gel.hardener().unwrap().b_per_a, 43.2, 1e-9);
}

#[test]
fn finished_solids() {
    let sheet = with(json!({ "thinner_max_pct": 10.0 })).unwrap();
    near(finished_solids_pct(&sheet, 10.0), 56.36, 0.005);
    near(finished_solids_pct(&sheet, 0.0), 62.0, 1e-9);
}

#[test]
fn the_plan_adds_up() {
    let sheet = example();
    let pours = plan(&sheet, 1000.0, 10.0, Prefs::METRIC).unwrap();
    let volume: f64 = pours.iter().map(|p| p.volume_ml).sum();
    near(volume, 1000.0, 1e-6);
    near(pours[0].volume_ml / pours[1].volume_ml, 4.0, 1e-9);
    near(pours[2].volume_ml, 0.1 * (pours[0].volume_ml + pours[1].volume_ml), 1e-9);
    near(pours[2].running_g, pours.iter().map(|p| p.mass_g).sum(), 1e-9);
    assert!(plan(&sheet, 1000.0, 25.0, Prefs::METRIC).is_err(), "over the most the sheet allows");
    assert!(plan(&sheet, -1.0, 0.0, Prefs::METRIC).is_err());
}

#[test]
fn what_a_one_gram_scale_can_prove() {
    // 100 g + 2 g: apart 1.49–2.51 %, running 1.00–3.02 %; both across a 1.5–2.5 % band.
    let apart = b_per_a(&[pour(Component::Base, 100.0, false), pour(Component::Hardener, 2.0, true)]).unwrap();
    near(100.0 * apart.lo, 1.49, 0.005);
    near(100.0 * apart.hi, 2.51, 0.005);
    let running = b_per_a(&[pour(Component::Base, 100.0, false), pour(Component::Hardener, 102.0, false)]).unwrap();
    near(100.0 * running.lo, 1.00, 0.005);
    near(100.0 * running.hi, 3.02, 0.005);
    let gel =
        with(json!({ "basis": "percent_by_weight", "hardener_pct": 2.0, "band_low_pct": 1.5, "band_high_pct": 2.5 })).unwrap();
    for measured in [apart, running] {
        let said = said(&gel, measured).unwrap();
        assert_eq!(said.tolerance.judge(said.measured), Verdict::CannotTell);
    }
}

/// Pairs a 1 g scale can prove for 1.5–2.5 %: the edges of each published range, and one gram past them.
#[test]
fn provable_pairs() {
    let gel =
        with(json!({ "basis": "percent_by_weight", "hardener_pct": 2.0, "band_low_pct": 1.5, "band_high_pct": 2.5 })).unwrap();
    let proved = |a: f64, b: f64, tared: bool| {
        let reading = if tared { b } else { a + b };
        let m = b_per_a(&[pour(Component::Base, a, false), pour(Component::Hardener, reading, tared)]).unwrap();
        let said = said(&gel, m).unwrap();
        said.tolerance.judge(said.measured) == Verdict::In
    };
    for (b, from, to) in [(3.0, 141.0, 166.0), (4.0, 181.0, 232.0), (5.0, 221.0, 299.0)] {
        assert!(proved(from, b, true) && proved(to, b, true), "apart {b}");
        assert!(!proved(from - 1.0, b, true) && !proved(to + 1.0, b, true), "apart {b}, one past");
    }
    for (b, from, to) in [(5.0, 241.0, 266.0), (6.0, 281.0, 332.0)] {
        assert!(proved(from, b, false) && proved(to, b, false), "running {b}");
        assert!(!proved(from - 1.0, b, false) && !proved(to + 1.0, b, false), "running {b}, one past");
    }
    assert!(!(1..1000).any(|a| proved(f64::from(a), 3.0, false) || proved(f64::from(a), 4.0, false)));
}

#[test]
fn an_over_pour_is_met_by_the_rest() {
    // 4:1 by weight, A 1,000 g, B 268 g → add 72 g A, total 1,340 g.
    let plan = [
        PlannedPour { component: Component::Base, mass_g: 1000.0, volume_ml: 1000.0, running_g: 1000.0 },
        PlannedPour { component: Component::Hardener, mass_g: 250.0, volume_ml: 250.0, running_g: 1250.0 },
    ];
    let sheet = with(json!({ "basis": "by_weight", "ratio": 4.0 })).unwrap();
    let go = to_go(&sheet, &plan, &[pour(Component::Base, 1000.0, false), pour(Component::Hardener, 1268.0, false)]);
    near(go[0].mass_g, 72.0, 1e-9);
    near(go[1].mass_g, 0.0, 1e-9);
    near(1268.0 + go[0].mass_g, 1340.0, 1e-9);
}

#[test]
fn ten_percent_poured_as_ten_ounces_is_25_percent_and_out() {
    let sheet = with(json!({ "basis": "percent_by_weight", "hardener_pct": 10.0, "hardener_density_kg_l": 1.42 })).unwrap();
    let m = b_per_a(&[pour(Component::Base, 4000.0, false), pour(Component::Hardener, 5000.0, false)]).unwrap();
    let said = said(&sheet, m).unwrap();
    near(said.measured.value, 25.0, 1e-9);
    assert_eq!(said.tolerance.judge(said.measured), Verdict::High);
}

/// 10 % by volume on 40 US fl oz is 4 fl oz.
#[test]
fn percent_by_volume() {
    let sheet = with(json!({ "basis": "percent_by_volume", "hardener_pct": 10.0, "ratio": null })).unwrap();
    near(sheet.hardener().unwrap().b_per_a, 0.1 * 0.98 / 1.42, 1e-12);
    let pours = plan(&sheet, 44.0 * 29.573_529_6, 0.0, Prefs::METRIC).unwrap();
    near(pours[0].volume_ml / 29.573_529_6, 40.0, 1e-6);
    near(pours[1].volume_ml / 29.573_529_6, 4.0, 1e-6);
    // As people say it: the same ten per cent, though by weight it is 6.9.
    let m = b_per_a(&[pour(Component::Base, 1420.0, false), pour(Component::Hardener, 1518.0, false)]).unwrap();
    near(said(&sheet, m).unwrap().measured.value, 10.0, 1e-9);
    // Poured 10 fl oz for 10 %: 25 %, and out.
    let m = b_per_a(&[pour(Component::Base, 40.0 * 1.42, false), pour(Component::Hardener, 10.0 * 0.98, true)]).unwrap();
    near(said(&sheet, m).unwrap().measured.value, 25.0, 1e-9);
}

#[test]
fn a_kit_is_mixed_whole_or_in_part_by_weight() {
    let kit = json!({ "basis": "by_kit", "ratio": null, "kit_base_g": 12_000.0, "kit_hardener_g": 2_400.0 });
    let sheet = with(kit).unwrap();
    near(sheet.hardener().unwrap().b_per_a, 0.2, 1e-12);
    let whole = ask(&sheet, Amount::Kits { kit_count: 1.0 });
    let pours = plan(&sheet, whole, 0.0, Prefs::METRIC).unwrap();
    near(pours[0].mass_g, 12_000.0, 1e-6);
    near(pours[1].mass_g, 2_400.0, 1e-6);
    let third = plan(&sheet, ask(&sheet, Amount::Kits { kit_count: 1.0 / 3.0 }), 0.0, Prefs::METRIC).unwrap();
    near(third[0].mass_g, 4_000.0, 1e-6);
    // Cans that are not the ratio of the sheet are refused: 4:1 by volume is 17.254 g to 100 g.
    let off = with(json!({ "kit_base_g": 10_000.0, "kit_hardener_g": 2_500.0 })).unwrap_err();
    assert_eq!((off.code.as_str(), off.field.as_deref()), ("kit-off-ratio", Some("kit_hardener_g")));
    assert!(with(json!({ "kit_base_g": 10_000.0, "kit_hardener_g": 1_725.4 })).is_ok());
    assert_eq!(with(json!({ "kit_base_g": 10_000.0 })).unwrap_err().field.as_deref(), Some("kit_hardener_g"));
}

#[test]
fn no_second_component() {
    let sheet = with(json!({ "has_hardener": false, "thinner_max_pct": 20.0, "thinner_basis": "of_base" })).unwrap();
    assert!(sheet.hardener().is_none());
    let pours = plan(&sheet, 1200.0, 20.0, Prefs::METRIC).unwrap();
    assert_eq!(pours.len(), 2);
    near(pours[0].volume_ml, 1000.0, 1e-9);
    near(pours[1].volume_ml, 200.0, 1e-9);
    let refused = wanted_ml(&sheet, &Amount::HardenerMass { hardener_g: 10.0 }, ON, Prefs::METRIC).unwrap_err();
    assert_eq!((refused.code.as_str(), refused.field.as_deref()), ("no-hardener", Some("amount.hardener_g")));
}

/// 1:1 thinning is 100 % of base and right; 100 % of finished would leave no paint.
#[test]
fn one_to_one_thinning() {
    let sheet = with(json!({ "has_hardener": false, "thinner_max_pct": 100.0, "thinner_basis": "of_base" })).unwrap();
    let pours = plan(&sheet, 2000.0, 100.0, Prefs::METRIC).unwrap();
    near(pours[0].volume_ml, pours[1].volume_ml, 1e-9);
    let finished = with(json!({ "thinner_max_pct": 100.0, "thinner_basis": "of_finished" })).unwrap_err();
    assert_eq!(finished.field.as_deref(), Some("thinner_max_pct"));
}

#[test]
fn additives_by_sprayable_volume_and_by_base() {
    let sheet = with(json!({ "additives": [
        { "name": "Pearl", "dose_g_l": 25.0 },
        { "name": "Flattening paste", "dose_pct": 4.0, "density_kg_l": 1.6 },
    ] }))
    .unwrap();
    let pours = plan(&sheet, 2000.0, 10.0, Prefs::METRIC).unwrap();
    let of = |c| *pours.iter().find(|p| p.component == c).unwrap();
    let sprayable: f64 = [Component::Base, Component::Hardener, Component::Thinner].map(|c| of(c).volume_ml).iter().sum();
    near(of(Component::Additive1).mass_g, 25.0 * sprayable / 1000.0, 1e-9);
    near(of(Component::Additive2).mass_g, 0.04 * of(Component::Base).mass_g, 1e-9);
    // The paste has a density, so it takes room; the pearl has none stated and is taken not to.
    near(sprayable + of(Component::Additive2).volume_ml, 2000.0, 1e-9);
    assert_eq!(of(Component::Additive1).volume_ml, 0.0);
    assert_eq!(sheet.component_name(Component::Additive2), "Flattening paste");
    let both = with(json!({ "additives": [{ "name": "Pearl", "dose_g_l": 25.0, "dose_pct": 1.0 }] })).unwrap_err();
    assert_eq!(both.field.as_deref(), Some("additives[0].dose_g_l"));
}

const ON: OnThePart = OnThePart { wet_um: 101.6, transfer_pct: 65.0, thinner_pct: 0.0 };

fn ask(sheet: &level_keel_core::sheets::Sheet, amount: Amount) -> f64 {
    wanted_ml(sheet, &amount, ON, Prefs::METRIC).unwrap().0
}

/// Every way of asking, worked by hand on 4:1 by volume, 1.42 and 0.98 kg/L.
#[test]
fn how_much_asked_every_way() {
    let sheet = example();
    // A litre of base makes 1.25 L; it weighs 1,420 g and brings 245 g.
    near(ask(&sheet, Amount::BaseVolume { base_ml: 1000.0 }), 1250.0, 1e-9);
    near(ask(&sheet, Amount::BaseMass { base_g: 1420.0 }), 1250.0, 1e-9);
    near(ask(&sheet, Amount::HardenerVolume { hardener_ml: 250.0 }), 1250.0, 1e-9);
    near(ask(&sheet, Amount::HardenerMass { hardener_g: 245.0 }), 1250.0, 1e-9);
    near(ask(&sheet, Amount::Mass { mass_g: 1665.0 }), 1250.0, 1e-9);
    // 10 m² at 101.6 µm, 65 % stays: 1,563.1 mL.
    near(ask(&sheet, Amount::Area { area_m2: 10.0 }), 1563.08, 0.005);
}

/// 24 doors at 2 fl oz of base a side, the figure being for one side and one coat; two sides, one coat wanted.
#[test]
fn pieces_ask_sides_coats_and_of_what() {
    let sheet = example();
    let pieces = |figure_is, side_count, coat_count| Amount::Pieces {
        piece_count: 24.0,
        per_piece_ml: 59.147,
        figure_is,
        figure_side_count: 1.0,
        side_count,
        figure_coat_count: 1.0,
        coat_count,
    };
    near(ask(&sheet, pieces(FigureIs::Finished, 1.0, 1.0)), 24.0 * 59.147, 1e-6);
    near(ask(&sheet, pieces(FigureIs::Finished, 2.0, 1.0)), 48.0 * 59.147, 1e-6);
    near(ask(&sheet, pieces(FigureIs::Base, 2.0, 2.0)), 96.0 * 59.147 * 1.25, 1e-6);
    let zero = wanted_ml(&sheet, &pieces(FigureIs::Base, 0.0, 1.0), ON, Prefs::METRIC).unwrap_err();
    assert_eq!(zero.field.as_deref(), Some("amount.side_count"));
}
