//! The shop over HTTP: what it says of itself, and its first steps.

pub mod door;

use crate::auth::Person;
use crate::house::store;
use crate::problem::Answer;
use crate::state::State;
use actix_web::{get, put, web};
use level_keel_core::people::{Duty, has_duty};
use level_keel_core::quantity::resolve;
use level_keel_core::shop::{FirstStep, PutDown, Shop, first_steps};
use level_keel_core::wire::read as read_from;
use serde_json::Value;

/// What the shop says of itself.
#[utoipa::path(operation_id = "shop_read", tag = "shop", responses((status = 200, body = Shop)))]
#[get("/shop")]
pub async fn read(state: web::Data<State>, _person: Person) -> Answer<Shop> {
    Ok(web::Json(state.shop.now()))
}

/// Changes it. Owner only. Batches begun keep the zone they were begun in.
#[utoipa::path(operation_id = "shop_keep", tag = "shop", request_body = crate::openapi::ShopTyped, responses((status = 200, body = Shop), (status = 403), (status = 422)))]
#[put("/shop")]
pub async fn keep(state: web::Data<State>, person: Person, body: web::Json<Value>) -> Answer<Shop> {
    has_duty(person.role, Duty::House)?;
    let mut typed = body.into_inner();
    if let Value::Object(map) = &mut typed {
        // An empty text is a figure not given.
        map.retain(|_, v| v.as_str() != Some(""));
    }
    resolve(&mut typed, person.prefs)?;
    let shop = read_from::<Shop>(typed)?.validate(person.prefs)?;
    let mut tx = state.db.begin().await?;
    store(&mut tx, &shop).await?;
    tx.commit().await?;
    state.shop.set(shop.clone());
    Ok(web::Json(shop))
}

/// The first steps of a shop, and which are done.
#[utoipa::path(operation_id = "first_steps", tag = "shop", responses((status = 200, body = [FirstStep])))]
#[get("/shop/first-steps")]
pub async fn steps(state: web::Data<State>, _person: Person) -> Answer<Vec<FirstStep>> {
    let row = sqlx::query!(
        r#"select exists(select 1 from sheet) as "sheet!", exists(select 1 from rig) as "rig!",
             (select count(*) from person) > 1 as "people!", exists(select 1 from batch) as "batch!""#
    )
    .fetch_one(&state.db)
    .await?;
    let has = PutDown { sheet: row.sheet, rig: row.rig, people: row.people, batch: row.batch };
    Ok(web::Json(first_steps(has, state.shop.now().works_alone)))
}
