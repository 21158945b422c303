//! A scale as the shop keeps it.

use crate::limits::{self, check_name};
use crate::quantity::Prefs;
use crate::refusal::Refusal;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// A scale of the shop: its name, and the step it shows.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ScaleKept {
    /// Its name.
    pub name: String,
    /// The smallest step it shows.
    pub resolution_g: f64,
}

impl ScaleKept {
    /// Checks name and resolution.
    ///
    /// **Errors:** a refusal naming the field.
    ///
    /// ```
    /// use level_keel_core::weighing::ScaleKept;
    /// let bench = ScaleKept { name: " Bench ".into(), resolution_g: 1.0 };
    /// assert_eq!(bench.validate(Default::default()).unwrap().name, "Bench");
    /// ```
    pub fn validate(mut self, prefs: Prefs) -> Result<ScaleKept, Refusal> {
        self.name = check_name("name", &self.name)?;
        limits::SCALE_RESOLUTION.check("resolution_g", self.resolution_g, prefs)?;
        Ok(self)
    }
}
