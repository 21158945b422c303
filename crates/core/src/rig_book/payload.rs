//! What each kind of entry in the book of a rig says.

use crate::rigs::Rig;
use crate::worded::Worded;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;

/// Looked over.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Inspected {
    /// Everything was sound.
    pub sound: bool,
    /// What was found.
    #[serde(default)]
    pub text: Option<String>,
}

/// Cleaned, or noted.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Remark {
    /// With what; what.
    #[serde(default)]
    pub text: Option<String>,
    /// It had not been flushed before; the server fills it in, so that a strike gives it back.
    #[serde(default)]
    #[schema(read_only)]
    pub was_new: bool,
}

/// A step of a shut-down.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ShutStep {
    /// Name of the step.
    pub step: String,
    /// What the gauge read, where the step is to read it.
    #[serde(default)]
    pub gauge_kpa: Option<f64>,
    /// What the rig's transmitter read then; the server fills it in.
    #[serde(default)]
    #[schema(read_only)]
    pub live_kpa: Option<f64>,
    /// What the step is called, so that the book reads the same for ever; the server fills it in.
    #[serde(default)]
    #[schema(read_only)]
    pub word: String,
    /// It had not been flushed before; the server fills it in.
    #[serde(default)]
    #[schema(read_only)]
    pub was_new: bool,
}

/// An item of care.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Cared {
    /// Name of the item.
    pub item: String,
    /// What the item is called; the server fills it in.
    #[serde(default)]
    #[schema(read_only)]
    pub word: String,
    /// It had not been flushed before; the server fills it in.
    #[serde(default)]
    #[schema(read_only)]
    pub was_new: bool,
}

/// Another nozzle or tip.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Fitted {
    /// Its hole.
    #[serde(default)]
    pub nozzle_mm: Option<f64>,
    /// Its code.
    #[serde(default)]
    pub tip_code: Option<String>,
    /// What was fitted before; the server fills it in, so that a strike gives it back.
    #[serde(default)]
    #[schema(read_only)]
    pub before: Option<FittedBefore>,
}

/// What may be exchanged for another alike.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[derive(strum::IntoStaticStr, strum::VariantArray)]
#[serde(rename_all = "snake_case")]
pub enum ExchangedPiece {
    /// The fluid hose.
    #[strum(serialize = "hose")]
    Hose,
    /// The pump.
    #[strum(serialize = "pump")]
    Pump,
    /// A filter.
    #[strum(serialize = "filter")]
    Filter,
    /// The packing of a pump.
    #[strum(serialize = "packing")]
    Packing,
}

impl Worded for ExchangedPiece {}

/// A piece exchanged for another alike: figures stay, a proof of the ratio does not.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Exchanged {
    /// Which.
    pub piece: ExchangedPiece,
    /// Remark.
    #[serde(default)]
    pub text: Option<String>,
}

/// The figures of the rig, put down or changed: with who and when in its book.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Changed {
    /// As they are from then on.
    pub rig: Box<Rig>,
    /// As they were; missing for a new rig.
    #[serde(default)]
    pub before: Option<Box<Rig>>,
    /// Not used any more from then on.
    #[serde(default)]
    pub retired: bool,
}

impl Changed {
    /// The figures that changed, by field: what was, what is.
    pub fn figures(&self) -> Vec<(String, Value, Value)> {
        let map = |rig: &Rig| match serde_json::to_value(rig) {
            Ok(Value::Object(map)) => map,
            _ => serde_json::Map::new(),
        };
        let was = self.before.as_ref().map(|r| map(r)).unwrap_or_default();
        let pairs = map(&self.rig).into_iter().map(|(field, is)| {
            let had = was.get(&field).cloned().unwrap_or(Value::Null);
            (field, had, is)
        });
        pairs.filter(|(_, had, is)| had != is).collect()
    }
}

/// Fields of a rig whose change makes a proof of the ratio stale.
pub(super) const IN_THE_STREAM: [&str; 6] = ["hose_bore_mm", "hose_length_mm", "nozzle_mm", "tip_code", "gun", "kind"];

/// What an exchange took off.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct FittedBefore {
    /// Its hole.
    #[serde(default)]
    pub nozzle_mm: Option<f64>,
    /// Its code.
    #[serde(default)]
    pub tip_code: Option<String>,
}
