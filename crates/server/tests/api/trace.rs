//! Trace over the wire: both ways, a recall list, and who may look at whose day.

use super::client::{Client, INSPECTOR, applicator, lead};
use level_keel_harness::Shop;
use level_keel_server::books::{check_log, rebuild};
use serde_json::{Value, json};
use sqlx::PgPool;
use uuid::Uuid;

fn numbers(view: &Value) -> Vec<i64> {
    view["rows"].as_array().unwrap().iter().filter_map(|r| r["number"].as_i64()).collect()
}

#[sqlx::test]
async fn what_else_got_it_is_traced_both_ways(db: PgPool) {
    let shop = Shop::open(db).await;
    let client = lead(&shop).await;
    let lot = client.get("/lots?find=P-2207").await.1["lots"][0]["id"].as_str().expect("a lot").to_string();
    let (status, view) = client.get(&format!("/trace?lot={lot}")).await;
    assert_eq!(status, 200, "{view}");
    assert_eq!((view["of"].as_str(), view["title"].as_str()), (Some("lot"), Some("Lot P-2207")));
    // Buoy 7's primer of two days ago, Buoy 8 and the ladder of today.
    let labels: Vec<&str> = view["rows"].as_array().unwrap().iter().filter_map(|r| r["label"].as_str()).collect();
    assert_eq!(labels, ["Slip ladder 2 · stripe coat", "Buoy 8 · primer", "Buoy 7 · primer"], "{view}");
    assert_eq!(view["count"], 3);
    let buoy = &view["rows"][2];
    // The finish of today lies over it.
    assert_eq!(
        (&buoy["beside"][0]["coat"], &buoy["beside"][0]["over"], buoy["state"].as_str()),
        (&json!("finish"), &json!(true), Some("accepted"))
    );
    assert!(buoy["weather"].as_str().unwrap().contains("surface"), "{buoy}");
    // One still in work says what was read last; its row does not know yet when it will end.
    assert!(view["rows"][1]["weather"].as_str().is_some_and(|w| w.contains("surface")), "{}", view["rows"][1]);
    // The other way: all that went onto the part.
    let (_, part) = client.get(&format!("/trace?part={}", buoy["part"].as_str().unwrap())).await;
    assert_eq!((part["of"].as_str(), part["rows"].as_array().unwrap().len()), (Some("part"), 2));
    let primer = part["rows"].as_array().unwrap().iter().find(|r| r["coat"] == "primer").unwrap();
    assert_eq!(
        (&primer["lots"], &primer["people"], &primer["rig"]),
        (&json!(["H-118", "P-2207", "T-77"]), &json!(["Ansa Reef"]), &json!("Buoy pot, two litres"))
    );
    // Along as a table.
    let (name, csv) = client.file(&format!("/trace.csv?lot={lot}")).await;
    assert!(name.contains("level-keel-trace-lot.csv") && csv.lines().count() == 4, "{name} {csv}");
    assert!(csv.lines().any(|l| l.contains("Buoy 7,primer,Island epoxy primer,accepted")), "{csv}");
    // A tip: fitted 36 days ago, and what went before it.
    let rig = client.get("/rigs").await.1;
    let flume = rig.as_array().unwrap().iter().find(|r| r["rig"]["name"] == "Flume gel-coat machine").unwrap()["id"]
        .as_str()
        .unwrap()
        .to_string();
    let (_, tip) = client.get(&format!("/trace?rig={flume}")).await;
    assert_eq!((tip["spans"][0]["words"].as_str(), tip["spans"].as_array().unwrap().len()), (Some("tip 521"), 2), "{tip}");
    assert!(numbers(&tip).contains(&2), "{tip}");
    assert!(
        tip["rows"].as_array().unwrap().iter().any(|r| r["state"] == "open"),
        "what is sprayed now goes through it too: {tip}"
    );
    assert!(numbers(&client.get(&format!("/trace?rig={flume}&span=1")).await.1).is_empty(), "nothing before it was fitted");
    for (path, status) in [
        ("/trace".to_string(), 422),
        (format!("/trace?lot={lot}&rig={flume}"), 422),
        (format!("/trace?lot={}", Uuid::now_v7()), 404),
        ("/trace?lot=none".into(), 422),
        (format!("/trace?person={}&day=tomorrow", Uuid::now_v7()), 422),
    ] {
        let (got, said) = client.get(&path).await;
        assert!(got == status || (status == 422 && got == 400), "{path}: {got} {said}");
    }
    shop.close().await;
}

#[sqlx::test]
async fn a_scale_in_doubt_and_somebodys_day(db: PgPool) {
    let shop = Shop::open(db).await;
    let (lead, client) = (lead(&shop).await, applicator(&shop).await);
    let inspector = Client::signed(&shop.address, INSPECTOR).await;
    let instruments = lead.get("/instruments").await.1;
    let scale =
        instruments.as_array().unwrap().iter().find(|i| i["name"] == "Bench scale").unwrap()["id"].as_str().unwrap().to_string();
    let book = client.begun().await;
    shop.make_ready(&book).await;
    let pot = Uuid::now_v7();
    client.wrote(&book, "open_charge", json!({ "charge": pot, "kind": "pot", "wanted_ml": "1 L" })).await;
    let pour = json!({ "charge": pot, "component": "base", "reading_g": "900 g", "instrument": scale, "lot": null });
    client.wrote(&book, "pour", pour).await;
    // A scale nobody checked is not one that was found right.
    let unchecked = Uuid::now_v7();
    let new = json!({ "id": unchecked, "scale": { "name": "New scale", "resolution_g": "1 g" } });
    assert_eq!(lead.put("/instruments/scales", new).await.0, 200);
    let (_, never) = lead.get(&format!("/trace?scale={unchecked}")).await;
    let said = "Nobody has checked it: whether it weighs true is not known.";
    assert_eq!((never["count"].as_i64(), never["line"].as_str()), (Some(0), Some(said)));
    let (_, good) = lead.get(&format!("/trace?scale={scale}")).await;
    assert_eq!((good["count"].as_i64(), good["line"].as_str()), (Some(0), Some("No check found it off.")));
    let checked = json!({ "known_g": "2 kg", "read_g": "1.9 kg", "empty_g": "0 g", "against": "2 kg cast weight" });
    lead.post(&format!("/instruments/{scale}/entries"), json!({ "id": Uuid::now_v7(), "kind": "checked", "payload": checked }))
        .await;
    let (_, doubt) = lead.get(&format!("/trace?scale={scale}")).await;
    assert_eq!(doubt["rows"][0]["id"], book.as_str(), "{doubt}");
    assert_eq!(doubt["rows"][0]["scales"], json!(["Bench scale"]));
    // What somebody did on a day: their own, a lead's and the owner's to look at.
    let me = client.get("/session").await.1["id"].as_str().unwrap().to_string();
    let (status, mine) = client.get(&format!("/trace?person={me}")).await;
    assert!(status == 200 && mine["rows"].as_array().unwrap().iter().any(|r| r["id"] == book.as_str()), "{mine}");
    assert_eq!(lead.get(&format!("/trace?person={me}")).await.0, 200);
    assert_eq!(inspector.get(&format!("/trace?person={me}")).await.0, 403);
    assert_eq!(inspector.get(&format!("/trace.csv?person={me}")).await.0, 403);
    assert!(numbers(&client.get(&format!("/trace?person={me}&day=2020-01-01")).await.1).is_empty());
    // Rows that do not say what the log says are found, and made anew.
    assert!(check_log(&shop.state.db).await.unwrap().faults.is_empty());
    sqlx::query("delete from batch_instrument").execute(&shop.state.db).await.unwrap();
    let faults = check_log(&shop.state.db).await.unwrap().faults;
    assert!(faults.iter().any(|f| f.contains("the scales it was weighed on")), "{faults:?}");
    rebuild(&shop.state.db).await.unwrap();
    assert!(check_log(&shop.state.db).await.unwrap().faults.is_empty());
    shop.close().await;
}

#[sqlx::test]
async fn a_recall_list_is_whole_though_the_page_shows_the_newest(db: PgPool) {
    let shop = Shop::open(db).await;
    let client = lead(&shop).await;
    let lot = client.get("/lots?find=P-2207").await.1["lots"][0]["id"].as_str().expect("a lot").to_string();
    // A hundred and twenty more that got it: rows alone, as the list reads them.
    for sql in [
        "insert into book (id, kind, created) select gen_random_uuid(), 'batch', now() from generate_series(1, 120)",
        "insert into batch (id, number, sheet_version_id, part_id, coat_id, label, product, state, begun, last_happened)
         select k.id, 1000 + row_number() over (), b.sheet_version_id, b.part_id, b.coat_id, b.label, b.product, 'accepted', b.begun, b.last_happened
         from book k, (select * from batch where state = 'accepted' limit 1) b where k.kind = 'batch' and not exists (select 1 from batch o where o.id = k.id)",
        "insert into lot_use (batch_id, lot_id) select b.id, l.id from batch b, lot l where b.number > 1000 and l.code = 'P-2207'",
    ] {
        sqlx::query(sql).execute(&shop.state.db).await.unwrap();
    }
    let (_, told) = client.get(&format!("/trace?lot={lot}")).await;
    assert_eq!((told["count"].as_i64(), told["rows"].as_array().unwrap().len()), (Some(123), 100), "{}", told["line"]);
    assert_eq!(told["line"], "123 batches got this lot, the newest 100 of them.");
    let (_, csv) = client.file(&format!("/trace.csv?lot={lot}")).await;
    assert_eq!(csv.lines().count(), 124, "a head and every batch");
    shop.close().await;
}
