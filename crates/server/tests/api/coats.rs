//! Coats of one part: the recoat clock by its safe side, and the batch of the next coat linked.

use super::client::{Client, applicator, lead};
use jiff::SignedDuration;
use level_keel_harness::Shop;
use serde_json::{Value, json};
use sqlx::PgPool;
use uuid::Uuid;

/// A single-pack sheet: recoat 2 h to 2 d at 20 °C, no hazards.
async fn sheet(shop: &Shop) -> Value {
    let body = json!({
        "name": "Quay single-pack", "label": "", "charge": "pot", "base_density_kg_l": 1.2, "solids_pct": 45, "has_hardener": false,
        "recoat_min_s": "2 h", "recoat_max_s": "2 d", "recoat_at_c": 20, "wet_um": "4 mil", "wet_min_um": "3 mil", "wet_max_um": "6 mil",
        "temp_min_c": 5, "temp_max_c": 35, "stream": "industrial", "hazards": []
    });
    let (status, row) = lead(shop).await.post("/sheets", json!({ "sheet": body })).await;
    assert_eq!(status, 200, "{row}");
    row["id"].clone()
}

async fn begin(client: &Client, sheet: &Value, coat: &str) -> String {
    let id = Uuid::now_v7();
    let wanted = json!({ "sheet": sheet, "part": "Bollard 2", "coat": coat, "area_m2": 2, "film_um": "4 mil", "film_is": "wet", "transfer_pct": 60 });
    let (status, body) = client.post("/batches", json!({ "id": id, "wanted": wanted })).await;
    assert_eq!(status, 200, "{body}");
    id.to_string()
}

fn read(surface_c: f64) -> Value {
    json!({ "air_c": surface_c, "surface_c": surface_c, "material_c": 20, "rh_pct": 40 })
}

/// Reads conditions at a surface temperature and fills a can for the gun.
async fn filled(shop: &Shop, client: &Client, book: &str, surface_c: f64) -> Uuid {
    shop.make_ready(book).await;
    let charge = Uuid::now_v7();
    client.wrote(book, "conditions", read(surface_c)).await;
    client.wrote(book, "open_charge", json!({ "charge": charge, "kind": "pot", "wanted_ml": 500 })).await;
    client.wrote(book, "pour", json!({ "charge": charge, "component": "base", "reading_g": 600, "resolution_g": 1 })).await;
    charge
}

/// The surface is as cold as anybody read it since the coat was on: a reading in another open batch of the part counts, though
/// that batch was begun before.
#[sqlx::test]
async fn a_reading_in_any_open_batch_of_the_part_counts(db: PgPool) {
    let shop = Shop::open(db).await;
    let client = applicator(&shop).await;
    let sheet = sheet(&shop).await;
    let primer = begin(&client, &sheet, "primer").await;
    let early = begin(&client, &sheet, "finish").await;
    let can = filled(&shop, &client, &primer, 20.0).await;
    client.wrote(&primer, "start_spraying", json!({ "charge": can })).await;
    shop.clock.advance(SignedDuration::from_mins(1));
    client.wrote(&primer, "pass", json!({ "charge": can })).await;
    let late = begin(&client, &sheet, "finish").await;
    let waits_s = async || client.get(&format!("/batches/{late}")).await.1["ready"]["beneath"]["changes_s"].as_f64().unwrap();
    assert!((waits_s().await - 2.0 * 3600.0).abs() < 60.0, "two hours by the sheet at 20 °C");
    shop.clock.advance(SignedDuration::from_mins(1));
    client.wrote(&early, "conditions", read(10.0)).await;
    let waits = waits_s().await;
    assert!((waits - 4.0 * 3600.0).abs() < 180.0, "ten degrees colder, twice as long: {waits} s");
    shop.close().await;
}

#[sqlx::test]
async fn the_next_coat_waits_for_the_one_beneath(db: PgPool) {
    let shop = Shop::open(db).await;
    let (client, lead) = (applicator(&shop).await, lead(&shop).await);
    let sheet = sheet(&shop).await;
    let primer = begin(&client, &sheet, "primer").await;
    let finish = begin(&client, &sheet, "finish").await;
    let view = async |book: &str| client.get(&format!("/batches/{book}")).await.1;

    // The primer is not sprayed: its finish says so and cannot be begun.
    assert_eq!(view(&finish).await["ready"]["beneath"]["state"], "not_sprayed");
    let can = filled(&shop, &client, &finish, 20.0).await;
    let (_, refused) = client.write(&finish, "start_spraying", json!({ "charge": can })).await;
    assert!(refused["detail"].as_str().unwrap().contains("is not on yet"), "{refused}");

    // Sprayed at 10 °C: two hours of the sheet become four.
    let first = filled(&shop, &client, &primer, 10.0).await;
    client.wrote(&primer, "start_spraying", json!({ "charge": first })).await;
    client.wrote(&primer, "pass", json!({ "charge": first })).await;
    let seen = view(&finish).await;
    assert_eq!(seen["ready"]["beneath"]["state"], "wait");
    let left = seen["ready"]["beneath"]["changes_s"].as_f64().unwrap();
    assert!((left - 4.0 * 3600.0).abs() < 60.0, "{left}");
    assert_eq!(seen["stations"][0]["state"], "hold", "held under the line");
    let after = view(&primer).await;
    assert_eq!(after["close"]["recoat"]["other"]["batch"], finish.as_str(), "the next coat is linked");
    assert_eq!(seen["ready"]["beneath"]["other"]["batch"], primer.as_str(), "and the one beneath");

    let (status, refused) = client.write(&finish, "start_spraying", json!({ "charge": can })).await;
    assert_eq!((status.as_u16(), refused["code"].as_str()), (409, Some("hold")), "{refused}");
    shop.clock.advance(SignedDuration::from_mins(241));
    let (_, old) = client.write(&finish, "start_spraying", json!({ "charge": can })).await;
    assert!(old["detail"].as_str().unwrap().contains("Read them again"), "the weather moved meanwhile: {old}");
    client.wrote(&finish, "conditions", read(20.0)).await;
    let started = client.wrote(&finish, "start_spraying", json!({ "charge": can })).await;
    assert_eq!(started["view"]["ready"]["beneath"]["state"], "open");
    let (_, card) = client.get(&format!("/batches/{finish}/card")).await;
    assert_eq!(card["document"]["charges"][0]["over"]["batch"], primer.as_str(), "the window kept stands on the card");

    // A third coat far too late: hold until a lead has seen it abraded, then the release stands.
    client.wrote(&finish, "pass", json!({ "charge": can })).await;
    let third = begin(&client, &sheet, "second finish").await;
    shop.clock.advance(SignedDuration::from_hours(72));
    let (client, lead_again) = (applicator(&shop).await, super::client::lead(&shop).await);
    let can = filled(&shop, &client, &third, 20.0).await;
    let (_, refused) = client.write(&third, "start_spraying", json!({ "charge": can })).await;
    assert!(refused["detail"].as_str().unwrap().contains("Abrade it"), "{refused}");
    let head = client.get(&format!("/batches/{third}")).await.1["head_seq"].clone();
    lead_again.wrote(&third, "release", json!({ "gate": "recoat", "reason": "abraded, P180", "seen_seq": head })).await;
    shop.clock.advance(SignedDuration::from_hours(2));
    client.wrote(&third, "conditions", read(20.0)).await;
    client.wrote(&third, "start_spraying", json!({ "charge": can })).await;
    drop(lead);
    shop.close().await;
}

/// What is known of a part, its coat and its product, for the form of a batch: nothing of what nobody knows.
#[sqlx::test]
async fn a_batch_is_proposed_from_what_is_known(db: PgPool) {
    let shop = Shop::open(db).await;
    let client = applicator(&shop).await;
    let proposed = async |query: &str| {
        let (status, body) = client.get(&format!("/batches/proposed?{query}")).await;
        assert_eq!(status, 200, "{query}: {body}");
        body
    };
    let nothing = proposed("").await;
    assert_eq!(nothing["fields"], json!({}), "nothing is named, nothing is filled");
    let next: Vec<&str> = nothing["next"].as_array().unwrap().iter().map(|n| n["part"].as_str().unwrap()).collect();
    assert_eq!(next, ["Buoy 3"], "parts in work have no next coat to begin, parts without a plan are not here");
    assert_eq!(
        (&nothing["next"][0]["coat"], &nothing["next"][0]["product"]),
        (&json!("finish"), &json!("Marker urethane finish"))
    );

    let known = proposed("part=buoy%203&coat=FINISH").await["fields"].clone();
    let from = |field: &str| known[field]["from"].as_str().unwrap_or("").to_string();
    for field in ["sheet", "method", "film_um", "film_is"] {
        assert_eq!(from(field), "by the plan of the coat", "{field}");
    }
    assert_eq!(known["film_um"]["text"], "4 mil");
    assert_eq!((from("area_m2"), from("substrate")), ("as in batch 0001".into(), "over batch 0001".into()));
    assert!(from("transfer_pct").starts_with("as in batch"), "{known}");

    // A sheet alone says its film; a part nobody knows says nothing more.
    let (_, sheets) = client.get("/sheets").await;
    let gel = sheets.as_array().unwrap().iter().find(|s| s["name"].as_str().unwrap().starts_with("Flume")).unwrap();
    let id = gel["id"].as_str().unwrap();
    let alone = proposed(&format!("part=Nowhere&coat=gel%20coat&sheet={id}")).await["fields"].clone();
    assert_eq!(alone["film_um"]["from"], "by the sheet");
    assert!(alone.get("area_m2").is_none() && alone.get("sheet").is_none(), "{alone}");
    // A sheet that is not here is named; an id that is none is the client's fault.
    let (status, body) = client.get("/batches/proposed?sheet=0191d000-0000-7000-8000-000000000000").await;
    assert_eq!((status.as_u16(), &body["field"]), (422, &json!("sheet")), "{body}");
    assert!(client.get("/batches/proposed?sheet=x").await.0.is_client_error());
    shop.close().await;
}
