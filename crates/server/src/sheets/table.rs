//! The list of sheets as a table to take along.

use super::newest_of_all;
use crate::auth::Person;
use crate::export::Table;
use crate::problem::Problem;
use crate::state::State;
use actix_web::{HttpResponse, get, web};
use level_keel_core::quantity::Prefs;
use level_keel_core::sheets::Sheet;
use serde::Deserialize;
use utoipa::IntoParams;

/// Which sheets are wanted.
#[derive(Debug, Default, Deserialize, IntoParams)]
#[serde(default, deny_unknown_fields)]
pub struct FindSheets {
    /// In the name or the label.
    find: String,
}

/// The list of sheets as a table, in base units.
#[utoipa::path(operation_id = "sheets_csv", tag = "sheets", params(FindSheets), responses((status = 200, content_type = "text/csv")))]
#[get("/sheets.csv")]
pub async fn csv(state: web::Data<State>, _person: Person, find: web::Query<FindSheets>) -> Result<HttpResponse, Problem> {
    let heads = [
        "name",
        "label",
        "edition",
        "ratio",
        "base_density_kg_l",
        "hardener_density_kg_l",
        "solids_pct",
        "thinner_max_pct",
        "pot_life_s",
        "pot_life_at_c",
        "induction_s",
        "recoat_min_s",
        "recoat_max_s",
        "wet_um",
        "wet_min_um",
        "wet_max_um",
        "written",
        "written_by",
        "id",
    ];
    let mut table = Table::new(&heads)?;
    let figure = |v: Option<f64>| v.map_or(String::new(), |v| v.to_string());
    let word = find.find.trim().to_lowercase();
    let named = |s: &Sheet| s.name.to_lowercase().contains(&word) || s.label.to_lowercase().contains(&word);
    for r in newest_of_all(&state, Prefs::METRIC).await?.into_iter().filter(|r| named(&r.sheet)) {
        let s = r.sheet;
        let figures = [
            s.base_density_kg_l,
            s.hardener_density_kg_l,
            Some(s.solids_pct),
            s.thinner_max_pct,
            s.pot_life_s,
            s.pot_life_at_c,
            s.induction_s,
            s.recoat_min_s,
            s.recoat_max_s,
            Some(s.wet_um),
            Some(s.wet_min_um),
            Some(s.wet_max_um),
        ];
        let before = [s.name, s.label, r.edition.to_string(), r.ratio];
        let after = [r.written.to_string(), r.written_by, r.id.to_string()];
        table.row(before.into_iter().chain(figures.map(figure)).chain(after))?;
    }
    table.download(&format!("level-keel-sheets-{}.csv", state.shop_day()))
}
