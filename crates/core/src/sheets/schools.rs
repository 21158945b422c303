//! Schools of the trade: where good shops differ, the figures each holds to. Choosing one fills fields of a sheet; the
//! figures stay editable, and the maker's data sheet rules.
//!
//! **Source:** common practice in the trade, throughout.

use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use utoipa::ToSchema;

/// One school on one matter: the fields of a sheet it fills, as texts one would type.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct School {
    /// What it is about.
    pub matter: String,
    /// Its name.
    pub name: String,
    /// Fields of the sheet, with what to type in them.
    pub fills: BTreeMap<String, String>,
}

/// Matter, name, and the fields filled.
type Row = (&'static str, &'static str, &'static [(&'static str, &'static str)]);

const ROWS: [Row; 17] = [
    ("Stream", "6 to 8 in, general pressure pot", &[("stream", "general_pot")]),
    ("Stream", "8 to 10 in, high-transfer guns", &[("stream", "high_transfer")]),
    ("Stream", "8 to 12 in, urethanes and single-pack", &[("stream", "industrial")]),
    ("Gel-coat total", "18 to 20 mil", &[("wet_um", "19 mil"), ("wet_min_um", "18 mil"), ("wet_max_um", "20 mil")]),
    ("Gel-coat total", "18 to 24 mil", &[("wet_um", "20 mil"), ("wet_min_um", "18 mil"), ("wet_max_um", "24 mil")]),
    ("Drum stir", "10 min, rest 15", &[("drum_stir_min_s", "10 min"), ("drum_stir_max_s", "12 min"), ("drum_rest_s", "15 min")]),
    (
        "Drum stir",
        "10 to 15 min, rest 15",
        &[("drum_stir_min_s", "10 min"), ("drum_stir_max_s", "15 min"), ("drum_rest_s", "15 min")],
    ),
    ("Temperature band", "70 to 90 °F, gel coat", &[("temp_min_c", "70 °F"), ("temp_max_c", "90 °F")]),
    ("Temperature band", "15 °C and up, 20 to 25 best", &[("temp_min_c", "15 °C"), ("temp_max_c", "32 °C")]),
    ("Catalyst air", "18 to 25 psi", &[("catalyst_air_min_kpa", "18 psi"), ("catalyst_air_max_kpa", "25 psi")]),
    ("Catalyst air", "20 to 25 psi", &[("catalyst_air_min_kpa", "20 psi"), ("catalyst_air_max_kpa", "25 psi")]),
    ("Catalyst air", "to 40 psi, long hoses", &[("catalyst_air_min_kpa", "18 psi"), ("catalyst_air_max_kpa", "40 psi")]),
    ("Overlap", "half, fans that fade", &[("overlap", "half")]),
    ("Overlap", "a fifth, flat airless fans", &[("overlap", "fifth")]),
    ("Store", "70 to 85 °F, gel coat", &[("store_min_c", "70 °F"), ("store_max_c", "85 °F"), ("hardener_store_max_c", "80 °F")]),
    ("Store", "75 to 85 °F, gel coat", &[("store_min_c", "75 °F"), ("store_max_c", "85 °F"), ("hardener_store_max_c", "80 °F")]),
    ("Dew margin", "5 °F above dew point", &[("margin_min_dk", "5 °F")]),
];

/// Every school.
pub fn schools() -> Vec<School> {
    let school = |(matter, name, fills): Row| School {
        matter: matter.into(),
        name: name.into(),
        fills: fills.iter().map(|(f, v)| ((*f).into(), (*v).into())).collect(),
    };
    ROWS.into_iter().map(school).collect()
}
