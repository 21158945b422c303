//! How much solvent a rig is flushed with.

use crate::rigs::Rig;
use crate::worded::Worded;
use serde::{Deserialize, Serialize};
use std::f64::consts::PI;
use utoipa::ToSchema;

/// A US quart in millilitres: a quarter of 231 cubic inches.
const QUART_ML: f64 = 946.352_946;
/// Hose volumes of the second school.
const HOSES: f64 = 3.0;

/// A school of flushing. Both end when it comes out clear.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[derive(strum::IntoStaticStr, strum::VariantArray)]
#[serde(rename_all = "snake_case")]
pub enum FlushSchool {
    /// About a quart, whatever the hose.
    #[strum(serialize = "whatever the hose")]
    Quart,
    /// What the hose holds, three times.
    #[strum(serialize = "three times what the hose holds")]
    HoseVolumes,
}

impl Worded for FlushSchool {}

/// Solvent to flush with; `None` where the school goes by a hose and the rig has none.
///
/// **Formula:** a quart, or `3·π/4·d²·L`. **Units:** mL. **Source:** common practice in the trade, both schools.
///
/// ```
/// use level_keel_core::care::{FlushSchool, flush_ml};
/// use level_keel_core::rigs::Rig;
/// let rig: Rig = serde_json::from_str(r#"{ "name": "P", "kind": "pump", "gun": "G", "class": "conventional",
///     "hose_bore_mm": 9.525, "hose_length_mm": 7620.0 }"#).unwrap();
/// // 25 ft of 3/8 in hold 543 mL.
/// assert!((flush_ml(FlushSchool::HoseVolumes, &rig).unwrap() / 3.0 - 543.0).abs() < 0.5);
/// ```
pub fn flush_ml(school: FlushSchool, rig: &Rig) -> Option<f64> {
    match school {
        FlushSchool::Quart => Some(QUART_ML),
        FlushSchool::HoseVolumes => {
            let (d, l) = (rig.hose_bore_mm?, rig.hose_length_mm?);
            Some(HOSES * PI / 4.0 * d * d * l / 1e3)
        }
    }
}
