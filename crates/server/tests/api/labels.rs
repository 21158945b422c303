//! Labels of lots, pots, parts and rigs; and their addresses scanned where a code or a name is typed.

use super::client::{Client, applicator};
use level_keel_core::labels::LEAST_DOT_MM;
use level_keel_harness::Shop;
use serde_json::{Value, json};
use sqlx::PgPool;
use uuid::Uuid;

async fn id_of(client: &Client, q: &str) -> String {
    let (_, found) = client.get(&format!("/find?q={q}")).await;
    found["rows"][0]["id"].as_str().unwrap_or_else(|| panic!("{found}")).to_string()
}

async fn scanned(client: &Client, address: &str) -> Value {
    let query = reqwest::Url::parse_with_params("http://shop/find", [("q", address)]).unwrap();
    client.get(&format!("/find?{}", query.query().unwrap())).await.1
}

/// What is printed opens what it is printed of, and its dots are coarse enough for a dusty can.
#[sqlx::test]
async fn labels_open_what_they_name(db: PgPool) {
    let shop = Shop::open(db).await;
    let client = applicator(&shop).await;
    let (_, parts) = client.get("/parts").await;
    let (_, board) = client.get("/board").await;
    let pot = board["pots"].as_array().unwrap().iter().find(|p| p["vessel"] == "pot").expect("a live pot").clone();
    let (batch, charge) = (pot["batch"].as_str().unwrap(), pot["id"].as_str().unwrap());
    let (lot, part, rig) =
        (id_of(&client, "P-2207").await, parts[0]["id"].as_str().unwrap(), id_of(&client, "Collar twin pots").await);
    let of = format!("lot:{lot},part:{part},rig:{rig},pot:{batch}:{charge}");
    let (status, sheet) = client.get(&format!("/labels?of={of}")).await;
    assert_eq!(status, 200, "{sheet}");
    let labels = sheet["labels"].as_array().unwrap();
    let kinds: Vec<&str> = labels.iter().map(|l| l["label"]["is"].as_str().unwrap()).collect();
    assert_eq!(kinds, ["lot", "part", "rig", "pot"]);
    for label in labels {
        let found = scanned(&client, label["address"].as_str().unwrap()).await;
        assert_eq!((&found["by_label"], &found["rows"][0]["is"]), (&json!(true), &label["label"]["is"]), "{found}");
        for paper in sheet["papers"].as_array().unwrap() {
            let dot_mm = paper["code_mm"].as_f64().unwrap() / label["code"]["dots"].as_f64().unwrap();
            assert!(dot_mm >= LEAST_DOT_MM, "{dot_mm} mm on {paper}");
        }
    }
    // A pot opens the batch it stands in.
    let address = labels[3]["address"].as_str().unwrap();
    assert_eq!(scanned(&client, address).await["rows"][0]["id"], batch);
    let gone = address.replace(charge, &Uuid::now_v7().to_string());
    assert_eq!(scanned(&client, &gone).await["rows"], json!([]));
    let nil = Uuid::nil();
    for (of, want) in [
        (format!("lot:{nil}"), 404),
        (format!("part:{nil}"), 404),
        (format!("rig:{nil}"), 422),
        (format!("pot:{batch}:{nil}"), 404),
        (format!("pot:{nil}:{charge}"), 404),
        (format!("pot:{batch}"), 422),
        (format!("person:{nil}"), 422),
        ("lot:x".into(), 422),
        (vec![format!("lot:{lot}"); 61].join(","), 422),
    ] {
        assert_eq!(client.get(&format!("/labels?of={of}")).await.0, want, "{of}");
    }
    assert_eq!(client.get("/labels").await.1["labels"], json!([]));
    assert_eq!(Client::unsigned(&shop.address).get(&format!("/labels?of={of}")).await.0, 401);
    shop.close().await;
}

/// A scanner types the whole address into the field in focus; the field takes what it names.
#[sqlx::test]
async fn a_label_is_scanned_into_a_field(db: PgPool) {
    let shop = Shop::open(db).await;
    let client = applicator(&shop).await;
    let book = client.begun().await;
    let (_, lots) = client.get("/lots?find=P-2207").await;
    let lot = lots["lots"][0].clone();
    let address = format!("{}/stores/{}", shop.address, lot["id"].as_str().unwrap());
    let (_, parts) = client.get("/parts").await;
    let part = &parts[0];
    let part_address = format!("{}/parts/{}", shop.address, part["id"].as_str().unwrap());
    let take = |lot: &str| json!({ "component": lots["lots"][0]["component"], "lot": lot, "reason": "asked for" });
    let view = client.wrote(&book, "take_lot", take(&address)).await;
    assert!(view.to_string().contains("P-2207"), "{view}");
    for (typed, code) in [
        (part_address.clone(), "other-label"),
        (format!("{}/stores/{}", shop.address, Uuid::nil()), "unknown-lot"),
        ("https://example.com/stores".into(), "foreign-label"),
    ] {
        let (status, body) = client.write(&book, "take_lot", take(&typed)).await;
        assert_eq!((status.as_u16(), body["code"].as_str(), body["field"].as_str()), (422, Some(code), Some("lot")), "{typed}");
    }
    // The part of a new batch.
    let proposed = async |part: &str| {
        let query = reqwest::Url::parse_with_params("http://shop/", [("part", part)]).unwrap();
        client.get(&format!("/batches/proposed?{}", query.query().unwrap())).await
    };
    assert_eq!(proposed(&part_address).await.1["part"], part["name"]);
    assert_eq!(proposed("Buoy 8").await.1["part"], Value::Null);
    let (status, body) = proposed(&address).await;
    assert_eq!((status.as_u16(), body["code"].as_str(), body["field"].as_str()), (422, Some("other-label"), Some("part")));
    let gone = format!("{}/parts/{}", shop.address, Uuid::nil());
    assert_eq!(proposed(&gone).await.1["code"], "unknown-part");
    // An address never becomes the name of a part.
    let (_, sheets) = client.get("/sheets").await;
    let wanted = json!({ "sheet": sheets[0]["id"], "part": part_address, "coat": "primer", "area_m2": 1, "film_um": 200, "film_is": "wet", "transfer_pct": 60, "zones": [] });
    let (status, body) = client.post("/batches", json!({ "id": Uuid::now_v7(), "wanted": wanted })).await;
    assert_eq!((status.as_u16(), body["code"].as_str()), (422, Some("address-as-name")), "{body}");
    shop.close().await;
}
