//! Eight invented products, nobody's sheets, and the cups they are mixed in.

use super::crew::{Crew, id};
use crate::instruments;
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

/// Sign finish, waterborne.
pub const WATERBORNE: &str = "sheet/waterborne";
/// Mould release film.
pub const RELEASE: &str = "sheet/release";
/// Deck texture.
pub const TEXTURE: &str = "sheet/texture";
/// Pile epoxy, by volume alone.
pub const PILE: &str = "sheet/pile";

fn all() -> [(&'static str, Value); 8] {
    [
        (PRIMER, primer()),
        (FINISH, finish()),
        (GEL_COAT, gel_coat()),
        (ADHESIVE, adhesive()),
        (WATERBORNE, waterborne()),
        (RELEASE, release()),
        (TEXTURE, texture()),
        (PILE, pile()),
    ]
}

fn primer() -> Value {
    json!({
        "name": "Island epoxy primer", "label": "Epoxy primer", "charge": "pot", "base_density_kg_l": 1.42, "solids_pct": 62,
        "has_hardener": true, "basis": "by_volume", "ratio": "4:1", "hardener_density_kg_l": 0.98, "tolerance_pct": 5,
        "thinner_max_pct": 10, "thinner_basis": "of_mixed", "thinner_density_kg_l": 0.87,
        "viscosity_mpa_s": 115, "viscosity_at_c": 20, "viscosity_warm_mpa_s": 78, "viscosity_warm_at_c": 30,
        "pot_life_s": "4 h", "pot_life_at_c": 21.1, "induction_s": "20 min",
        "recoat_min_s": "6 h", "recoat_max_s": "7 d", "recoat_at_c": 21.1,
        "open_surface_s": "4 h", "mask_off_s": "1 h", "dust_dry_s": "30 min", "touch_dry_s": "2 h", "handle_s": "8 h", "service_s": "7 d",
        "wet_um": "4 mil", "film_proof": "comb", "wet_min_um": "3 mil", "wet_max_um": "6 mil",
        "temp_min_c": 10, "temp_max_c": 35, "margin_min_dk": 3, "rh_max_pct": 85,
        "times": [
            { "at_c": 10, "pot_life_s": "7 h", "induction_s": "30 min", "recoat_min_s": "14 h" },
            { "at_c": 32.2, "pot_life_s": "2 h", "recoat_min_s": "4 h", "recoat_max_s": "3 d" }
        ],
        "colour": "grey", "stir": "paddle", "strain_um": 250, "profile_min_um": 40, "profile_max_um": 75,
        "certificate_needed": true, "least_hose_bore_mm": "3/8 in", "least_rating_kpa": "80 psi", "least_two_regulators": true,
        "excludes": "Standing hot water", "flush_with": "epoxy thinner", "pot_life_mass_g": 4000, "shelf_life_days": 365,
        "store_min_c": 5, "store_max_c": 30,
        "stream": "industrial", "hazards": ["solvent", "pressure_vessel"]
    })
}

fn finish() -> Value {
    json!({
        "name": "Marker urethane finish", "label": "Urethane", "charge": "pot", "base_density_kg_l": 1.27, "solids_pct": 58,
        "has_hardener": true, "basis": "by_volume", "ratio": "5:1", "hardener_density_kg_l": 1.025, "tolerance_pct": 5,
        "thinner_max_pct": 10, "thinner_basis": "of_mixed", "thinner_density_kg_l": 0.88,
        "viscosity_mpa_s": 105, "viscosity_at_c": 20,
        "pot_life_s": "4 h", "pot_life_at_c": 20, "induction_s": "15 min",
        "recoat_min_s": "8 h", "recoat_max_s": "3 d", "recoat_at_c": 20,
        "mask_off_s": "45 min", "dust_dry_s": "40 min", "touch_dry_s": "3 h", "handle_s": "16 h", "next_trade_s": "1 d", "service_s": "7 d",
        "wet_um": "4 mil", "film_proof": "comb", "wet_min_um": "3 mil", "wet_max_um": "5 mil",
        "temp_min_c": 8, "temp_max_c": 32, "margin_min_dk": 3, "rh_max_pct": 80,
        "times": [{ "at_c": 30, "pot_life_s": "1 h 45", "recoat_min_s": "4 h", "recoat_max_s": "36 h" }],
        "colour": "signal red", "undercoat_colour": "grey", "stir": "pour_over", "strain_um": 190, "gun_filter_um": 125,
        "steps": [
            { "name": "tack", "atomizing_kpa": "45 psi", "passes_count": 1, "wait_s": "10 min", "look": "gloss_gone", "way": "along" },
            { "name": "wet", "atomizing_kpa": "50 psi", "passes_count": 2, "between_s": "5 min", "between_latest_s": "40 min",
              "way": "along", "crossed": true }
        ],
        "overlap": "half", "mock_up_over_m2": "300 ft2", "flush_with": "urethane thinner", "store_min_c": 5, "store_max_c": 30,
        "stream": "industrial", "hazards": ["isocyanate", "solvent", "pressure_vessel"]
    })
}

fn gel_coat() -> Value {
    json!({
        "name": "Flume gel coat, sand", "label": "Gel coat", "charge": "at_gun", "base_density_kg_l": 1.25, "solids_pct": 98,
        "has_hardener": true, "basis": "percent_by_weight", "hardener_pct": 1.8, "band_low_pct": 1.5, "band_high_pct": 2.5,
        "hardener_density_kg_l": 1.12,
        "recoat_min_s": "1 h 30", "recoat_max_s": "1 d", "recoat_at_c": 22,
        "wet_um": "20 mil", "film_proof": "comb", "wet_min_um": "18 mil", "wet_max_um": "24 mil",
        "first_pass_min_um": "6 mil", "first_pass_max_um": "12 mil", "pass_min_um": "5 mil", "pass_max_um": "10 mil",
        "steps": [{ "name": "build", "passes_count": 3, "between_s": "60 s", "distance_min_mm": "18 in", "distance_max_mm": "36 in" }],
        "temp_min_c": 15, "temp_max_c": 32, "margin_min_dk": 3, "rh_max_pct": 85,
        "colour": "sand", "stir": "paddle", "drum_stir_min_s": "10 min", "drum_stir_max_s": "15 min", "drum_rest_s": "15 min",
        "catalyst_air_min_kpa": "18 psi", "catalyst_air_max_kpa": "25 psi", "overlap": "fifth", "certificate_needed": true,
        "flush_with": "acetone", "shelf_life_days": 90, "store_min_c": "70 °F", "store_max_c": "85 °F",
        "hardener_store_max_c": "80 °F",
        "stream": "industrial", "hazards": ["peroxide", "styrene", "high_pressure_fluid"]
    })
}

fn adhesive() -> Value {
    json!({
        "name": "Collar contact adhesive", "label": "Adhesive", "charge": "at_gun", "base_density_kg_l": 0.98, "solids_pct": 52,
        "has_hardener": true, "basis": "by_weight", "ratio": "8:1", "hardener_density_kg_l": 1.08, "tolerance_pct": 5,
        "recoat_min_s": "5 min", "recoat_max_s": "45 min", "recoat_at_c": 20,
        "wet_um": "4 mil", "film_proof": "look", "wet_min_um": "2 mil", "wet_max_um": "6 mil",
        "temp_min_c": 10, "temp_max_c": 35, "margin_min_dk": 3, "rh_max_pct": 85,
        "stream": "general_pot", "hazards": ["solvent", "pressure_vessel"]
    })
}

fn waterborne() -> Value {
    json!({
        "name": "Sign finish, waterborne", "label": "Waterborne", "charge": "pot", "base_density_kg_l": 1.06, "solids_pct": 36,
        "has_hardener": true, "basis": "percent_by_volume", "hardener_pct": 10, "band_low_pct": 8, "band_high_pct": 12,
        "hardener_density_kg_l": 1.08, "tolerance_pct": 5,
        "thinner_max_pct": 5, "thinner_basis": "of_mixed", "thinner_density_kg_l": 1.0,
        "pot_life_s": "3 h", "pot_life_at_c": 21, "recoat_min_s": "1 h 30", "recoat_max_s": "1 d", "recoat_at_c": 21,
        "wet_um": "4 mil", "film_proof": "comb", "wet_min_um": "3 mil", "wet_max_um": "5 mil", "temp_min_c": 15, "temp_max_c": 32, "rh_max_pct": 75,
        "stir": "hand_only", "strain_um": 125, "store_min_c": 5, "store_max_c": 35,
        "stream": "general_pot", "hazards": ["pressure_vessel"]
    })
}

fn release() -> Value {
    json!({
        "name": "Mould release film", "label": "Release film", "charge": "pot", "base_density_kg_l": 0.95, "solids_pct": 8,
        "has_hardener": false, "wet_um": 25, "film_proof": "look", "wet_min_um": 10, "wet_max_um": 60, "temp_min_c": 15, "temp_max_c": 35,
        "recoat_min_s": "5 min", "recoat_at_c": 22,
        "steps": [{ "name": "mist", "atomizing_kpa": "10 psi", "passes_count": 3, "between_s": "5 min", "look": "damp_dull", "way": "circles" }],
        "stir": "shake", "flush_with": "water", "stream": "general_pot", "hazards": []
    })
}

fn texture() -> Value {
    json!({
        "name": "Deck texture, single pack", "label": "Deck texture", "charge": "pot", "base_density_kg_l": 1.55, "solids_pct": 48,
        "has_hardener": false, "wet_um": "20 mil", "film_proof": "look", "wet_min_um": "15 mil", "wet_max_um": "30 mil", "temp_min_c": 10, "temp_max_c": 35,
        "margin_min_dk": 3, "rh_max_pct": 85, "recoat_min_s": "4 h", "recoat_at_c": 20,
        "steps": [
            { "name": "ground", "atomizing_kpa": "40 psi", "passes_count": 1, "wait_s": "1 h", "look": "dry_to_touch" },
            { "name": "pattern", "atomizing_kpa": "35 psi", "passes_count": 1, "way": "circles" }
        ],
        "stir": "paddle", "stir_again_s": "20 min", "tip_min_um": 2500, "least_hose_bore_mm": "1/2 in", "least_rig": "A pot that feeds from its bottom",
        "flush_with": "water", "stream": "general_pot", "hazards": ["pressure_vessel"]
    })
}

/// Stiff, put on by brush below the water line; its maker states parts by volume and no density.
fn pile() -> Value {
    json!({
        "name": "Pile epoxy, wet surface", "label": "Pile epoxy", "charge": "pot", "solids_pct": 100,
        "has_hardener": true, "basis": "by_volume", "ratio": "1:1", "tolerance_pct": 10, "mixed_by_cup": true,
        "pot_life_s": "50 min", "pot_life_at_c": 21, "recoat_min_s": "6 h", "recoat_max_s": "1 d", "recoat_at_c": 21,
        "wet_um": "18 mil", "film_proof": "use", "wet_min_um": "15 mil", "wet_max_um": "40 mil", "area_max_m2_l": "85 ft2/gal",
        "temp_min_c": 5, "temp_max_c": 35, "colour": "grey", "stir": "hand_only",
        "flush_with": "epoxy thinner", "stream": "general_pot", "hazards": ["exotherm"]
    })
}

/// Cups as they are sold, one in fluid ounces and one with columns of parts.
fn cups() -> [(&'static str, Value); 2] {
    [
        ("cup/quart", json!({ "name": "Quart cup", "printed": "fl_oz", "holds_ml": "32 fl oz", "step_ml": "1 fl oz" })),
        (
            "cup/columns",
            json!({ "name": "Column cup, 4 : 1", "printed": "parts", "holds_ml": "1 L", "parts": "4 : 1", "last_count": 10, "step_count": 0.5 }),
        ),
    ]
}

/// Writes sheets and cups as the lead.
pub async fn write(crew: &Crew<'_>) -> Result<(), Problem> {
    let now = crew.state.clock.now();
    for (name, body) in all() {
        let sheet = sheets::parse(body, Prefs::METRIC)?;
        let mut tx = crew.state.db.begin().await?;
        sqlx::query!("insert into sheet (id, created) values ($1, $2)", id(name), now.to_sqlx() as _).execute(&mut *tx).await?;
        sheets::write(&mut tx, id(name), 1, &sheet, crew.one(Role::Lead).id, now).await?;
        tx.commit().await?;
    }
    for (name, cup) in cups() {
        instruments::put_cup(crew.state, id(name), cup, Prefs::METRIC).await?;
    }
    Ok(())
}
