//! Beginning a batch: sheet, part, area, film wanted, transfer efficiency.

use crate::coat_system::Method;
use crate::film::FilmIs;
use crate::film::wet_for_dry_um;
use crate::limits;
use crate::lists::Substrate;
use crate::mixing::{check_thinner, finished_solids_pct};
use crate::quantity::Prefs;
use crate::refusal::Refusal;
use crate::sheets::{ChargeKind, Sheet};
use crate::takeoff::{self, TakeOffShape};
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
    /// Zones of the part, by name; empty: the part is one zone.
    #[serde(default)]
    pub zones: Vec<String>,
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
pub fn area_m2(wanted: &Wanted, prefs: Prefs) -> Result<f64, Refusal> {
    if wanted.takeoff.is_empty() {
        return limits::AREA.check("area_m2", wanted.area_m2, prefs);
    }
    takeoff::area(&wanted.takeoff, prefs).map(|(m2, _)| m2.value)
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
    limits::check_text("coat", &wanted.coat, limits::LABEL_CHARS)?;
    for zone in &wanted.zones {
        limits::check_text("zones", zone, limits::LABEL_CHARS)?;
    }
    if wanted.zones.len() > 12 {
        return Err(Refusal::bad_input("too-many", "zones", "At most 12 zones."));
    }
    area_m2(wanted, prefs)?;
    limits::FILM.check("film_um", wanted.film_um, prefs)?;
    limits::TRANSFER.check("transfer_pct", wanted.transfer_pct, prefs)?;
    let thinner = wanted.thinner_pct.unwrap_or(0.0);
    check_thinner(sheet, thinner, prefs)?;
    let dry_um = (wanted.film_is == FilmIs::Dry).then_some(wanted.film_um);
    let wet_um = dry_um.map_or(wanted.film_um, |dry| wet_for_dry_um(dry, finished_solids_pct(sheet, thinner)));
    limits::FILM.check("film_um", wet_um, prefs)?;
    Ok(FilmAim { wet_um, dry_um })
}
