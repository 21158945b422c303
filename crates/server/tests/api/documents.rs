//! Sheets as open documents, their versions, curves; coat systems; the lists a lead edits.

use super::client::{Client, applicator, lead};
use level_keel_harness::Shop;
use serde_json::{Value, json};
use sqlx::PgPool;
use uuid::Uuid;

async fn send(client: &Client, text: String) -> (u16, Value) {
    let answer = client.http.post(format!("{}/sheets/import", client.base)).header("content-type", "application/json").body(text);
    let answer = answer.send().await.unwrap();
    (answer.status().as_u16(), answer.json().await.unwrap())
}

async fn primer(client: &Client) -> String {
    let (_, sheets) = client.get("/sheets").await;
    sheets.as_array().unwrap().iter().find(|s| s["label"] == "Epoxy primer").unwrap()["id"].as_str().unwrap().into()
}

#[sqlx::test]
async fn a_sheet_goes_out_and_comes_in_by_its_schema(db: PgPool) {
    let shop = Shop::open(db).await;
    let lead = lead(&shop).await;
    let id = primer(&lead).await;
    let (name, text) = lead.file(&format!("/sheets/{id}/sheet.json")).await;
    assert!(name.contains("level-keel-sheet-epoxy-primer.json"), "{name}");
    let document: Value = serde_json::from_str(&text).unwrap();
    let (_, schema) = lead.file("/schemas/sheet.json").await;
    let schema: Value = serde_json::from_str(&schema).unwrap();
    jsonschema::validator_for(&schema).unwrap().validate(&document).unwrap();

    // The same name: a new version, and what changed is readable.
    let mut changed = document.clone();
    changed["sheet"]["pot_life_s"] = json!(3.0 * 3600.0);
    changed["sheet"]["times"][1]["recoat_min_s"] = Value::Null;
    changed["sheet"]["hazards"] = json!(["solvent"]);
    let (status, made) = send(&lead, changed.to_string()).await;
    assert_eq!((status, &made["edition"], &made["new_version"]), (200, &json!(2), &json!(true)), "{made}");
    let (_, changes) = lead.get(&format!("/sheets/{id}/changes")).await;
    let said: Vec<String> = changes
        .as_array()
        .unwrap()
        .iter()
        .map(|c| {
            format!("{}: {} > {}", c["label"].as_str().unwrap(), c["before"].as_str().unwrap(), c["after"].as_str().unwrap())
        })
        .map(|t| t.replace('\u{a0}', " "))
        .collect();
    assert_eq!(
        said,
        ["Hazards: solvent, pressure vessel > solvent", "Pot life: 4 h 00 > 3 h 00", "Times 2, recoat min: 4 h 00 > –"]
    );

    let with = |change: &dyn Fn(&mut Value)| {
        let mut bad = document.clone();
        change(&mut bad);
        bad.to_string()
    };
    for (text, field) in [
        (with(&|d| d["sheet"]["ratio"] = json!(-4.0)), "sheet.ratio"),
        (with(&|d| d["sheet"]["colr"] = json!("grey")), "sheet.colr"),
        (with(&|d| d["sheet"]["times"][0]["at_c"] = json!("warm")), "sheet.times[0].at_c"),
        (with(&|d| d["sheet"]["times"][0]["pot_life_s"] = json!(60.0)), "sheet.times[0].pot_life_s"),
        (with(&|d| d["format"] = json!("something-else")), "format"),
        (with(&|d| d["format_version"] = json!(9)), "format_version"),
        (text.replace("\"ratio\": 4.0", "\"ratio\": NaN"), "sheet.ratio"),
    ] {
        let (status, body) = send(&lead, text).await;
        assert_eq!((status, body["field"].as_str()), (422, Some(field)), "{body}");
    }
    assert_eq!(send(&lead, "not a sheet".into()).await.0, 422);
    let applicator = applicator(&shop).await;
    assert_eq!(send(&applicator, document.to_string()).await.0, 403);
    let (_, versions) = lead.get(&format!("/sheets/{id}")).await;
    assert_eq!(versions.as_array().unwrap().len(), 2, "nothing bad was stored");
    shop.close().await;
}

#[sqlx::test]
async fn the_curves_are_those_that_run_the_pots(db: PgPool) {
    let shop = Shop::open(db).await;
    let client = applicator(&shop).await;
    let (_, curves) = client.get(&format!("/sheets/{}/curves", primer(&client).await)).await;
    let life = curves.as_array().unwrap().iter().find(|c| c["name"] == "Pot life").cloned().unwrap();
    let points = life["points"].as_array().unwrap();
    assert_eq!(points.iter().filter(|p| p["stated"] == true).count(), 3);
    let ys: Vec<f64> = points.iter().map(|p| p["y"].as_f64().unwrap()).collect();
    assert!(ys.windows(2).all(|w| w[1] <= w[0] + 1e-9), "life falls as it warms: {ys:?}");
    assert!(points.first().unwrap()["estimate"] == true && points.last().unwrap()["estimate"] == true);
    let (_, schools) = client.get("/sheets/schools").await;
    for matter in ["Stream", "Gel-coat total", "Drum stir", "Temperature band", "Catalyst air", "Overlap"] {
        let of = schools.as_array().unwrap().iter().filter(|s| s["matter"] == matter).count();
        assert!(of >= 2, "{matter}: two schools at least");
    }
    shop.close().await;
}

#[sqlx::test]
async fn a_part_shows_its_coats_and_what_comes_next_by_the_pair(db: PgPool) {
    let shop = Shop::open(db).await;
    let (client, lead) = (applicator(&shop).await, lead(&shop).await);
    let (_, parts) = client.get("/parts").await;
    let buoy = parts.as_array().unwrap().iter().find(|p| p["name"] == "Buoy 3").unwrap()["id"].as_str().unwrap().to_string();
    let (_, part) = client.get(&format!("/parts/{buoy}")).await;
    assert_eq!((&part["coats"][0]["name"], &part["coats"][1]["name"]), (&json!("primer"), &json!("finish")));
    assert_eq!(part["coats"][0]["window_by"], "pair", "{part}");
    assert_eq!(part["coats"][0]["window"]["state"], "past", "nine days are over five");
    assert_eq!((&part["coats"][1]["is_next"], &part["next"]), (&json!(true), &json!("finish: abrade first")));
    // The pair taken away, the sheet's own seven days stand: still past. A longer pair opens it again.
    let sheet = |i: usize| part["coats"][i]["sheet"].as_str().unwrap();
    let pair = format!("/pairs/{}/{}", sheet(0), sheet(1));
    let longer = json!({ "times": { "recoat_min_s": "8 h", "recoat_max_s": "30 d", "recoat_at_c": "20" } });
    assert_eq!(client.put(&pair, longer.clone()).await.0, 403);
    assert_eq!(lead.put(&pair, longer).await.0, 200);
    assert_eq!(client.get(&format!("/parts/{buoy}")).await.1["coats"][0]["window"]["state"], "open");
    let wrong = json!({ "times": { "recoat_min_s": "8 d", "recoat_max_s": "1 d", "recoat_at_c": "20" } });
    assert_eq!(lead.put(&pair, wrong).await.1["field"], "recoat_max_s");
    assert_eq!(lead.put(&pair, json!({ "times": null })).await.1, json!(false));
    assert_eq!(client.get(&format!("/parts/{buoy}")).await.1["coats"][0]["window_by"], "sheet");

    // Cloned: the same coats, nothing on.
    let clone = json!({ "id": Uuid::now_v7(), "name": "Buoy 33" });
    let (status, made) = lead.post(&format!("/parts/{buoy}/clone"), clone.clone()).await;
    assert_eq!(status, 200, "{made}");
    assert_eq!(lead.post(&format!("/parts/{buoy}/clone"), clone).await.0, 200, "a double tap is one part");
    assert_eq!((&made["coats"][1]["product"], &made["next"]), (&part["coats"][1]["product"], &json!("primer: may begin")));
    // A coat with batches cannot be planned away; another can be put between.
    let names = |list: &[&str]| json!({ "coats": list.iter().map(|n| json!({ "name": n, "film_um": "4 mil", "method": "brush" })).collect::<Vec<_>>() });
    let (_, refused) = lead.put(&format!("/parts/{buoy}/coats"), names(&["finish"])).await;
    assert_eq!(refused["code"], "coat-in-use", "{refused}");
    let (status, planned) = lead.put(&format!("/parts/{buoy}/coats"), names(&["primer", "tie coat", "finish"])).await;
    assert_eq!(status, 200, "{planned}");
    assert_eq!(planned["coats"][1]["name"], "tie coat");
    let (_, twice) = lead.put(&format!("/parts/{buoy}/coats"), names(&["primer", "Primer"])).await;
    assert_eq!(twice["field"], "coats[1].name");
    shop.close().await;
}

#[sqlx::test]
async fn by_brush_there_are_gaps_in_the_line_and_the_lists_are_data(db: PgPool) {
    let shop = Shop::open(db).await;
    let (client, lead) = (applicator(&shop).await, lead(&shop).await);
    let wanted = |method: &str| {
        json!({ "part": "Sign 2", "coat": "finish", "area_m2": 2, "film_um": "4 mil", "film_is": "wet", "transfer_pct": 90,
                "substrate": "wood", "method": method })
    };
    let begin = async |label: &str, method: &str| {
        let (_, sheets) = client.get("/sheets").await;
        let sheet = sheets.as_array().unwrap().iter().find(|s| s["label"] == label).unwrap()["id"].clone();
        let mut wanted = wanted(method);
        wanted["sheet"] = sheet;
        client.post("/batches", json!({ "id": Uuid::now_v7(), "wanted": wanted })).await
    };
    let (_, brushed) = begin("Waterborne", "brush").await;
    let stands: Vec<_> = brushed["view"]["stations"].as_array().unwrap().iter().map(|s| s["state"].as_str().unwrap()).collect();
    assert_eq!((stands[2], stands[3]), ("not_needed", "not_needed"), "no Set and no Prove");
    let (status, refused) = begin("Gel coat", "brush").await;
    assert_eq!(
        (status.as_u16(), refused["field"].as_str()),
        (422, Some("method")),
        "a gel coat without a pot life is not mixed in a pot"
    );

    // A lead edits the lists; a batch begun before keeps its own.
    let (_, lists) = lead.get("/lists").await;
    assert_eq!((&lists["edition"], &lists["may_edit"]), (&json!(0), &json!(true)));
    let mut items = lists["lists"]["items"].as_array().unwrap().clone();
    items.push(json!({ "key": "own_moisture", "group": "surface", "text": "Moisture under 12 %", "what": { "kind": "good_for", "window_s": "2 h", "over": "measure again" },
                       "before": "spray", "when": { "substrates": ["wood"] } }));
    let edit = json!({ "seen_edition": 0, "lists": { "items": items } });
    assert_eq!(client.put("/lists", edit.clone()).await.0, 403);
    assert_eq!(lead.put("/lists", edit.clone()).await.1, json!(1));
    assert_eq!(lead.put("/lists", edit).await.1["code"], "seen-older");
    let bad = json!({ "seen_edition": 1, "lists": { "items": [{ "key": "a", "group": "rig", "text": "", "what": { "kind": "tick" }, "before": "spray" }] } });
    assert_eq!(lead.put("/lists", bad).await.1["field"], "items[0].text");
    let has = |view: &Value| view["ready"]["groups"].to_string().contains("own_moisture");
    let (_, after) = begin("Waterborne", "gun_cup").await;
    assert!(has(&after["view"]) && !has(&brushed["view"]));
    shop.close().await;
}
