//! The part as it is drawn and planned: zones of the take-off, sections, the clocks of the coat, a margin that falls.

use super::*;
use level_keel_core::batch::begin::{Wanted, zones, zones_of_shapes};
use level_keel_core::batch::beside::{Beside, WeatherRead};
use level_keel_core::batch::passes::Outline;
use level_keel_core::pot_life::after;

#[test]
fn zones_come_from_the_take_off() {
    let piece = |zone: Value, shape: Value, count: f64| json!({ "shape": shape, "piece_count": count, "zone": zone });
    let plate = json!({ "is": "plate", "width_mm": 2000.0, "height_mm": 1000.0, "side_count": 1.0 });
    let pipe = json!({ "is": "pipe", "diameter_mm": 100.0, "length_mm": 1000.0 });
    let wanted = |takeoff: Value| -> Wanted {
        serde_json::from_value(json!({ "sheet": Uuid::from_u128(1), "part": "Buoy", "coat": "primer", "film_um": 100.0, "film_is": "wet", "transfer_pct": 60.0, "takeoff": takeoff })).unwrap()
    };
    let named = wanted(json!([
        piece(json!("hull"), plate.clone(), 2.0),
        piece(json!("Hull "), pipe.clone(), 1.0),
        piece(Value::Null, pipe.clone(), 2.0)
    ]));
    let made = zones_of_shapes(&named);
    assert_eq!(made.iter().map(|(name, ..)| name.as_str()).collect::<Vec<_>>(), ["hull", "pipe run"]);
    assert!((made[0].1 - (4.0 + 0.314_159)).abs() < 1e-5 && (made[1].1 - 0.628_319).abs() < 1e-5);
    assert_eq!(made[0].2.word(), "plate", "drawn as the largest of its pieces");
    assert_eq!(zones(&named).len(), 2);
    assert!(zones(&wanted(json!([piece(Value::Null, plate, 1.0)]))).is_empty(), "where no piece names one the part is one zone");
}

#[test]
fn each_zone_is_drawn_as_its_shape_lies_flat() {
    let shapes = [
        (json!({ "is": "dome", "diameter_mm": 1000.0, "height_mm": 500.0 }), Outline::Dome),
        (json!({ "is": "cylinder", "diameter_mm": 1000.0, "height_mm": 2000.0, "end_count": 0.0 }), Outline::Unrolled),
        (json!({ "is": "rail", "girth_mm": 300.0, "length_mm": 2000.0 }), Outline::Channel),
        (json!({ "is": "door", "width_mm": 800.0, "height_mm": 2000.0, "thick_mm": 40.0, "side_count": 2.0 }), Outline::Door),
    ];
    let zones: Vec<Value> = (0..4)
        .map(|i| json!({ "id": Uuid::from_u128(60 + i as u128), "name": format!("z{i}"), "area_m2": 2.0, "place": i + 1, "shape": shapes[i].0 }))
        .collect();
    let book = Book::begun_with(sheet(), json!({ "zones": zones, "area_m2": 8.0 }));
    let drawn = board(&book).drawing;
    assert_eq!(drawn.iter().map(|d| d.outline).collect::<Vec<_>>(), shapes.iter().map(|s| s.1).collect::<Vec<_>>());
    assert_eq!(drawn[3].apart, 2, "both sides of the door");
    assert!(drawn.windows(2).all(|w| w[0].y + w[0].high <= w[1].y), "one over the other");
}

/// 500 mL/min at 60 % and 101.6 µm are 2.95 m² a minute; back in a minute is a patch of 2.95 m², a zone of 4 m² is two of them.
#[test]
fn the_part_is_cut_into_sections_and_planned_anew_by_its_passes() {
    let mut book = spraying(json!({ "film_proof": "not_asked" }));
    book.write(EntryKind::PlanMix, json!({ "rate_ml_min": 500.0, "fill_ml": 1900.0 })).unwrap();
    assert_eq!(board(&book).sections, None);
    let half = json!({ "prepared_m2": 2.0 });
    assert_eq!(refused(book.write(EntryKind::PlanSections, half), "missing").field.as_deref(), Some("prepared_s"));
    book.write(
        EntryKind::PlanSections,
        json!({ "return_s": 60.0, "reach_m2": 3.5, "open_s": 3600.0, "prepared_m2": 1.0, "prepared_s": 900.0 }),
    )
    .unwrap();
    let seen = board(&book);
    let limits = seen.sections.as_ref().unwrap();
    let words: Vec<(&str, &str, bool)> = limits.limits.iter().map(|l| (l.word.as_str(), l.area.text.as_str(), l.binds)).collect();
    assert_eq!(
        words[..3],
        [
            ("the return time", "2.95\u{a0}m²", true),
            ("the reach", "3.5\u{a0}m²", false),
            ("the open surface", "4\u{a0}m²", false)
        ]
    );
    assert_eq!(words[3].0, "the life of the charge");
    assert_eq!((seen.zones[0].patch_count, limits.by.as_str()), (2, "by flow, transfer and film"));
    assert_eq!(seen.zones[0].patches.as_deref(), Some("2 × 2\u{a0}m², 41\u{a0}s a pass"));
    // Two passes of 4 m² by the trigger, 80 s each: 3 m² a minute.
    for zone in [TOWER, HULL] {
        let pass = json!({ "charge": POT, "zones": [Uuid::from_u128(zone)], "sprayed_watch_s": 80.0, "used_ml": 10.0 });
        book.pass(5.0).write(EntryKind::Pass, pass).unwrap();
    }
    let seen = board(&book).sections.unwrap();
    assert_eq!((seen.by.as_str(), seen.limits[0].area.text.as_str()), ("by 2 passes as they went", "3\u{a0}m²"));
}

/// From stamps alone: a gap with a pause in it, or far longer than the plan's, was not spraying.
#[test]
fn stamps_tell_the_rate_where_nobody_paused() {
    let mut book = spraying(json!({ "film_proof": "not_asked" }));
    book.write(EntryKind::PlanMix, json!({ "rate_ml_min": 500.0, "fill_ml": 1900.0 })).unwrap();
    let rate = |book: &Book| book.record().measured_m2_min();
    stamp(&mut book, TOWER);
    book.pass(2.0);
    stamp(&mut book, HULL);
    assert_eq!(rate(&book), None, "one is too few");
    // 4 m² in 30 min is more than twice 1.35 min.
    book.pass(30.0);
    stamp(&mut book, SKIRT);
    book.pass(1.0).write(EntryKind::Happening, json!({ "what": "pause" })).unwrap();
    book.pass(1.0);
    stamp(&mut book, TOWER);
    assert_eq!(rate(&book), None);
    book.pass(2.0);
    stamp(&mut book, HULL);
    assert_eq!(rate(&book), Some((2.0, 2)));
}

/// From the last pass on, by the sheet and the coldest surface; colder lengthens, hotter never shortens.
#[test]
fn the_clocks_of_a_coat_begin_with_its_last_pass() {
    let times = json!({ "recoat_at_c": 30.0, "mask_off_s": 1800.0, "dust_dry_s": 3600.0, "touch_dry_s": 7200.0, "service_s": 604_800.0, "film_proof": "not_asked" });
    let clocks = |surface_c: f64| {
        let mut book = Book::begun(with(sheet(), times.clone()));
        book.write(
            EntryKind::Conditions,
            json!({ "air_c": surface_c, "surface_c": surface_c, "material_c": 20.0, "rh_pct": 30.0 }),
        )
        .unwrap();
        book.write(EntryKind::Guards, json!({ "hazards": ["solvent"] })).unwrap();
        book.mixed(328.0);
        book.pass(25.0).write(EntryKind::StartSpraying, on()).unwrap();
        book.write(EntryKind::Pass, json!({ "charge": POT, "zones": [], "used_ml": 1600.0 })).unwrap();
        let last = book.now;
        assert!(board(&book).clocks.is_empty(), "it is being sprayed");
        book.pass(2.0).write(EntryKind::CloseCharge, json!({ "charge": POT, "how": "emptied" })).unwrap();
        let seen = board(&book).clocks;
        seen.into_iter().map(|c| (c.what, c.at.duration_since(last).as_secs_f64().round() / 60.0)).collect::<Vec<_>>()
    };
    let at = |all: &[(String, f64)], what: &str| all.iter().find(|(w, _)| w == what).map(|(_, min)| *min);
    let usual = clocks(30.0);
    assert_eq!(
        usual.iter().map(|(w, _)| w.as_str()).collect::<Vec<_>>(),
        ["Masking off", "Dust dry", "Dry to touch", "Next coat may go on", "Into service"]
    );
    assert_eq!((at(&usual, "Masking off"), at(&usual, "Dry to touch")), (Some(30.0), Some(120.0)));
    assert_eq!(at(&clocks(20.0), "Masking off"), Some(60.0), "twice as long ten kelvin colder");
    assert_eq!(at(&clocks(33.0), "Masking off"), Some(30.0), "never shorter");
}

/// Where nobody read the surface a clock says so: it may have been colder.
#[test]
fn a_clock_without_a_surface_says_so() {
    let mut book = Book::begun(with(sheet(), json!({ "recoat_at_c": 20.0, "mask_off_s": 1800.0, "film_proof": "not_asked" })));
    let read = json!({ "air_c": 21.0, "surface_c": 20.0, "material_c": 20.0, "rh_pct": 30.0 });
    let read = book.write(EntryKind::Conditions, read).unwrap();
    book.write(EntryKind::Guards, json!({ "hazards": ["solvent"] })).unwrap();
    book.mixed(328.0);
    book.pass(25.0).write(EntryKind::StartSpraying, on()).unwrap();
    book.write(EntryKind::Pass, json!({ "charge": POT, "zones": [], "used_ml": 1600.0 })).unwrap();
    book.pass(2.0).write(EntryKind::CloseCharge, json!({ "charge": POT, "how": "emptied" })).unwrap();
    book.write(EntryKind::Strike, json!({ "entry": read, "reason": "another hall" })).unwrap();
    assert_eq!(board(&book).clocks[0].why, "by sheet at 20\u{a0}°C, nobody read the surface");
}

/// Seven kelvin falling by a tenth a minute: the gate of the sheet, 3 K, in 40 min; nothing is said once it is steady.
#[test]
fn a_margin_that_falls_toward_its_gate_is_said_with_its_minutes() {
    let book = spraying(json!({ "film_proof": "not_asked" }));
    let falling = |slope: f64| {
        let read = |i: i32| WeatherRead {
            at: after(book.now, -60.0 * f64::from(i)),
            margin_dk: Some(7.0 + slope * f64::from(i)),
            rh_pct: None,
        };
        let beside = Beside { weather: (0..40).map(read).collect(), ..Beside::default() };
        let viewer = Viewer { writer: writer(Role::Lead), comb_um: vec![MIL], scale_g: 1.0 };
        let record = book.record();
        whole(Uuid::from_u128(9), &Case::new(&record, &beside), &viewer, book.now).unwrap().spray.board.falling
    };
    let said = falling(0.1);
    assert!(said.len() == 1 && said[0] == "dew gate in about 40\u{a0}min at this rate, 40\u{a0}min at the earliest", "{said:?}");
    assert!(falling(0.0).is_empty() && falling(-0.1).is_empty());
    assert!(falling(0.01).is_empty(), "more than four hours off");
}
