//! Air and surface where the work is, over the last hour: for a margin that falls while spraying goes on.

use crate::problem::Problem;
use jiff::Timestamp;
use jiff_sqlx::ToSqlx;
use level_keel_core::batch::beside::WeatherRead;
use level_keel_core::conditions::dew_point_c;
use level_keel_core::conditions::falling::LOOKS_BACK_S;
use level_keel_core::pot_life::after;
use sqlx::PgConnection;

/// Air and surface by the probes over the last hour, oldest first: each time one of them moved, with the others as they stood.
pub async fn weather(db: &mut PgConnection, sources: [Option<String>; 3], now: Timestamp) -> Result<Vec<WeatherRead>, Problem> {
    let [Some(air), Some(humidity), Some(surface)] = sources else { return Ok(Vec::new()) };
    let sources = [air, humidity, surface];
    let from = after(now, -LOOKS_BACK_S);
    let rows = sqlx::query!(
        r#"select source, at as "at: jiff_sqlx::Timestamp", value from reading where source = any($1) and at >= $2 order by at"#,
        &sources as &[String],
        from.to_sqlx() as _
    )
    .fetch_all(db)
    .await?;
    let mut stands: [Option<f64>; 3] = [None; 3];
    let read = rows.into_iter().map(|row| {
        if let Some(which) = sources.iter().position(|s| *s == row.source) {
            stands[which] = Some(row.value);
        }
        let [air_c, rh_pct, surface_c] = stands;
        let margin_dk = air_c.zip(rh_pct).zip(surface_c).map(|((air, rh), surface)| surface - dew_point_c(air, rh));
        WeatherRead { at: row.at.to_jiff(), margin_dk, rh_pct }
    });
    Ok(read.collect())
}
