//! Exact definitions: 1 in = 25.4 mm, 1 lb = 0.453 592 37 kg, 1 US gal = 3.785 411 784 L (NIST Handbook 44,
//! appendix C). `uom` carries some of them rounded to seven digits; the check allows one part in a million.

use super::near;
use level_keel_core::quantity::{Kind, NumberFormat, ParseError, Prefs, UnitSet, parse, show};

fn read(text: &str, kind: Kind) -> f64 {
    parse(text, kind, Prefs::METRIC).unwrap_or_else(|e| panic!("{text}: {e}"))
}

#[test]
fn definitions() {
    for (text, kind, want) in [
        ("1 in", Kind::Length, 25.4),
        ("1 mil", Kind::Film, 25.4),
        ("5 ft 6 in", Kind::Length, 1676.4),
        ("1 lb", Kind::Mass, 453.592_37),
        ("1 oz", Kind::Mass, 28.349_523_125),
        ("1 gal", Kind::Volume, 3_785.411_784),
        ("1 fl oz", Kind::Volume, 29.573_529_562_5),
        ("1 qt", Kind::Volume, 946.352_946),
        ("10 psi", Kind::Pressure, 68.947_572_9),
        ("0.8 bar", Kind::Pressure, 80.0),
        ("100 ft2", Kind::Area, 9.290_304),
        ("1 lb/gal", Kind::Density, 0.119_826_427),
        ("1 h 30", Kind::Time, 5400.0),
        ("1 h 30 min", Kind::Time, 5400.0),
        ("7 d", Kind::Time, 604_800.0),
        ("15", Kind::Time, 900.0),
        ("15", Kind::Stopwatch, 15.0),
        // 1 kgf/cm² = 98.066 5 kPa, 1 P = 0.1 Pa·s, 1 St = 1 cm²/s (NIST SP 811, appendix B, exact).
        ("2 kgf/cm2", Kind::Pressure, 196.133),
        ("1 P", Kind::Viscosity, 100.0),
        ("250 cP", Kind::Viscosity, 250.0),
        ("0.3 Pa·s", Kind::Viscosity, 300.0),
        ("120 mPa·s", Kind::Viscosity, 120.0),
        ("49.8 cSt", Kind::Kinematic, 49.8),
        ("40 mm2/s", Kind::Kinematic, 40.0),
        ("30", Kind::CupSeconds, 30.0),
        ("1 ft/s", Kind::Speed, 0.3048),
        ("60 m/min", Kind::Speed, 1.0),
        ("1/4 turn", Kind::Angle, 90.0),
        ("1 lb/gal", Kind::MassPerVolume, 119.826_427),
        ("1 oz wt/gal", Kind::MassPerVolume, 7.489_151_7),
        ("1 gal/min", Kind::Flow, 3_785.411_784),
        ("1 kg/m3", Kind::Density, 0.001),
        // 1,604.2 ft² at one mil from a US gallon of solids: 1 gal/ft² is 1,604.2 mil.
        ("1 gal/ft2", Kind::VolumePerArea, 1_604.2 * 25.4),
        ("1 m2/L", Kind::AreaPerVolume, 1.0),
        ("12 scfm", Kind::AirFlow, 12.0 * 28.316_846_592),
        ("60 m3/h", Kind::AirFlow, 1000.0),
        ("40.745833 ft2/gal", Kind::AreaPerVolume, 1.0),
    ] {
        near(read(text, kind) / want, 1.0, if kind == Kind::VolumePerArea { 1e-4 } else { 1e-6 });
    }
}

#[test]
fn temperatures_and_differences_are_not_the_same_kind() {
    near(read("70 °F", Kind::Temperature), 21.111_111, 1e-6);
    near(read("5 °F", Kind::TempDiff), 2.777_777_8, 1e-6);
    near(read("-40 F", Kind::Temperature), -40.0, 1e-9);
}

#[test]
fn fractions_ratios_and_signs() {
    near(read("3 1/2 in", Kind::Length), 88.9, 1e-9);
    near(read("9½ in", Kind::Length), 241.3, 1e-9);
    near(read("5 ft 6 1/2 in", Kind::Length), 1689.1, 1e-9);
    near(read("5'6\"", Kind::Length), 1676.4, 1e-9);
    near(read("5' 6⅜", Kind::Length), 1685.925, 1e-9);
    near(read("2 lb 3 oz", Kind::Mass), 992.233, 1e-3);
    near(read("1h30", Kind::Time), 5400.0, 1e-9);
    near(read("4:1", Kind::Ratio), 4.0, 0.0);
    near(read("4 to 1", Kind::Ratio), 4.0, 0.0);
    near(read("5 : 2", Kind::Ratio), 2.5, 0.0);
    near(read("−5 °C", Kind::Temperature), -5.0, 0.0);
}

#[test]
fn what_cannot_be_read_is_said() {
    assert!(matches!(parse("12 furlongs", Kind::Length, Prefs::METRIC), Err(ParseError::UnknownUnit { .. })));
    assert!(matches!(parse("1e999 psi", Kind::Pressure, Prefs::METRIC), Err(ParseError::TooLarge(_))));
    assert!(matches!(parse("3 1/0", Kind::Length, Prefs::METRIC), Err(ParseError::ZeroDivisor(_))));
    assert!(matches!(parse("0,8", Kind::Pressure, Prefs::METRIC), Err(ParseError::Comma(_))));
    assert!(matches!(parse("1,604", Kind::Mass, Prefs::METRIC), Err(ParseError::Comma(_))));
    assert!(matches!(parse("5 psi", Kind::Viscosity, Prefs::METRIC), Err(ParseError::UnknownUnit { .. })));
    assert!(parse("5 m 2", Kind::Length, Prefs::METRIC).is_err(), "a metre has no bare smaller part");
    assert!(matches!(parse("5 oz", Kind::Pressure, Prefs::METRIC), Err(ParseError::UnknownUnit { .. })));
    for text in ["", " ", "NaN", "inf", "-", ".", "1 2", "g", "4:", "1 min 2 h", "🙂", "<script>", "1 psi 1 psi"] {
        assert!(parse(text, Kind::Time, Prefs::METRIC).is_err(), "{text} was read");
    }
}

#[test]
fn a_bare_number_takes_the_unit_of_the_persons_set() {
    let us = Prefs { units: UnitSet::Us, ..Prefs::default() };
    near(parse("10", Kind::Pressure, us).unwrap(), 68.9476, 1e-3);
    near(parse("10", Kind::Pressure, Prefs::default()).unwrap(), 68.9476, 1e-3);
    near(parse("10", Kind::Pressure, Prefs::METRIC).unwrap(), 10.0, 0.0);
    // What is typed bare means what is shown.
    near(parse("10", Kind::Mass, us).unwrap(), 283.495, 1e-3);
    assert_eq!(show(2056.0, Kind::Mass, us).unit, "oz");
    near(parse("70", Kind::Temperature, us).unwrap(), 21.1111, 1e-3);
    near(parse("4", Kind::Film, Prefs::default()).unwrap(), 101.6, 1e-9);
    let comma = Prefs { numbers: NumberFormat::Comma, ..Prefs::METRIC };
    near(parse("0,8 bar", Kind::Pressure, comma).unwrap(), 80.0, 1e-9);
    assert!(parse("0.8 bar", Kind::Pressure, comma).is_err());
}

#[test]
fn shown_in_the_persons_units() {
    let text = |v, k, p| show(v, k, p).text.replace('\u{a0}', " ");
    assert_eq!(text(2240.0, Kind::Mass, Prefs::METRIC), "2240 g");
    assert_eq!(text(12_340.0, Kind::Mass, Prefs::METRIC), "12.34 kg");
    assert_eq!(text(101.6, Kind::Film, Prefs::default()), "4.0 mil");
    assert_eq!(text(101.6, Kind::Film, Prefs::METRIC), "102 µm");
    assert_eq!(text(-0.001, Kind::Temperature, Prefs::METRIC), "0.0 °C");
    assert_eq!(text(96.8, Kind::Viscosity, Prefs::METRIC), "96.8 mPa·s");
    assert_eq!(text(0.245, Kind::Speed, Prefs::default()), "9.6 in/s");
    assert_eq!(text(2_450_000.0, Kind::Mass, Prefs::METRIC), "2450.00 kg");
    assert_eq!(text(12_345_678.9, Kind::Area, Prefs::METRIC), "12345679 m²");
    assert_eq!(text(1e15, Kind::Area, Prefs::METRIC), "1.0e15 m²");
    assert_eq!(text(f64::NAN, Kind::Mass, Prefs::METRIC), "–");
}

/// As people write them. The openings of sieves: ASTM E11, from memory. 6 fl oz in 128 are 4.6875 %.
#[test]
fn plain_writing_is_read_and_double_meaning_is_asked() {
    let read = |text: &str, kind| parse(text, kind, Prefs::default());
    for (text, kind, want) in [
        ("12 fl. oz.", Kind::Volume, 354.882_355),
        ("1 fluid ounce", Kind::Volume, 29.573_529_6),
        ("100 sq. ft.", Kind::Area, 9.290_304),
        ("10 m^2", Kind::Area, 10.0),
        ("5-1/2 in", Kind::Length, 139.7),
        ("-5-1/2 in", Kind::Length, -139.7),
        ("4to1", Kind::Ratio, 4.0),
        ("4 to 1", Kind::Ratio, 4.0),
        ("4∶1", Kind::Ratio, 4.0),
        ("70 ºF", Kind::Temperature, 21.111_111),
        ("6 oz/gal", Kind::Thinner, 4.6875),
        ("6 fl oz/gal", Kind::Thinner, 4.6875),
        ("1:1", Kind::Thinner, 100.0),
        ("15 %", Kind::Thinner, 15.0),
        ("120 mesh", Kind::Mesh, 125.0),
        ("200 mesh", Kind::Mesh, 75.0),
        ("190 µm", Kind::Mesh, 190.0),
        ("6 oz wt/gal", Kind::MassPerVolume, 44.934_9),
    ] {
        let got = read(text, kind).unwrap_or_else(|e| panic!("{text}: {e}"));
        near(got, want, want.abs() * 1e-4);
    }
    let between = read("125 mesh", Kind::Mesh).unwrap();
    assert!(between < 125.0 && between > 106.0, "between the sieves of 120 and 140: {between}");
    for (text, kind) in [
        ("1'604", Kind::Length),
        ("1 h 90", Kind::Time),
        ("6 oz/gal", Kind::MassPerVolume),
        ("6 fl oz/gal", Kind::MassPerVolume),
        ("4:1", Kind::Thinner),
        ("10 mesh", Kind::Mesh),
        ("1e-320 g", Kind::Mass),
        ("4-1 in", Kind::Length),
        ("1/2-1/4 in", Kind::Length),
    ] {
        assert!(read(text, kind).is_err(), "{text} was read as {:?}", read(text, kind));
    }
    assert!(matches!(read("6 oz/gal", Kind::MassPerVolume), Err(ParseError::WhichOunce(_))));
    near(read("5 ft 11", Kind::Length).unwrap(), 1803.4, 1e-6);
}

/// What a form shows reads back as the very figure, in every unit set.
#[test]
fn a_form_opened_and_saved_changes_nothing() {
    for units in [UnitSet::Us, UnitSet::Metric, UnitSet::Mixed] {
        for numbers in [NumberFormat::Point, NumberFormat::Comma] {
            let prefs = Prefs { units, numbers };
            for (value, kind) in [
                (170.0, Kind::Time),
                (330.0, Kind::Time),
                (288_000.0, Kind::Time),
                (5400.0, Kind::Time),
                (11.494, Kind::Area),
                (100.0, Kind::Film),
                (101.6, Kind::Film),
                (4.0, Kind::Ratio),
                (8.333_333_333_333_334, Kind::Ratio),
                (68.947_572_931_683_61, Kind::Pressure),
                (-12.34, Kind::Temperature),
                (1e-7, Kind::Mass),
                (123_456.789, Kind::Volume),
            ] {
                let text = level_keel_core::quantity::edit_text(value, kind, prefs);
                assert_eq!(parse(&text, kind, prefs), Ok(value), "{kind:?} {value} as {text}");
            }
        }
    }
    let text = |v, k| level_keel_core::quantity::edit_text(v, k, Prefs::default());
    assert_eq!((text(170.0, Kind::Time), text(288_000.0, Kind::Time)), ("170 s".into(), "80 h".into()));
    let four = parse("4 mil", Kind::Film, Prefs::default()).unwrap();
    assert_eq!((text(four, Kind::Film), text(100.0, Kind::Film)), ("4.0 mil".into(), "100 µm".into()));
}
