//! What a batch begins with before anything is typed: the coat as it is planned, its sheet, the batches before. A proposal is
//! shown as taken from there, and each of its figures gives way to what a person types.

use super::entries::{Begin, Zone};
use crate::coat_system::CoatPlan;
use crate::film::FilmIs;
use crate::lists::Substrate;
use crate::quantity::{Prefs, QuantityKind, edit_text, parse, show};
use crate::sheets::Sheet;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use utoipa::ToSchema;
use uuid::Uuid;

/// What is known of a part, its coat and its product.
#[derive(Debug, Clone, Copy, Default)]
pub struct Known<'a> {
    /// The coat as it is planned.
    pub plan: Option<&'a CoatPlan>,
    /// The sheet that is chosen, else that of the plan, with its id.
    pub sheet: Option<(Uuid, &'a Sheet)>,
    /// The one sheet of a shop that has no other.
    pub only_sheet: Option<Uuid>,
    /// The newest batch of this part.
    pub part_before: Option<&'a Begin>,
    /// The newest batch of this part and coat.
    pub coat_before: Option<&'a Begin>,
    /// The newest batch of this product.
    pub product_before: Option<&'a Begin>,
}

/// A field that is filled.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Filled {
    /// What stands in it, as it would be typed.
    pub text: String,
    /// Where it comes from, in words.
    pub from: String,
}

/// The fields of a batch that can be filled, by their name on the wire.
///
/// **Rule:** the plan rules over the sheet, the sheet over habit. Film by the plan, else the sheet's aim, wet. Area and zones as the part
/// was last coated; a zone that nobody measured goes by its name alone. What it goes on as this coat last did; over another coat it is
/// already coated. Method by the plan, else as this product was last put on; transfer and thinner as this product last had them,
/// thinner only as far as the sheet allows; transfer nobody knows is the usual one, and said to be. **Units:** each in the reader's own, reading back as the same figure. **Errors:** none; what is
/// not known is not filled. **Source:** ours.
///
/// ```
/// use level_keel_core::batch::proposal::{Known, proposal};
/// assert!(proposal(&Known::default(), Default::default()).is_empty(), "nothing is made up");
/// ```
pub fn proposal(known: &Known<'_>, prefs: Prefs) -> BTreeMap<String, Filled> {
    let mut fields = BTreeMap::new();
    let mut fill = |name: &str, text: Option<String>, from: String| {
        if let Some(text) = text.filter(|t| !t.is_empty()) {
            fields.entry(name.to_string()).or_insert(Filled { text, from });
        }
    };
    let figure = |value: f64, kind| Some(as_said(value, kind, prefs));
    let before = |b: &Begin| format!("as in batch {:04}", b.number);
    let planned = || "by the plan of the coat".to_string();
    if let Some(plan) = known.plan {
        fill("sheet", plan.sheet.map(|id| id.to_string()), planned());
        fill("method", plan.method.map(|m| wire_name(&m)), planned());
        fill("film_um", plan.film_um.and_then(|um| figure(um, QuantityKind::Film)), planned());
        fill("film_is", plan.film_um.map(|_| wire_name(&plan.film_is.unwrap_or(FilmIs::Wet))), planned());
    }
    fill("sheet", known.only_sheet.map(|id| id.to_string()), "the only sheet here".into());
    if let Some((_, sheet)) = known.sheet {
        fill("film_um", figure(sheet.wet_um, QuantityKind::Film), "by the sheet".into());
        fill("film_is", Some(wire_name(&FilmIs::Wet)), "by the sheet".into());
    }
    if let Some(b) = known.part_before {
        fill("area_m2", figure(b.area_m2, QuantityKind::Area), before(b));
        fill("zones", Some(zones(&b.zones, prefs)), before(b));
    }
    match (known.coat_before, known.part_before) {
        (Some(b), _) => fill("substrate", b.substrate.map(|s| wire_name(&s)), before(b)),
        (None, Some(b)) => fill("substrate", Some(wire_name(&Substrate::AlreadyCoated)), format!("over batch {:04}", b.number)),
        (None, None) => {}
    }
    if let Some(b) = known.product_before {
        fill("method", b.method.map(|m| wire_name(&m)), before(b));
        fill("transfer_pct", figure(b.transfer_pct, QuantityKind::Percent), before(b));
        let most_pct = known.sheet.and_then(|(_, sheet)| sheet.thinner_max_pct).unwrap_or(0.0);
        let thinned = (b.thinner_pct > 0.0 && b.thinner_pct <= most_pct).then_some(b.thinner_pct);
        fill("thinner_pct", thinned.and_then(|pct| figure(pct, QuantityKind::Percent)), before(b));
    }
    if known.sheet.is_some() {
        fill("transfer_pct", figure(USUAL_TRANSFER_PCT, QuantityKind::Percent), "usual for spraying".into());
    }
    fields
}

/// What stays on the part of what leaves the gun, where nothing is known of it; from memory.
const USUAL_TRANSFER_PCT: f64 = 65.0;

/// How far a figure may read back off what it stands for: what the last binary digit does, and far less than anyone reads.
const READS_BACK: f64 = 1e-9;

/// A figure in the reader's own form where that reads back as the same, `4.0 mil`; else with the digits it needs.
fn as_said(value: f64, kind: QuantityKind, prefs: Prefs) -> String {
    let own = show(value, kind, prefs).text.replace('\u{a0}', " ");
    let same = parse(&own, kind, prefs).is_ok_and(|read| (read - value).abs() <= READS_BACK * value.abs());
    if same { own } else { edit_text(value, kind, prefs) }
}

/// Zones as they are typed: `tower, hull: 8 m2`.
fn zones(zones: &[Zone], prefs: Prefs) -> String {
    let one = |z: &Zone| match z.area_assumed || z.area_m2 <= 0.0 {
        true => z.name.clone(),
        false => format!("{}: {}", z.name, as_said(z.area_m2, QuantityKind::Area, prefs)),
    };
    zones.iter().map(one).collect::<Vec<_>>().join(", ")
}

/// A word of a list as the wire writes it.
fn wire_name<T: Serialize>(value: &T) -> String {
    serde_json::to_value(value).ok().and_then(|v| v.as_str().map(String::from)).unwrap_or_default()
}
