//! Surfaces: each has its own items in the Ready lists.

use level_keel_core::lists::{ReadyLists, Substrate};
use level_keel_core::worded::VariantArray;
use serde_json::json;

use crate::lists::{keys, sheet};

/// Each surface has its own items and none of another's; under water nothing is blown dry and no bead of water tells anything. What
/// nobody said is asked once, and never taken to need nothing.
#[test]
fn each_surface_has_its_own_items() {
    let plain = sheet(json!({}));
    let on = |substrate| keys(&plain, substrate, None, 10.0);
    for (substrate, wanted, unwanted) in [
        (
            Substrate::UnderWater,
            vec!["growth_off", "oil_wiped", "baffle"],
            vec!["blown_wiped", "water_break", "degreased", "masked"],
        ),
        (Substrate::SplashZone, vec!["growth_off", "oil_wiped", "baffle"], vec!["blown_wiped", "water_break", "open_steel"]),
        (
            Substrate::SandedSteel,
            vec!["open_aluminium", "degreased", "water_break", "etch_primer", "blown_wiped"],
            vec!["open_steel"],
        ),
        (Substrate::BareBodywork, vec!["etch_primer", "promoter", "sanded_body", "back_faces", "open_aluminium"], vec!["nibs"]),
        (
            Substrate::PaintedBodywork,
            vec!["promoter", "sanded_body", "nibs", "back_faces"],
            vec!["etch_primer", "open_aluminium"],
        ),
        (
            Substrate::DopedFabric,
            vec!["fabric_sound", "tapes_down", "back_faces", "blown_wiped"],
            vec!["degreased", "water_break"],
        ),
        (Substrate::Masonry, vec!["wall_sound", "smooth_class", "masked"], vec!["nibs", "degreased"]),
        (Substrate::Plasterboard, vec!["wall_sound", "smooth_class", "nibs"], vec!["degreased", "water_break"]),
        (Substrate::Foam, vec!["foam_skin", "blown_wiped"], vec!["degreased", "sanded"]),
        (Substrate::Wood, vec!["sanded", "nibs"], vec!["wall_sound", "degreased"]),
        (Substrate::Fibreglass, vec!["promoter", "water_break"], vec!["etch_primer"]),
    ] {
        let found = on(Some(substrate));
        let has = |key: &&str| found.iter().any(|k| k == key);
        assert!(wanted.iter().all(&has), "{substrate:?} wants {wanted:?}: {found:?}");
        assert!(!unwanted.iter().any(&has), "{substrate:?} without {unwanted:?}: {found:?}");
        assert!(!has(&"surface_said"), "{substrate:?} was said");
    }
    assert!(on(None).iter().any(|k| k == "surface_said"));
    for substrate in Substrate::VARIANTS {
        let usual = ReadyLists::usual();
        let own = usual.items.iter().filter(|i| i.when.substrates.contains(substrate)).count();
        assert!(own >= 2, "{substrate:?} has {own} items of its own");
    }
}
