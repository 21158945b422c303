//! Names and words of enums: what a column keeps, what the wire carries and what a person reads.

use level_keel_core::atomizing::classes::GunClass;
use level_keel_core::batch::entries::PassWay;
use level_keel_core::book::LedgerKind;
use level_keel_core::care::{CareList, FlushSchool};
use level_keel_core::coat_system::Method;
use level_keel_core::delivery::viscosity::FlowCup;
use level_keel_core::lists::Substrate;
use level_keel_core::mixing::Component;
use level_keel_core::people::Role;
use level_keel_core::rig_book::RigEntryKind;
use level_keel_core::rigs::RigKind;
use level_keel_core::rigs::pieces::PieceKind;
use level_keel_core::stores::{LotKind, StoreClass};
use level_keel_core::worded::{VariantArray, Worded};

/// A name that is kept in a column is the one the same thing has on the wire, and reads back as itself.
#[test]
fn names_in_columns_are_those_of_the_wire() {
    fn same<T: serde::Serialize>(all: &[T], name: impl Fn(&T) -> &'static str) -> Vec<&'static str> {
        all.iter()
            .map(|one| {
                assert_eq!(serde_json::to_value(one).unwrap(), name(one));
                name(one)
            })
            .collect()
    }
    let lots = same(LotKind::VARIANTS, |k| k.name());
    assert!(lots.iter().all(|name| LotKind::from_name(name).is_some()) && LotKind::from_name("lot").is_none());
    let rigs = same(RigEntryKind::VARIANTS, |k| k.name());
    assert!(rigs.iter().all(|name| RigEntryKind::from_name(name).is_some()) && RigEntryKind::from_name("Fitted").is_none());
    same(&PieceKind::ALONG_THE_LINE, |k| k.name());
    let classes = [StoreClass::Resin, StoreClass::Peroxide, StoreClass::Other];
    let names = same(&classes, |k| k.name());
    assert_eq!(names.into_iter().map(StoreClass::from_name).collect::<Vec<_>>(), classes);
}

/// Every word of an enum is a word of the trade and stands for one variant, but for the additives and for what is out.
#[test]
fn words_of_enums_are_words() {
    fn words<T: Copy + VariantArray + Worded>() -> Vec<&'static str> {
        T::VARIANTS.iter().map(|one| one.word()).collect()
    }
    for (all, fewer) in [
        (words::<Role>(), 0),
        (words::<RigKind>(), 0),
        (words::<GunClass>(), 0),
        (words::<FlowCup>(), 0),
        (words::<Substrate>(), 0),
        (words::<Method>(), 0),
        (words::<PassWay>(), 0),
        (words::<CareList>(), 0),
        (words::<FlushSchool>(), 0),
        (words::<Component>(), 2),
    ] {
        assert!(all.iter().all(|word| !word.is_empty() && !word.contains('_')), "{all:?}");
        let different: std::collections::BTreeSet<_> = all.iter().collect();
        assert_eq!(different.len() + fewer, all.len(), "{all:?}");
    }
}

/// Four probes fill the four readings of the conditions, each its own; those of stores and rigs fill none.
#[test]
fn a_probe_fills_the_reading_it_measures() {
    use level_keel_core::conditions::Readings;
    use level_keel_core::conditions::probe::ProbeOf;
    let read = [ProbeOf::Air, ProbeOf::Humidity, ProbeOf::Surface, ProbeOf::Material].map(ProbeOf::reading);
    assert_eq!(read, [Some("air_c"), Some("rh_pct"), Some("surface_c"), Some("material_c")]);
    let asked = serde_json::to_value(Readings { air_c: 1.0, surface_c: 1.0, material_c: 1.0, rh_pct: 1.0 }).unwrap();
    assert!(read.into_iter().flatten().all(|field| asked.get(field).is_some()), "{asked}");
    assert_eq!([ProbeOf::Store, ProbeOf::Pot, ProbeOf::Gun].map(ProbeOf::reading), [None; 3]);
}

/// A scale is kept with a name and a step it can show; either that cannot be is refused by its field.
#[test]
fn a_scale_is_kept_with_a_name_and_a_step() {
    use level_keel_core::limits::SCALE_RESOLUTION;
    use level_keel_core::weighing::ScaleKept;
    let kept = |name: &str, resolution_g: f64| {
        ScaleKept { name: name.into(), resolution_g }.validate(Default::default()).map(|s| s.name).map_err(|e| e.field)
    };
    for step in [SCALE_RESOLUTION.min, SCALE_RESOLUTION.max] {
        assert_eq!(kept(" Bench ", step), Ok("Bench".to_string()));
    }
    assert_eq!(kept(" ", 1.0), Err(Some("name".to_string())));
    for step in [SCALE_RESOLUTION.min / 2.0, SCALE_RESOLUTION.max * 2.0, f64::NAN] {
        assert_eq!(kept("Bench", step), Err(Some("resolution_g".to_string())), "{step}");
    }
}
