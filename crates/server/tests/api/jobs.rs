//! Jobs over the wire: several coats from one Begin, one row on the board, what carries on, the pot handed on, a coat left out.

use super::client::{Client, applicator, lead};
use level_keel_harness::Shop;
use serde_json::{Value, json};
use sqlx::PgPool;
use uuid::Uuid;

/// A sheet of a finish that may stand so many times over itself.
async fn finish(shop: &Shop, coats: u32) -> String {
    let sheet = json!({ "name": "Gangway finish", "label": "", "charge": "pot", "base_density_kg_l": 1.3, "solids_pct": 60,
        "has_hardener": true, "basis": "by_volume", "ratio": "4:1", "hardener_density_kg_l": 1.0, "pot_life_s": "4 h", "pot_life_at_c": 20,
        "recoat_min_s": "20 min", "recoat_max_s": "2 d", "recoat_at_c": 20, "coats_most_count": coats,
        "wet_um": "4 mil", "wet_min_um": "3 mil", "wet_max_um": "6 mil", "film_proof": "look", "temp_min_c": 5, "temp_max_c": 35,
        "stream": "industrial", "hazards": ["solvent"] });
    let (status, made) = lead(shop).await.post("/sheets", json!({ "sheet": sheet })).await;
    assert_eq!(status, 200, "{made}");
    made["id"].as_str().unwrap().into()
}

fn wanted(sheet: &str, coats: Value) -> Value {
    json!({ "sheet": sheet, "part": "Gangway 2", "coat": "finish", "area_m2": 6, "film_um": "4 mil", "film_is": "wet", "transfer_pct": 65,
        "method": "roller", "substrate": "sanded_steel", "coat_count": coats })
}

async fn seen(client: &Client, book: &str) -> Value {
    client.get(&format!("/batches/{book}")).await.1
}

fn waiting(view: &Value) -> Vec<String> {
    let items = view["ready"]["groups"].as_array().unwrap().iter().flat_map(|g| g["items"].as_array().unwrap());
    items.filter(|i| i["state"] == "open").map(|i| i["key"].as_str().unwrap().to_string()).collect()
}

/// A lead lets lots stand that the stores do not know.
async fn lots_released(client: &Client, shop: &Shop, book: &str) {
    let view = seen(client, book).await;
    for hold in view["holds"].as_array().unwrap().iter().filter(|h| h["released"].is_null() && h["gate"] == "lots") {
        let release = json!({ "gate": "lots", "item": hold["item"], "trouble": hold["trouble"], "reason": "looked at", "seen_seq": seen(client, book).await["head_seq"] });
        lead(shop).await.wrote(book, "release", release).await;
    }
}

/// Makes a coat ready by itself.
async fn made_ready(client: &Client, shop: &Shop, book: &str) {
    client.wrote(book, "conditions", json!({ "air_c": 21, "surface_c": 20, "material_c": 20, "rh_pct": 50 })).await;
    client.wrote(book, "guards", json!({ "hazards": ["solvent"] })).await;
    for component in ["base", "hardener"] {
        client.wrote(book, "take_lot", json!({ "component": component, "lot": format!("G{component}-1") })).await;
    }
    for key in waiting(&seen(client, book).await) {
        client.wrote(book, "tick", json!({ "item": key, "did": "done" })).await;
    }
    lots_released(client, shop, book).await;
}

/// Mixes a litre and puts some of it on; the rest stands in its pot.
async fn on(client: &Client, book: &str) -> Uuid {
    let charge = Uuid::now_v7();
    client.wrote(book, "open_charge", json!({ "charge": charge, "kind": "pot", "wanted_ml": 1000 })).await;
    let pour = |component: &str, g: f64| json!({ "charge": charge, "component": component, "reading_g": g, "resolution_g": 1 });
    client.wrote(book, "pour", pour("base", 1040.0)).await;
    client.wrote(book, "combine", json!({ "charge": charge })).await;
    client.wrote(book, "pour", pour("hardener", 1240.0)).await;
    client.wrote(book, "stirred", json!({ "charge": charge })).await;
    client.wrote(book, "start_spraying", json!({ "charge": charge })).await;
    client.wrote(book, "pass", json!({ "charge": charge, "zones": [], "used_ml": 500 })).await;
    charge
}

async fn rows(client: &Client) -> Vec<Value> {
    let (_, board) = client.get("/board").await;
    let mine = |b: &&Value| b["label"].as_str().unwrap().starts_with("Gangway");
    board["batches"].as_array().unwrap().iter().filter(mine).cloned().collect()
}

#[sqlx::test]
async fn several_coats_from_one_begin_are_one_job(db: PgPool) {
    let shop = Shop::open(db).await;
    let client = applicator(&shop).await;
    let sheet = finish(&shop, 3).await;
    let id = Uuid::now_v7();
    let begin = |coats: Value| json!({ "id": id, "wanted": wanted(&sheet, coats) });
    for bad in [json!(4), json!("1/2"), json!("2 psi")] {
        let (status, body) = client.post("/batches", begin(bad.clone())).await;
        assert_eq!((status.as_u16(), body["field"].as_str()), (422, Some("coat_count")), "{bad}: {body}");
    }
    let (status, body) = client.post("/batches", begin(json!(3))).await;
    assert_eq!(status, 200, "{body}");
    // A double tap is one job, and not one of another count.
    assert_eq!(client.post("/batches", begin(json!(3))).await.1["repeated"], true);
    assert_eq!(client.post("/batches", begin(json!(2))).await.1["code"], "id-taken");
    let first = id.to_string();
    let view = seen(&client, &first).await;
    let coats = view["job"]["coats"].as_array().unwrap();
    assert_eq!(coats.len(), 3, "{view}");
    let second = coats[1]["batch"].as_str().unwrap().to_string();
    let third = coats[2]["batch"].as_str().unwrap().to_string();
    assert_eq!(rows(&client).await.len(), 1, "a job is one row");
    assert!(rows(&client).await[0]["label"].as_str().unwrap().ends_with("coat 1 of 3"));
    // The second waits for the first.
    assert_eq!(client.write(&second, "carry_on", json!({})).await.1["code"], "not-on");
    made_ready(&client, &shop, &first).await;
    let charge = on(&client, &first).await;
    // What is left of the pot goes to the second coat; the first is on, and the board shows the second.
    let hand_to = seen(&client, &first).await["mix"]["hand_to"].clone();
    let next = hand_to.as_array().unwrap().iter().find(|h| h["next_coat"] == true).expect("the next coat");
    assert_eq!(next["id"], second.as_str());
    assert_eq!(client.write(&second, "carry_on", json!({ "touched": false, "items": ["forged"] })).await.0, 200);
    let carried = seen(&client, &second).await;
    assert_eq!(waiting(&carried), [""; 0], "{}", carried["ready"]["groups"]);
    assert!(carried["log"][0]["text"].as_str().unwrap().contains("Carried on from batch"), "{}", carried["log"][0]);
    assert!(!carried.to_string().contains("forged"), "what is carried on the server says");
    let hand = json!({ "id": Uuid::now_v7(), "charge": charge, "to_batch": second });
    assert_eq!(client.post(&format!("/books/{first}/hand-over"), hand).await.0, 200);
    assert!(rows(&client).await[0]["label"].as_str().unwrap().ends_with("coat 2 of 3"), "{:?}", rows(&client).await);
    // The coat beneath is the first of the same job, and its window holds.
    let beneath = &seen(&client, &second).await["ready"]["beneath"];
    assert_eq!(
        (beneath["other"]["batch"].as_str(), beneath["state"].as_str()),
        (Some(first.as_str()), Some("wait")),
        "{beneath}"
    );
    lots_released(&client, &shop, &second).await;
    let pot = seen(&client, &second).await["mix"]["pots"][0]["id"].clone();
    assert_eq!(client.write(&second, "start_spraying", json!({ "charge": pot })).await.1["code"], "hold");
    shop.clock.advance(jiff::SignedDuration::from_mins(25));
    client.wrote(&second, "start_spraying", json!({ "charge": pot })).await;
    client.wrote(&second, "pass", json!({ "charge": pot, "zones": [], "used_ml": 400 })).await;
    // The third is left out: the board forgets it, the log does not.
    assert_eq!(client.write(&first, "leave_out", json!({ "reason": "enough" })).await.0, 409);
    client.wrote(&third, "leave_out", json!({ "reason": "the film is there" })).await;
    let view = seen(&client, &second).await;
    assert_eq!(view["job"]["coats"][2]["word"], "left out", "{}", view["job"]);
    let (_, found) = client.get("/records?find=Gangway").await;
    assert_eq!(found["rows"][0]["state"], "left_out", "{found}");
    assert!(level_keel_server::books::check_log(&shop.state.db).await.unwrap().faults.is_empty());
    // The part says which coats are on.
    let (_, parts) = client.get("/parts?find=Gangway").await;
    let (_, part) = client.get(&format!("/parts/{}", parts[0]["id"].as_str().unwrap())).await;
    let of_job: Vec<&str> =
        part["coats"][0]["batches"].as_array().unwrap().iter().map(|b| b["of_job"].as_str().unwrap()).collect();
    assert_eq!(of_job, ["3 of 3", "2 of 3", "1 of 3"], "{part}");
    shop.close().await;
}

#[sqlx::test]
async fn a_sheet_that_says_nothing_of_itself_has_one_coat(db: PgPool) {
    let shop = Shop::open(db).await;
    let client = applicator(&shop).await;
    let (_, sheets) = client.get("/sheets").await;
    let primer = sheets.as_array().unwrap().iter().find(|s| s["name"] == "Island epoxy primer").unwrap();
    let asked = json!({ "id": Uuid::now_v7(), "wanted": wanted(primer["id"].as_str().unwrap(), json!(2)) });
    let (status, body) = client.post("/batches", asked).await;
    assert_eq!((status.as_u16(), body["field"].as_str()), (422, Some("coat_count")), "{body}");
    // Two dozen shutters, two sides of 0.6 m²: each side is a zone, and the area is reckoned.
    let mut pieces = wanted(primer["id"].as_str().unwrap(), Value::Null);
    for (field, value) in
        [("piece_count", json!(24)), ("side_count", json!(2)), ("side_m2", json!("0.6 m2")), ("area_m2", json!(0))]
    {
        pieces[field] = value;
    }
    let id = Uuid::now_v7();
    assert_eq!(client.post("/batches", json!({ "id": id, "wanted": pieces })).await.0, 200);
    let view = seen(&client, &id.to_string()).await;
    assert!(view["subtitle"].as_str().unwrap().replace('\u{a0}', " ").contains("28.8 m²"), "{}", view["subtitle"]);
    assert_eq!(view["spray"]["pieces"].as_array().unwrap().len(), 2);
    assert_eq!(view["zones"].as_array().unwrap().len(), 2);
    shop.close().await;
}
