//! Exact definitions: 1 in = 25.4 mm, 1 lb = 0.453 592 37 kg, 1 US gal = 3.785 411 784 L (NIST Handbook 44,
//! appendix C). `uom` carries some of them rounded to seven digits; the check allows one part in a million.

use super::near;
use level_keel_core::quantity::{NumberFormat, ParseError, Prefs, QuantityKind, UnitSet, edit_text, parse, show};

fn read(text: &str, kind: QuantityKind) -> f64 {
    parse(text, kind, Prefs::METRIC).unwrap_or_else(|e| panic!("{text}: {e}"))
}

#[test]
fn definitions() {
    for (text, kind, want) in [
        ("1 in", QuantityKind::Length, 25.4),
        ("1 mil", QuantityKind::Film, 25.4),
        ("5 ft 6 in", QuantityKind::Length, 1676.4),
        ("1 lb", QuantityKind::Mass, 453.592_37),
        ("1 oz", QuantityKind::Mass, 28.349_523_125),
        ("1 gal", QuantityKind::Volume, 3_785.411_784),
        ("1 fl oz", QuantityKind::Volume, 29.573_529_562_5),
        ("1 qt", QuantityKind::Volume, 946.352_946),
        ("10 psi", QuantityKind::Pressure, 68.947_572_9),
        ("0.8 bar", QuantityKind::Pressure, 80.0),
        ("100 ft2", QuantityKind::Area, 9.290_304),
        ("1 lb/gal", QuantityKind::Density, 0.119_826_427),
        ("1 h 30", QuantityKind::Time, 5400.0),
        ("1 h 30 min", QuantityKind::Time, 5400.0),
        ("7 d", QuantityKind::Time, 604_800.0),
        ("15", QuantityKind::Time, 900.0),
        ("15", QuantityKind::Stopwatch, 15.0),
        // 1 kgf/cm² = 98.066 5 kPa, 1 P = 0.1 Pa·s, 1 St = 1 cm²/s (NIST SP 811, appendix B, exact).
        ("2 kgf/cm2", QuantityKind::Pressure, 196.133),
        ("1 P", QuantityKind::Viscosity, 100.0),
        ("250 cP", QuantityKind::Viscosity, 250.0),
        ("0.3 Pa·s", QuantityKind::Viscosity, 300.0),
        ("120 mPa·s", QuantityKind::Viscosity, 120.0),
        ("49.8 cSt", QuantityKind::Kinematic, 49.8),
        ("40 mm2/s", QuantityKind::Kinematic, 40.0),
        ("30", QuantityKind::CupSeconds, 30.0),
        ("1 ft/s", QuantityKind::Speed, 0.3048),
        ("60 m/min", QuantityKind::Speed, 1.0),
        ("1/4 turn", QuantityKind::Angle, 90.0),
        ("1 lb/gal", QuantityKind::MassPerVolume, 119.826_427),
        ("1 oz wt/gal", QuantityKind::MassPerVolume, 7.489_151_7),
        ("1 gal/min", QuantityKind::Flow, 3_785.411_784),
        ("1 kg/m3", QuantityKind::Density, 0.001),
        // 1,604.2 ft² at one mil from a US gallon of solids: 1 gal/ft² is 1,604.2 mil.
        ("1 gal/ft2", QuantityKind::VolumePerArea, 1_604.2 * 25.4),
        ("1 m2/L", QuantityKind::AreaPerVolume, 1.0),
        ("12 scfm", QuantityKind::AirFlow, 12.0 * 28.316_846_592),
        ("60 m3/h", QuantityKind::AirFlow, 1000.0),
        ("40.745833 ft2/gal", QuantityKind::AreaPerVolume, 1.0),
    ] {
        near(read(text, kind) / want, 1.0, if kind == QuantityKind::VolumePerArea { 1e-4 } else { 1e-6 });
    }
}

#[test]
fn temperatures_and_differences_are_not_the_same_kind() {
    near(read("70 °F", QuantityKind::Temperature), 21.111_111, 1e-6);
    near(read("5 °F", QuantityKind::TempDiff), 2.777_777_8, 1e-6);
    near(read("-40 F", QuantityKind::Temperature), -40.0, 1e-9);
}

#[test]
fn fractions_ratios_and_signs() {
    near(read("3 1/2 in", QuantityKind::Length), 88.9, 1e-9);
    near(read("9½ in", QuantityKind::Length), 241.3, 1e-9);
    near(read("5 ft 6 1/2 in", QuantityKind::Length), 1689.1, 1e-9);
    near(read("5'6\"", QuantityKind::Length), 1676.4, 1e-9);
    near(read("5' 6⅜", QuantityKind::Length), 1685.925, 1e-9);
    near(read("2 lb 3 oz", QuantityKind::Mass), 992.233, 1e-3);
    near(read("1h30", QuantityKind::Time), 5400.0, 1e-9);
    near(read("4:1", QuantityKind::Ratio), 4.0, 0.0);
    near(read("4 to 1", QuantityKind::Ratio), 4.0, 0.0);
    near(read("5 : 2", QuantityKind::Ratio), 2.5, 0.0);
    near(read("−5 °C", QuantityKind::Temperature), -5.0, 0.0);
}

#[test]
fn what_cannot_be_read_is_said() {
    assert!(matches!(parse("12 furlongs", QuantityKind::Length, Prefs::METRIC), Err(ParseError::UnknownUnit { .. })));
    assert!(matches!(parse("1e999 psi", QuantityKind::Pressure, Prefs::METRIC), Err(ParseError::TooLarge(_))));
    assert!(matches!(parse("3 1/0", QuantityKind::Length, Prefs::METRIC), Err(ParseError::ZeroDivisor(_))));
    assert!(matches!(parse("0,8", QuantityKind::Pressure, Prefs::METRIC), Err(ParseError::Comma(_))));
    assert!(matches!(parse("1,604", QuantityKind::Mass, Prefs::METRIC), Err(ParseError::Comma(_))));
    assert!(matches!(parse("5 psi", QuantityKind::Viscosity, Prefs::METRIC), Err(ParseError::UnknownUnit { .. })));
    assert!(parse("5 m 2", QuantityKind::Length, Prefs::METRIC).is_err(), "a metre has no bare smaller part");
    assert!(matches!(parse("5 oz", QuantityKind::Pressure, Prefs::METRIC), Err(ParseError::UnknownUnit { .. })));
    for text in ["", " ", "NaN", "inf", "-", ".", "1 2", "g", "4:", "1 min 2 h", "🙂", "<script>", "1 psi 1 psi"] {
        assert!(parse(text, QuantityKind::Time, Prefs::METRIC).is_err(), "{text} was read");
    }
}

#[test]
fn a_bare_number_takes_the_unit_of_the_persons_set() {
    let us = Prefs { units: UnitSet::Us, ..Prefs::default() };
    near(parse("10", QuantityKind::Pressure, us).unwrap(), 68.9476, 1e-3);
    near(parse("10", QuantityKind::Pressure, Prefs::default()).unwrap(), 68.9476, 1e-3);
    near(parse("10", QuantityKind::Pressure, Prefs::METRIC).unwrap(), 10.0, 0.0);
    // What is typed bare means what is shown.
    near(parse("10", QuantityKind::Mass, us).unwrap(), 283.495, 1e-3);
    assert_eq!(show(2056.0, QuantityKind::Mass, us).unit, "oz");
    near(parse("70", QuantityKind::Temperature, us).unwrap(), 21.1111, 1e-3);
    near(parse("4", QuantityKind::Film, Prefs::default()).unwrap(), 101.6, 1e-9);
    let comma = Prefs { numbers: NumberFormat::Comma, ..Prefs::METRIC };
    near(parse("0,8 bar", QuantityKind::Pressure, comma).unwrap(), 80.0, 1e-9);
    assert!(parse("0.8 bar", QuantityKind::Pressure, comma).is_err());
}

#[test]
fn shown_in_the_persons_units() {
    let text = |v, k, p| show(v, k, p).text.replace('\u{a0}', " ");
    assert_eq!(text(2240.0, QuantityKind::Mass, Prefs::METRIC), "2240 g");
    assert_eq!(text(12_340.0, QuantityKind::Mass, Prefs::METRIC), "12.34 kg");
    assert_eq!(text(101.6, QuantityKind::Film, Prefs::default()), "4 mil");
    assert_eq!(text(101.6, QuantityKind::Film, Prefs::METRIC), "102 µm");
    assert_eq!(text(-0.001, QuantityKind::Temperature, Prefs::METRIC), "0.0 °C");
    assert_eq!(text(96.8, QuantityKind::Viscosity, Prefs::METRIC), "96.8 mPa·s");
    assert_eq!(text(0.245, QuantityKind::Speed, Prefs::default()), "9.6 in/s");
    assert_eq!(text(2_450_000.0, QuantityKind::Mass, Prefs::METRIC), "2450 kg");
    assert_eq!(text(12_345_678.9, QuantityKind::Area, Prefs::METRIC), "12345679 m²");
    assert_eq!(text(1e15, QuantityKind::Area, Prefs::METRIC), "1.0e15 m²");
    assert_eq!(text(f64::NAN, QuantityKind::Mass, Prefs::METRIC), "–");
}

/// As people write them. The openings of sieves: ASTM E11, from memory. 6 fl oz in 128 are 4.6875 %.
#[test]
fn plain_writing_is_read_and_double_meaning_is_asked() {
    let read = |text: &str, kind| parse(text, kind, Prefs::default());
    for (text, kind, want) in [
        ("12 fl. oz.", QuantityKind::Volume, 354.882_355),
        ("1 fluid ounce", QuantityKind::Volume, 29.573_529_6),
        ("100 sq. ft.", QuantityKind::Area, 9.290_304),
        ("10 m^2", QuantityKind::Area, 10.0),
        ("5-1/2 in", QuantityKind::Length, 139.7),
        ("-5-1/2 in", QuantityKind::Length, -139.7),
        ("4to1", QuantityKind::Ratio, 4.0),
        ("4 to 1", QuantityKind::Ratio, 4.0),
        ("4∶1", QuantityKind::Ratio, 4.0),
        ("70 ºF", QuantityKind::Temperature, 21.111_111),
        ("6 oz/gal", QuantityKind::Thinner, 4.6875),
        ("6 fl oz/gal", QuantityKind::Thinner, 4.6875),
        ("1:1", QuantityKind::Thinner, 100.0),
        ("15 %", QuantityKind::Thinner, 15.0),
        ("120 mesh", QuantityKind::Mesh, 125.0),
        ("200 mesh", QuantityKind::Mesh, 75.0),
        ("190 µm", QuantityKind::Mesh, 190.0),
        ("6 oz wt/gal", QuantityKind::MassPerVolume, 44.934_9),
    ] {
        let got = read(text, kind).unwrap_or_else(|e| panic!("{text}: {e}"));
        near(got, want, want.abs() * 1e-4);
    }
    let between = read("125 mesh", QuantityKind::Mesh).unwrap();
    assert!(between < 125.0 && between > 106.0, "between the sieves of 120 and 140: {between}");
    for (text, kind) in [
        ("1'604", QuantityKind::Length),
        ("1 h 90", QuantityKind::Time),
        ("6 oz/gal", QuantityKind::MassPerVolume),
        ("6 fl oz/gal", QuantityKind::MassPerVolume),
        ("4:1", QuantityKind::Thinner),
        ("10 mesh", QuantityKind::Mesh),
        ("1e-320 g", QuantityKind::Mass),
        ("4-1 in", QuantityKind::Length),
        ("1/2-1/4 in", QuantityKind::Length),
    ] {
        assert!(read(text, kind).is_err(), "{text} was read as {:?}", read(text, kind));
    }
    assert!(matches!(read("6 oz/gal", QuantityKind::MassPerVolume), Err(ParseError::WhichOunce(_))));
    near(read("5 ft 11", QuantityKind::Length).unwrap(), 1803.4, 1e-6);
}

/// What a form shows reads back as the very figure, in every unit set.
#[test]
fn a_form_opened_and_saved_changes_nothing() {
    for units in [UnitSet::Us, UnitSet::Metric, UnitSet::Mixed] {
        for numbers in [NumberFormat::Point, NumberFormat::Comma] {
            let prefs = Prefs { units, numbers };
            for (value, kind) in [
                (170.0, QuantityKind::Time),
                (330.0, QuantityKind::Time),
                (288_000.0, QuantityKind::Time),
                (5400.0, QuantityKind::Time),
                (11.494, QuantityKind::Area),
                (100.0, QuantityKind::Film),
                (101.6, QuantityKind::Film),
                (4.0, QuantityKind::Ratio),
                (8.333_333_333_333_334, QuantityKind::Ratio),
                (68.947_572_931_683_61, QuantityKind::Pressure),
                (-12.34, QuantityKind::Temperature),
                (1e-7, QuantityKind::Mass),
                (123_456.789, QuantityKind::Volume),
            ] {
                let text = level_keel_core::quantity::edit_text(value, kind, prefs);
                assert_eq!(parse(&text, kind, prefs), Ok(value), "{kind:?} {value} as {text}");
            }
        }
    }
    let text = |v, k| level_keel_core::quantity::edit_text(v, k, Prefs::default());
    assert_eq!((text(170.0, QuantityKind::Time), text(288_000.0, QuantityKind::Time)), ("170 s".into(), "80 h".into()));
    let four = parse("4 mil", QuantityKind::Film, Prefs::default()).unwrap();
    assert_eq!((text(four, QuantityKind::Film), text(100.0, QuantityKind::Film)), ("4 mil".into(), "100 µm".into()));
}

/// No digit is said that the figure never had: common practice on plates and sheets. What moves keeps its form.
#[test]
fn a_figure_has_the_digits_it_was_given() {
    let said = |text: &str, kind, prefs| show(parse(text, kind, prefs).unwrap(), kind, prefs).text.replace('\u{a0}', " ");
    for (text, kind, wanted) in [
        ("80 psi", QuantityKind::Pressure, "80 psi"),
        ("10.5 psi", QuantityKind::Pressure, "10.5 psi"),
        ("25 ft", QuantityKind::Length, "25 ft"),
        ("4 : 1", QuantityKind::Ratio, "4 : 1"),
        ("4.5 : 1", QuantityKind::Ratio, "4.5 : 1"),
        ("20 L", QuantityKind::Volume, "20 L"),
        ("2.0 mm", QuantityKind::Nozzle, "2.0 mm"),
        ("1.8 mm", QuantityKind::Nozzle, "1.8 mm"),
    ] {
        assert_eq!(said(text, kind, Prefs::default()), wanted, "{text}");
    }
    // In another unit it has the digits of that unit, and no more of its own.
    assert_eq!(show(551.580_583, QuantityKind::Pressure, Prefs::METRIC).figure, "551.6");
    assert_eq!(show(9.98, QuantityKind::Ratio, Prefs::METRIC).figure, "9.98");
    let live = |v| level_keel_core::quantity::show_live(v, QuantityKind::Temperature, Prefs::METRIC).figure;
    assert_eq!((live(22.0), live(22.14)), ("22.0".into(), "22.1".into()));
}

/// Bores are sold by fractions of an inch and nozzles stamped in millimetres: common practice in the trade. The arithmetic is exact.
#[test]
fn bores_in_fractions_and_nozzles_in_millimetres() {
    let said = |mm: f64, kind, prefs| show(mm, kind, prefs).text.replace('\u{a0}', " ");
    for (mm, text) in [
        (6.35, "1/4 in"),
        (7.9375, "5/16 in"),
        (7.94, "5/16 in"),
        (9.525, "3/8 in"),
        (12.7, "1/2 in"),
        (25.4, "1 in"),
        (31.75, "1 1/4 in"),
        (10.0, "0.394 in"),
    ] {
        assert_eq!(said(mm, QuantityKind::Bore, Prefs::default()), text, "{mm}");
    }
    assert_eq!(said(9.525, QuantityKind::Bore, Prefs::METRIC), "9.53 mm", "a metric reader has no fractions");
    for (mm, text) in [(1.8, "1.8 mm"), (1.0, "1.0 mm"), (1.25, "1.25 mm")] {
        for prefs in [Prefs::default(), Prefs::METRIC] {
            assert_eq!(said(mm, QuantityKind::Nozzle, prefs), text, "the same for every reader");
        }
    }
    // What is typed bare is read as it is said, and a unit rules over both.
    near(parse("1.8", QuantityKind::Nozzle, Prefs::default()).unwrap(), 1.8, 1e-12);
    near(parse("0.070 in", QuantityKind::Nozzle, Prefs::default()).unwrap(), 1.778, 1e-12);
    near(parse("3/8", QuantityKind::Bore, Prefs::default()).unwrap(), 9.525, 1e-12);
    near(parse("10 mm", QuantityKind::Bore, Prefs::default()).unwrap(), 10.0, 1e-12);
    assert_eq!(QuantityKind::of_field("hose_bore_mm"), Some(QuantityKind::Bore));
    assert_eq!(QuantityKind::of_field("nozzle_mm"), Some(QuantityKind::Nozzle));
    assert_eq!(QuantityKind::of_field("hose_length_mm"), Some(QuantityKind::Length));
}

/// A price stands for the volume its reader buys by. 24.00 a litre is 24.00 × 3.785 411 784 = 90.849 9 a US gallon (NIST Handbook 44,
/// Appendix C: one gallon is 231 cubic inches exactly).
#[test]
fn a_price_is_typed_and_said_by_the_readers_own_volume() {
    let us = Prefs { units: UnitSet::Us, ..Prefs::METRIC };
    let said = |minor_l: f64, prefs| show(minor_l, QuantityKind::Price, prefs).text.replace('\u{a0}', " ");
    assert_eq!(QuantityKind::of_field("price_minor_l"), Some(QuantityKind::Price));
    assert_eq!(said(2400.0, Prefs::METRIC), "24.00 /L", "money keeps its hundredths");
    assert_eq!(said(2450.0, Prefs::default()), "24.50 /L");
    assert_eq!(said(2400.0, us), "90.85 /gal");
    for (text, minor_l) in [
        ("24", 2400.0),
        ("24/L", 2400.0),
        ("24.00 per litre", 2400.0),
        ("90.8498828 /gal", 2400.0),
        ("90.8498828 a gallon", 2400.0),
        ("22.7124707/qt", 2400.0),
        ("$24", 2400.0),
        ("€ 24 /l", 2400.0),
        ("0", 0.0),
    ] {
        near(parse(text, QuantityKind::Price, Prefs::METRIC).unwrap(), minor_l, minor_l * 1e-6);
    }
    near(parse("90.8498828", QuantityKind::Price, us).unwrap(), 2400.0, 2.4e-3);
    for wrong in ["24/kg", "24 each", "$", "24 cents"] {
        assert!(parse(wrong, QuantityKind::Price, Prefs::METRIC).is_err(), "{wrong}");
    }
    // A price by the gallon is kept as it was typed, not rounded to hundredths of a litre.
    let typed = parse("90.80/gal", QuantityKind::Price, us).unwrap();
    assert_eq!(said(typed, us), "90.80 /gal");
    assert_eq!(edit_text(typed, QuantityKind::Price, us), "90.80 /gal");
}

/// A sheet's long life stands in hours, as a sheet writes it; from a hundred hours it is days.
#[test]
fn eighty_hours_are_eighty_hours() {
    let said = |hours: f64| level_keel_core::quantity::show_duration(hours * 3600.0).replace('\u{a0}', " ");
    assert_eq!((said(80.0), said(24.0), said(99.0)), ("80 h".into(), "24 h".into(), "99 h".into()));
    assert_eq!((said(26.5), said(2.0)), ("26 h 30".into(), "2 h 00".into()));
    assert_eq!((said(100.0), said(168.0)), ("4.2 d".into(), "7.0 d".into()));
}
