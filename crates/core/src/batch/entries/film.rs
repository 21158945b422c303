//! The film while it is sprayed: as a comb read it, and as somebody looked at it.

use super::ready::optional_text;
use super::spray::in_zones;
use super::{Asked, Statement, Told, everyone, stamp};
use crate::batch::Entry;
use crate::batch::record::{CombRead, Record};
use crate::film::{self, CombOf};
use crate::people::{May, Role};
use crate::quantity::{Prefs, QuantityKind};
use crate::refusal::Refusal;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;
use uuid::Uuid;

/// A comb reading.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Comb {
    /// Where; missing: anywhere on the part.
    #[serde(default)]
    pub zone: Option<Uuid>,
    /// Last wetted tooth; missing: none was.
    #[serde(default)]
    pub tooth_um: Option<f64>,
    /// Teeth of the comb.
    pub teeth_um: Vec<f64>,
    /// Total so far or this pass.
    pub of: CombOf,
}

/// The film, looked at: where no comb works it is what proves it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct FilmLook {
    /// It is right everywhere: runs, voids, stripes, sheen.
    pub good: bool,
    /// What was seen; needed where it is not right.
    #[serde(default)]
    pub text: Option<String>,
}

impl Statement for Comb {
    const WAITS_AS: Option<&'static str> = Some("Comb reading");
    const WHO: fn(Role) -> May = everyone;

    // Its teeth are judged with the reading, in the reader's units.
    fn well_formed(&self, _prefs: Prefs) -> Result<(), Refusal> {
        Ok(())
    }

    fn may(&self, asked: &Asked<'_>, _value: &mut Value) -> Result<(), Refusal> {
        film::comb(&self.teeth_um, self.tooth_um, asked.prefs())?;
        in_zones(asked.case, "zone", self.zone.as_slice())
    }

    fn apply(self, record: &mut Record, entry: &Entry) {
        if let Ok(read_um) = film::comb_as_written(&self.teeth_um, self.tooth_um, Prefs::METRIC) {
            record.combs.push(stamp(entry, CombRead { zone: self.zone, of: self.of, read_um }));
        }
    }

    fn words(&self, told: &Told<'_>) -> String {
        let place = self.zone.map_or(String::new(), |z| format!(" at {}", told.zone(z)));
        match self.tooth_um {
            Some(um) => format!("Comb{place}: wet to {}", told.say(um, QuantityKind::Film)),
            None => format!("Comb{place}: no tooth wet"),
        }
    }
}

impl Statement for FilmLook {
    const WAITS_AS: Option<&'static str> = Some("Film by look");
    const WHO: fn(Role) -> May = everyone;

    fn well_formed(&self, _prefs: Prefs) -> Result<(), Refusal> {
        let said = self.text.as_deref().is_some_and(|t| !t.trim().is_empty());
        if !said && !self.good {
            return Err(Refusal::bad_input("missing", "text", "What is not right with it?"));
        }
        optional_text("text", self.text.as_deref())
    }

    fn may(&self, _asked: &Asked<'_>, _value: &mut Value) -> Result<(), Refusal> {
        Ok(())
    }

    fn apply(self, record: &mut Record, entry: &Entry) {
        record.film_looks.push(stamp(entry, self));
    }

    fn words(&self, _told: &Told<'_>) -> String {
        let why = self.text.as_deref().map_or(String::new(), |t| format!(": {t}"));
        format!("Film looked at: {}{why}", if self.good { "right" } else { "not right" })
    }
}
