//! Beginning a batch: sheet, part, area, film wanted, transfer efficiency.

use crate::batch::job::{coats_wanted, pieces_wanted};
use crate::coat_system::Method;
use crate::film::FilmIs;
use crate::film::wet_for_dry_um;
use crate::limits;
use crate::lists::Substrate;
use crate::mixing::{check_thinner, finished_solids_pct};
use crate::quantity::{Prefs, QuantityKind, show};
use crate::refusal::Refusal;
use crate::scan::is_address;
use crate::sheets::{ChargeKind, Sheet};
use crate::takeoff::{self, Shape, TakeOffShape};
use crate::worded::Worded;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// What a person asks for.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct Wanted {
    pub sheet: uuid::Uuid,
    pub part: String,
    /// Coat of the part's system: primer, finish …
    pub coat: String,
    /// Zones of the part in the order of the work; empty: the part is one zone.
    #[serde(default)]
    pub zones: Vec<ZoneWanted>,
    /// The area; reckoned from the shapes when they are given.
    #[serde(default)]
    pub area_m2: f64,
    /// Shapes to take the area off from.
    #[serde(default)]
    pub takeoff: Vec<TakeOffShape>,
    pub film_um: f64,
    pub film_is: FilmIs,
    pub transfer_pct: f64,
    #[serde(default)]
    pub thinner_pct: Option<f64>,
    /// What is coated; missing: only what is checked on any.
    #[serde(default)]
    pub substrate: Option<Substrate>,
    /// How it is put on; missing: as the sheet is mixed.
    #[serde(default)]
    pub method: Option<Method>,
    /// Coats of it begun together as one job; missing: one.
    #[serde(default)]
    pub coat_count: Option<f64>,
    /// Pieces the part is made of, done one by one.
    #[serde(default)]
    pub piece_count: Option<f64>,
    /// Sides of each that are coated.
    #[serde(default)]
    pub side_count: Option<f64>,
    /// One side of one piece: the area is reckoned from it.
    #[serde(default)]
    pub side_m2: Option<f64>,
    /// The defect it repairs.
    #[serde(default)]
    pub repairs: Option<RepairWanted>,
}

/// A defect that is to be repaired.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct RepairWanted {
    /// The batch it was seen in.
    pub batch: uuid::Uuid,
    /// The entry of the defect.
    pub defect: uuid::Uuid,
}

/// A zone as it is asked for: its name, or its name with its area.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(untagged)]
pub enum ZoneWanted {
    /// Its name; its area is an equal share of what is left.
    Named(String),
    /// Its name, and its area as measured.
    Measured {
        /// Its name.
        name: String,
        /// Its area.
        area_m2: f64,
    },
}

impl ZoneWanted {
    /// Its name.
    pub fn name(&self) -> &str {
        match self {
            ZoneWanted::Named(name) | ZoneWanted::Measured { name, .. } => name.trim(),
        }
    }

    fn measured_m2(&self) -> Option<f64> {
        match self {
            ZoneWanted::Named(_) => None,
            ZoneWanted::Measured { area_m2, .. } => Some(*area_m2),
        }
    }
}

/// Zones of a part.
pub const MOST_ZONES: usize = 60;

/// How far the areas of all zones together may be off the area of the part: what rounding does; from memory.
const SHARES_OFF: f64 = 0.01;

/// The area of each zone, and whether it is assumed.
///
/// **Rule:** what is measured counts; those that are not share the rest of `whole_m2` equally, and are marked. **Units:** m².
/// **Errors:** a refusal at `zones`: the measured ones are more than the whole, leave the others no more than rounding does (1 %),
/// or, where all are measured, do not add up to it within 1 %.
/// **Source:** arithmetic; that nobody measured is an equal share is ours, and said.
///
/// ```
/// use level_keel_core::batch::begin::{ZoneWanted, zone_areas};
/// let hull = ZoneWanted::Measured { name: "hull".into(), area_m2: 8.0 };
/// let named = |name: &str| ZoneWanted::Named(name.into());
/// let areas = zone_areas(&[hull, named("keel"), named("rudder")], 12.0, Default::default()).unwrap();
/// assert_eq!(areas, [(8.0, false), (2.0, true), (2.0, true)]);
/// ```
pub fn zone_areas(zones: &[ZoneWanted], whole_m2: f64, prefs: Prefs) -> Result<Vec<(f64, bool)>, Refusal> {
    let say = |m2: f64| show(m2, QuantityKind::Area, prefs).text;
    for (i, m2) in zones.iter().enumerate().filter_map(|(i, z)| Some((i, z.measured_m2()?))) {
        limits::AREA.check(&format!("zones[{i}].area_m2"), m2, prefs)?;
    }
    let measured: f64 = zones.iter().filter_map(ZoneWanted::measured_m2).sum();
    let others = zones.iter().filter(|z| z.measured_m2().is_none()).count();
    let (rest, slack) = (whole_m2 - measured, SHARES_OFF * whole_m2);
    let refused = |text: String| Err(Refusal::bad_input("zones-do-not-add-up", "zones", text));
    if rest < -slack || (others == 0 && !zones.is_empty() && rest > slack) {
        return refused(format!("The zones are {} together, the part is {}.", say(measured), say(whole_m2)));
    }
    if others > 0 && rest <= slack {
        return refused(format!(
            "The zones that are measured take all of {}: nothing is left for the others. Measure them too.",
            say(whole_m2)
        ));
    }
    let share = rest / others.max(1) as f64;
    Ok(zones.iter().map(|z| z.measured_m2().map_or((share, true), |m2| (m2, false))).collect())
}

/// The sheet as this method mixes it.
///
/// **Errors:** a [`Refusal`] at `method` where the sheet says too little for it.
pub fn by_method(mut sheet: Sheet, method: Option<Method>) -> Result<Sheet, Refusal> {
    let Some(method) = method.filter(|m| m.charge() != sheet.charge) else { return Ok(sheet) };
    let at = |text: String| Err(Refusal::bad_input("not-this-way", "method", text));
    if method.charge() == ChargeKind::AtGun && !sheet.has_hardener {
        return at("This product has no second component to mix at the gun.".into());
    }
    if method.charge() == ChargeKind::Pot && sheet.has_hardener && (sheet.pot_life_s.is_none() || sheet.pot_life_at_c.is_none()) {
        return at(format!("By {} it is mixed in a pot, and the sheet states no pot life.", method.word()));
    }
    sheet.charge = method.charge();
    Ok(sheet)
}

/// The area wanted: of the shapes, else as stated.
///
/// **Errors:** a refusal naming the field.
/// **Rule:** a side of each piece rules over the shapes, the shapes over the figure. **Formula:** `side · pieces · sides`. **Units:** m². **Source:** [`takeoff::area`].
pub fn area_m2(wanted: &Wanted, prefs: Prefs) -> Result<f64, Refusal> {
    if let (Some(side_m2), Some(pieces)) = (wanted.side_m2, pieces_wanted(wanted.piece_count, wanted.side_count, prefs)?) {
        limits::AREA.check("side_m2", side_m2, prefs)?;
        return limits::AREA.check("side_m2", side_m2 * pieces.piece_count * pieces.side_count, prefs);
    }
    if wanted.side_m2.is_some() {
        return Err(Refusal::bad_input("missing", "piece_count", "One side of how many pieces? Say how many there are."));
    }
    if wanted.takeoff.is_empty() {
        return limits::AREA.check("area_m2", wanted.area_m2, prefs);
    }
    takeoff::area(&wanted.takeoff, prefs).map(|(m2, _)| m2.value)
}

/// Zones that the pieces of the take-off make, each with its area and what it is drawn as: the largest of its pieces. Empty where no
/// piece names one.
///
/// **Rule:** pieces of one name are one zone; once one names its zone, a piece that names none is a zone by the word of its shape.
/// **Units:** m². **Source:** [`takeoff::area`].
pub fn zones_of_shapes(wanted: &Wanted) -> Vec<(String, f64, Shape)> {
    let mut all: Vec<(String, f64, Shape, f64)> = Vec::new();
    if wanted.takeoff.iter().all(|piece| piece.zone.is_none()) {
        return Vec::new();
    }
    for piece in &wanted.takeoff {
        let name = piece.zone.as_deref().unwrap_or(piece.shape.word()).trim();
        let m2 = piece.area_m2();
        match all.iter_mut().find(|(known, ..)| known.eq_ignore_ascii_case(name)) {
            Some((_, area, shape, largest)) => {
                *area += m2;
                if m2 > *largest {
                    (*shape, *largest) = (piece.shape, m2);
                }
            }
            None => all.push((name.into(), m2, piece.shape, m2)),
        }
    }
    all.into_iter().map(|(name, m2, shape, _)| (name, m2, shape)).collect()
}

/// The zones as asked for; where none are named, those the take-off makes, else one for each of several sides.
pub fn zones(wanted: &Wanted) -> Vec<ZoneWanted> {
    let of_shapes = zones_of_shapes(wanted);
    if wanted.zones.is_empty() && !of_shapes.is_empty() {
        return of_shapes.into_iter().map(|(name, area_m2, _)| ZoneWanted::Measured { name, area_m2 }).collect();
    }
    let sides = wanted.side_count.filter(|n| wanted.piece_count.is_some() && *n >= 2.0).unwrap_or(0.0) as u32;
    if wanted.zones.is_empty() {
        (1..=sides).map(|n| ZoneWanted::Named(format!("side {n}"))).collect()
    } else {
        wanted.zones.clone()
    }
}

/// The film aimed at.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct FilmAim {
    /// Wet, with the thinner the batch begins with.
    pub wet_um: f64,
    /// The dry film, when that was asked for: whatever thinner is planned later, the wet aim dries to it.
    pub dry_um: Option<f64>,
}

/// Checks what is wanted against its sheet and returns the film aimed at.
///
/// **Errors:** a refusal naming the field.
pub fn check(wanted: &Wanted, sheet: &Sheet, prefs: Prefs) -> Result<FilmAim, Refusal> {
    limits::check_name("part", &wanted.part)?;
    if is_address(&wanted.part) {
        let text = "This is the address on a label. Wait until the name of the part stands here, or type it.";
        return Err(Refusal::bad_input("address-as-name", "part", text));
    }
    limits::check_text("coat", &wanted.coat, limits::LABEL_CHARS)?;
    for zone in &wanted.zones {
        limits::check_text("zones", zone.name(), limits::LABEL_CHARS)?;
    }
    let name = |zone: &ZoneWanted| zone.name().to_lowercase();
    if let Some((_, twice)) =
        (wanted.zones.iter().enumerate()).find(|(i, z)| wanted.zones[..*i].iter().any(|b| name(b) == name(z)))
    {
        return Err(Refusal::bad_input("zone-twice", "zones", format!("Two zones are called {}.", twice.name())));
    }
    let zones = zones(wanted);
    if zones.len() > MOST_ZONES {
        return Err(Refusal::bad_input("too-many", "zones", format!("At most {MOST_ZONES} zones.")));
    }
    zone_areas(&zones, area_m2(wanted, prefs)?, prefs)?;
    limits::FILM.check("film_um", wanted.film_um, prefs)?;
    limits::TRANSFER.check("transfer_pct", wanted.transfer_pct, prefs)?;
    let thinner = wanted.thinner_pct.unwrap_or(0.0);
    check_thinner(sheet, thinner, prefs)?;
    coats_wanted(wanted.coat_count, sheet.coats_most_count, prefs)?;
    pieces_wanted(wanted.piece_count, wanted.side_count, prefs)?;
    let dry_um = (wanted.film_is == FilmIs::Dry).then_some(wanted.film_um);
    let wet_um = dry_um.map_or(wanted.film_um, |dry| wet_for_dry_um(dry, finished_solids_pct(sheet, thinner)));
    limits::FILM.check("film_um", wet_um, prefs)?;
    Ok(FilmAim { wet_um, dry_um })
}
