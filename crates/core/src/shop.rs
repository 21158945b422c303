//! What a shop says of itself, the first visit to an empty one, and what it still has to put down before its first batch.

use crate::film::UsualComb;
use crate::instruments::Overdue;
use crate::limits::{self, check_name};
use crate::people::check_pin;
use crate::quantity::{Prefs, UnitSet};
use crate::refusal::Refusal;
use jiff::tz::TimeZone;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// What a shop says of itself.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Shop {
    /// Its name, for the card and the labels.
    pub name: String,
    /// IANA name of its time zone: clocks, days and the hour of every entry follow it.
    pub zone: String,
    /// One person does all the work: they accept their own, and nothing is handed over.
    pub works_alone: bool,
    /// So long after a check of the ratio at the gun the next one is due at the latest; none: it stands its twelve hours.
    #[serde(default)]
    pub check_every_s: Option<f64>,
    /// What an overdue check of a scale does.
    #[serde(default)]
    pub overdue_scale: Overdue,
}

impl Shop {
    /// Checks what was typed.
    ///
    /// **Errors:** a [`Refusal`] naming `shop`, `zone` or `check_every_s`.
    ///
    /// ```
    /// use level_keel_core::{quantity::Prefs, shop::Shop};
    /// let typed = Shop { name: " Tern Yard ".into(), zone: "europe/lisbon".into(), works_alone: false, check_every_s: None, overdue_scale: Default::default() };
    /// let shop = typed.validate(Prefs::METRIC).unwrap();
    /// assert_eq!((shop.name.as_str(), shop.zone.as_str()), ("Tern Yard", "Europe/Lisbon"));
    /// ```
    pub fn validate(self, prefs: Prefs) -> Result<Shop, Refusal> {
        let unknown = || {
            let text = "There is no such time zone. It is named by its region and a city, such as Europe/Lisbon.";
            Refusal::bad_input("unknown-zone", "zone", text)
        };
        let zone = TimeZone::get(self.zone.trim()).map_err(|_| unknown())?;
        let zone = zone.iana_name().ok_or_else(unknown)?.to_string();
        let check_every_s = limits::CHECK_EVERY.check_optional("check_every_s", self.check_every_s, prefs)?;
        Ok(Shop {
            name: check_name("shop", &self.name)?,
            zone,
            works_alone: self.works_alone,
            check_every_s,
            overdue_scale: self.overdue_scale,
        })
    }
}

/// What a new shop begins with between two checks: four hours; from memory.
pub const CHECK_EVERY_AT_FIRST_S: f64 = 4.0 * 3600.0;

/// Who opens an empty shop, what it says of itself, and what it measures with.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct FirstVisit {
    /// Name of the owner.
    pub owner: String,
    /// Their PIN.
    pub pin: String,
    /// The unit set they read.
    pub units: UnitSet,
    /// Name of the shop.
    pub shop: String,
    /// Its time zone.
    pub zone: String,
    /// One person does all the work.
    pub works_alone: bool,
    /// The least step the scale at hand shows.
    pub scale_resolution_g: f64,
    /// The comb at hand.
    pub comb: UsualComb,
}

impl FirstVisit {
    /// Checks every field: all that are wrong are named, so that one look mends them.
    ///
    /// **Errors:** a [`Refusal`] for each field at fault.
    pub fn validate(mut self, pin_digits: usize) -> Result<(FirstVisit, Shop), Vec<Refusal>> {
        let shop = Shop {
            name: self.shop.clone(),
            zone: self.zone.clone(),
            works_alone: self.works_alone,
            check_every_s: Some(CHECK_EVERY_AT_FIRST_S),
            overdue_scale: Overdue::default(),
        };
        let mut refusals = Vec::new();
        match check_name("owner", &self.owner) {
            Ok(name) => self.owner = name,
            Err(r) => refusals.push(r),
        }
        refusals.extend(check_pin(&self.pin, pin_digits).err());
        refusals.extend(check_name("shop", &self.shop).err());
        let prefs = Prefs { units: self.units, ..Prefs::default() };
        refusals.extend(limits::SCALE_RESOLUTION.check("scale_resolution_g", self.scale_resolution_g, prefs).err());
        match shop.validate(prefs) {
            Ok(shop) if refusals.is_empty() => return Ok((self, shop)),
            Err(r) if r.field.as_deref() != Some("shop") => refusals.push(r),
            Ok(_) | Err(_) => {}
        }
        Err(refusals)
    }
}

/// What a shop has put down so far.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq)]
pub struct PutDown {
    /// A product sheet.
    pub sheet: bool,
    /// A rig.
    pub rig: bool,
    /// Someone beside the owner.
    pub people: bool,
    /// A batch.
    pub batch: bool,
}

/// One of the first things a shop puts down.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum FirstThing {
    /// A product sheet.
    Sheet,
    /// The first batch.
    Batch,
    /// A rig.
    Rig,
    /// The others who work here.
    People,
}

/// A first step, whether it is done, and what it is for.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct FirstStep {
    /// Which.
    pub thing: FirstThing,
    /// What to do.
    pub text: String,
    /// What it is for, or until when it can wait.
    pub why: String,
    /// It is done.
    pub done: bool,
    /// The one to do now: the first that is not done and cannot wait.
    pub now: bool,
}

/// The first steps of a shop, in the order one would take them.
///
/// **Rule:** the sheet comes first, because nothing can be proportioned without it; then a batch may be begun. A rig can wait
/// until Set; a shop of one adds nobody. **Source:** the order of the work.
pub fn first_steps(has: PutDown, works_alone: bool) -> Vec<FirstStep> {
    let step = |thing, text: &str, why: &str, done, now: bool| FirstStep {
        thing,
        text: text.into(),
        why: why.into(),
        done,
        now: now && !done,
    };
    let mut steps = vec![
        step(
            FirstThing::Sheet,
            "Write down the first product sheet",
            "its ratio, densities, pot life and film, from the maker's data sheet",
            has.sheet,
            true,
        ),
        step(
            FirstThing::Batch,
            "Begin the first batch",
            "the part and its area; then the first cup is weighed",
            has.batch,
            has.sheet,
        ),
        step(
            FirstThing::Rig,
            "Put together the first rig",
            "a pressure is then known before it is tried; it can wait until Set",
            has.rig,
            false,
        ),
    ];
    if !works_alone {
        let text = "the log keeps who did what; each has a PIN of their own";
        steps.push(step(FirstThing::People, "Add the others who work here", text, has.people, false));
    }
    steps
}
