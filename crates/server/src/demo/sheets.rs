//! Four invented products. Nobody's sheets.

use super::crew::{Crew, id};
use crate::problem::Problem;
use crate::sheets;
use jiff_sqlx::ToSqlx;
use level_keel_core::people::Role;
use level_keel_core::quantity::Prefs;
use serde_json::{Value, json};

/// Buoy primer.
pub const PRIMER: &str = "sheet/primer";
/// Buoy finish.
pub const FINISH: &str = "sheet/finish";
/// Flume gel coat.
pub const GEL_COAT: &str = "sheet/gel-coat";

/// Collar adhesive.
pub const ADHESIVE: &str = "sheet/adhesive";

fn all() -> [(&'static str, Value); 4] {
    [
        (
            PRIMER,
            json!({
                "name": "Island epoxy primer", "label": "Epoxy primer", "charge": "pot", "base_density_kg_l": 1.42, "solids_pct": 62,
                "has_hardener": true, "basis": "by_volume", "ratio": "4:1", "hardener_density_kg_l": 0.98, "tolerance_pct": 5,
                "thinner_max_pct": 10, "thinner_basis": "of_mixed", "thinner_density_kg_l": 0.87,
                "pot_life_s": "4 h", "pot_life_at_c": 21.1, "induction_s": "20 min",
                "recoat_min_s": "6 h", "recoat_max_s": "7 d", "recoat_at_c": 21.1,
                "wet_um": "4 mil", "wet_min_um": "3 mil", "wet_max_um": "6 mil",
                "temp_min_c": 10, "temp_max_c": 35, "margin_min_dk": 3, "rh_max_pct": 85,
                "stream": "industrial", "hazards": ["solvent", "pressure_vessel"]
            }),
        ),
        (
            FINISH,
            json!({
                "name": "Marker urethane finish", "label": "Urethane", "charge": "pot", "base_density_kg_l": 1.27, "solids_pct": 58,
                "has_hardener": true, "basis": "by_volume", "ratio": "5:1", "hardener_density_kg_l": 1.025, "tolerance_pct": 5,
                "thinner_max_pct": 10, "thinner_basis": "of_mixed", "thinner_density_kg_l": 0.88,
                "pot_life_s": "4 h", "pot_life_at_c": 20, "induction_s": "15 min",
                "recoat_min_s": "8 h", "recoat_max_s": "3 d", "recoat_at_c": 20,
                "wet_um": "4 mil", "wet_min_um": "3 mil", "wet_max_um": "5 mil",
                "temp_min_c": 8, "temp_max_c": 32, "margin_min_dk": 3, "rh_max_pct": 80,
                "stream": "industrial", "hazards": ["isocyanate", "solvent", "pressure_vessel"]
            }),
        ),
        (
            GEL_COAT,
            json!({
                "name": "Flume gel coat, sand", "label": "Gel coat", "charge": "at_gun", "base_density_kg_l": 1.25, "solids_pct": 98,
                "has_hardener": true, "basis": "percent_by_weight", "hardener_pct": 1.8, "band_low_pct": 1.5, "band_high_pct": 2.5,
                "hardener_density_kg_l": 1.12,
                "recoat_min_s": "1 h 30", "recoat_max_s": "1 d", "recoat_at_c": 22,
                "wet_um": "20 mil", "wet_min_um": "18 mil", "wet_max_um": "24 mil",
                "temp_min_c": 15, "temp_max_c": 32, "margin_min_dk": 3, "rh_max_pct": 85,
                "stream": "industrial", "hazards": ["peroxide", "styrene", "high_pressure_fluid"]
            }),
        ),
        (
            ADHESIVE,
            json!({
                "name": "Collar contact adhesive", "label": "Adhesive", "charge": "at_gun", "base_density_kg_l": 0.98, "solids_pct": 52,
                "has_hardener": true, "basis": "by_weight", "ratio": "8:1", "hardener_density_kg_l": 1.08, "tolerance_pct": 5,
                "recoat_min_s": "5 min", "recoat_max_s": "45 min", "recoat_at_c": 20,
                "wet_um": "4 mil", "wet_min_um": "2 mil", "wet_max_um": "6 mil",
                "temp_min_c": 10, "temp_max_c": 35, "margin_min_dk": 3, "rh_max_pct": 85,
                "stream": "general_pot", "hazards": ["solvent", "pressure_vessel"]
            }),
        ),
    ]
}

/// Writes the sheets as the lead.
pub async fn write(crew: &Crew<'_>) -> Result<(), Problem> {
    let now = crew.state.clock.now();
    for (name, body) in all() {
        let sheet = sheets::parse(body, Prefs::METRIC)?;
        let mut tx = crew.state.db.begin().await?;
        sqlx::query!("insert into sheet (id, created) values ($1, $2)", id(name), now.to_sqlx() as _).execute(&mut *tx).await?;
        sheets::write(&mut tx, id(name), 1, &sheet, crew.one(Role::Lead).id, now).await?;
        tx.commit().await?;
    }
    Ok(())
}
