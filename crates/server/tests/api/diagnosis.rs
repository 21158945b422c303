//! Defects over the wire: seen, looked for, settled, repaired; what they came of weighs in later; the weeks of the demo.

use super::client::{Client, INSPECTOR, applicator, lead};
use level_keel_harness::Shop;
use level_keel_server::books::check_log;
use level_keel_server::demo;
use serde_json::{Value, json};
use sqlx::PgPool;
use uuid::Uuid;

async fn book_of(client: &Client, label: &str) -> String {
    let (_, records) = client.get(&format!("/records?find={}", label.replace(' ', "%20"))).await;
    records["rows"][0]["id"].as_str().expect("a finished batch").to_string()
}

#[sqlx::test]
async fn a_defect_leads_to_its_causes_and_its_repair(db: PgPool) {
    let shop = Shop::open(db).await;
    let (client, lead, inspector) = (applicator(&shop).await, lead(&shop).await, Client::signed(&shop.address, INSPECTOR).await);
    let book = book_of(&lead, "Flume section 11").await;
    let at = format!("/batches/{book}/defects");
    let (status, nothing) = client.get(&at).await;
    assert_eq!(
        (status.as_u16(), nothing["defects"].as_array().unwrap().len(), nothing["symptoms"].as_array().unwrap().len()),
        (200, 0, 20)
    );
    assert_eq!(client.get(&format!("/batches/{}/defects", Uuid::now_v7())).await.0, 404);
    let (_, card) = client.get(&format!("/batches/{book}/card.json")).await;
    // By name what is wrong with it: another zone, a symptom that is none, a photo that is not here.
    let refused = async |payload: Value| {
        let (status, said) = client.write(&book, "defect_seen", payload).await;
        (
            status.as_u16(),
            said["code"].as_str().unwrap_or_default().to_string(),
            said["field"].as_str().unwrap_or_default().to_string(),
        )
    };
    let zones = client.get(&format!("/batches/{book}?station=close")).await.1["zones"].clone();
    let lip = zones.as_array().unwrap().iter().find(|z| z["name"] == "lip").expect("a lip")["id"].clone();
    assert_eq!(
        refused(json!({ "symptom": "porosity", "zone": Uuid::now_v7() })).await,
        (422, "unknown-zone".into(), "zone".into())
    );
    assert_eq!(refused(json!({ "symptom": "warts" })).await.0, 422);
    let photo = json!({ "sha256": "0".repeat(64), "name": "lip.png" });
    assert_eq!(refused(json!({ "symptom": "porosity", "photo": photo })).await.1, "unknown-file");
    client.wrote(&book, "defect_seen", json!({ "symptom": "porosity", "zone": lip, "text": "fine holes" })).await;
    let (_, view) = client.get(&at).await;
    let seen = &view["defects"][0];
    let cause = |view: &Value, name: &str| {
        view["defects"][0]["causes"].as_array().unwrap().iter().find(|c| c["cause"] == name).expect("a cause").clone()
    };
    // The first pass was 7 to 8 mil: that speaks against it, and its entry is named.
    let heavy = cause(&view, "first_pass_heavy");
    assert_eq!(
        (heavy["strength"].as_str(), heavy["evidence"][0]["side"].as_str()),
        (Some("against"), Some("against")),
        "{heavy}"
    );
    let (_, log) = client.get(&format!("/batches/{book}/log")).await;
    assert!(log.as_array().unwrap().iter().any(|l| l["entry"] == heavy["evidence"][0]["entry"]));
    assert!(view["can_settle"] == false && seen["zone_name"] == "lip", "{seen}");
    let defect = seen["entry"].clone();
    client.wrote(&book, "defect_look", json!({ "defect": defect, "look": "holes_from_below", "yes": true })).await;
    assert_eq!(cause(&client.get(&at).await.1, "first_pass_heavy")["counts"], json!([1, 1, 0]));
    let settled = json!({ "defect": defect, "cause": "overlap_wrong", "text": "no" });
    assert_eq!(client.write(&book, "defect_settled", settled).await.0, 403);
    inspector
        .wrote(&book, "defect_settled", json!({ "defect": defect, "cause": "cold_surface", "text": "the mould stood outside" }))
        .await;
    // What was signed stays as it was signed.
    assert_eq!(client.get(&format!("/batches/{book}/card.json")).await.1, card);
    // Its repair is a batch of its own: linked both ways, its lists ask for clean and scuffed.
    let wanted = json!({ "sheet": view["sheet"], "part": view["part_name"], "coat": view["repair_coat"], "zones": ["lip"], "area_m2": 1.2,
        "film_um": "20 mil", "film_is": "wet", "transfer_pct": 80, "substrate": "already_coated", "method": "gel_coat_machine" });
    let begin = async |defect: &Value| {
        let mut wanted = wanted.clone();
        wanted["repairs"] = json!({ "batch": book, "defect": defect });
        client.post("/batches", json!({ "id": Uuid::now_v7(), "wanted": wanted })).await
    };
    let (status, refusal) = begin(&json!(Uuid::now_v7())).await;
    assert_eq!((status.as_u16(), refusal["code"].as_str()), (422, Some("unknown-defect")));
    let (status, begun) = begin(&defect).await;
    assert_eq!(status, 200, "{begun}");
    let repair = begun["view"]["id"].as_str().expect("a batch").to_string();
    let (_, ready) = client.get(&format!("/batches/{repair}?station=ready")).await;
    let text = ready["ready"].to_string();
    assert!(text.contains("\"scuffed\"") && text.contains("\"repair_sound\""), "{text}");
    let (_, view) = client.get(&at).await;
    assert_eq!(view["defects"][0]["repaired_by"][0]["batch"], repair.as_str());
    let (_, back) = client.get(&format!("/batches/{repair}/defects")).await;
    assert_eq!(
        (&back["repairs"]["batch"], back["repairs"]["text"].as_str()),
        (&json!(book), Some("It repairs porosity of batch 0002"))
    );
    // The part tells it as one story, in order.
    let (_, story) = client.get(&format!("/parts/{}/story", view["part"].as_str().unwrap())).await;
    let kinds: Vec<&str> = story.as_array().unwrap().iter().filter_map(|l| l["kind"].as_str()).collect();
    assert_eq!(kinds, ["work", "work", "signed", "signed", "defect", "settled", "repair"], "{story}");
    assert_eq!(client.get(&format!("/parts/{}/story", Uuid::now_v7())).await.0, 404);
    assert!(check_log(&shop.state.db).await.unwrap().faults.is_empty());
    shop.close().await;
}

/// What five outcomes were weighs in and says so; an outcome struck does not; rows that were changed are found out.
#[sqlx::test]
async fn what_the_shop_found_before_weighs_in(db: PgPool) {
    let shop = Shop::open(db).await;
    let (lead, client) = (lead(&shop).await, applicator(&shop).await);
    let (one, other) = (book_of(&lead, "Flume section 11").await, book_of(&lead, "Buoy 3").await);
    let mut outcomes = Vec::new();
    for _ in 0..5 {
        client.wrote(&one, "defect_seen", json!({ "symptom": "fish_eyes" })).await;
        let (_, view) = client.get(&format!("/batches/{one}/defects")).await;
        let defect = view["defects"].as_array().unwrap().iter().find(|d| d["settled"].is_null()).unwrap()["entry"].clone();
        lead.wrote(&one, "defect_settled", json!({ "defect": defect, "cause": "dirt", "text": "wax" })).await;
        let (_, log) = client.get(&format!("/batches/{one}/log")).await;
        outcomes.push(log[0]["entry"].clone());
    }
    client.wrote(&other, "defect_seen", json!({ "symptom": "fish_eyes" })).await;
    let shop_says = async || {
        let (_, view) = client.get(&format!("/batches/{other}/defects")).await;
        let causes = view["defects"][0]["causes"].as_array().unwrap().clone();
        causes.into_iter().find(|c| c["cause"] == "dirt").unwrap()["shop"].clone()
    };
    assert_eq!(shop_says().await, "5 of the 5 settled here for fish-eyes were this; weighed in.");
    lead.wrote(&one, "strike", json!({ "entry": outcomes[0], "reason": "it was another" })).await;
    assert_eq!(shop_says().await, Value::Null, "four are too few");
    assert!(check_log(&shop.state.db).await.unwrap().faults.is_empty());
    sqlx::query("update defect set cause = 'wet_air' where cause = 'dirt'").execute(&shop.state.db).await.unwrap();
    let faults = check_log(&shop.state.db).await.unwrap().faults;
    assert!(faults.iter().any(|f| f.contains("its defects are not those of its log")), "{faults:?}");
    shop.close().await;
}

/// The weeks of the demo: forty closed batches by the books' own rules, a porosity found by the finder, a repair, a pot past its life,
/// a deck accepted by its look with its photos, use that was learned.
#[sqlx::test]
async fn eight_weeks_are_laid_on_by_the_books_own_rules(db: PgPool) {
    let mut shop = Shop::empty(db).await;
    shop.state.settings.demo = true;
    shop.state.settings.demo_weeks = true;
    Box::pin(demo::bring_up(&shop.state)).await.expect("the weeks load");
    shop.state.shop.read_again(&shop.state.db, &shop.state.settings).await.expect("what the shop says of itself");
    assert!(check_log(&shop.state.db).await.unwrap().faults.is_empty());
    let closed: i64 =
        sqlx::query_scalar("select count(*) from batch where state = 'accepted'").fetch_one(&shop.state.db).await.unwrap();
    assert_eq!(closed, 43, "forty of the weeks and three of before");
    let client = lead(&shop).await;
    let (_, records) = client.get("/records?find=Flume%20section%207").await;
    let porous = records["rows"].as_array().unwrap().iter().find(|r| r["label"] == "Flume section 7 · gel coat").unwrap().clone();
    let (_, view) = client.get(&format!("/batches/{}/defects", porous["id"].as_str().unwrap())).await;
    let defect = &view["defects"][0];
    assert_eq!(defect["says"], "The record speaks strongly for one: first pass too heavy.");
    assert_eq!(
        (&defect["settled"]["cause"], &defect["causes"][0]["cause"]),
        (&json!("first_pass_heavy"), &json!("first_pass_heavy"))
    );
    assert_eq!(defect["repaired_by"][0]["text"], "Batch 0029, accepted");
    let deck = book_of(&client, "Jetty deck 1").await;
    let (_, close) = client.get(&format!("/batches/{deck}?station=close")).await;
    let photos =
        close["close"]["accept"]["look"]["stages"].as_array().unwrap().iter().filter(|s| !s["looks"][0]["photo"].is_null());
    assert_eq!(photos.count(), 2);
    assert_eq!(close["close"]["accept"]["methods"][0]["by"], "look");
    let past: i64 =
        sqlx::query_scalar("select count(*) from entry where kind = 'answer' and payload_json ->> 'code' = 'sprayed-spent'")
            .fetch_one(&shop.state.db)
            .await
            .unwrap();
    assert!(past >= 1, "a pot past its life is answered");
    shop.close().await;
}
