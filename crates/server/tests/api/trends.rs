//! Trends, saved views and the end of the day over the wire.

use super::client::{APPLICATOR, Client, INSPECTOR, applicator, lead};
use level_keel_harness::Shop;
use level_keel_server::books::{check_log, rebuild};
use serde_json::{Value, json};
use sqlx::PgPool;
use uuid::Uuid;

fn names(told: &Value) -> Vec<&str> {
    told["groups"].as_array().unwrap().iter().filter_map(|g| g["name"].as_str()).collect()
}

#[sqlx::test]
async fn what_batches_came_to_is_followed_by_product_rig_and_person(db: PgPool) {
    let shop = Shop::open(db).await;
    let (lead, worker) = (lead(&shop).await, applicator(&shop).await);
    let inspector = Client::signed(&shop.address, INSPECTOR).await;
    let (status, told) = worker.get("/records/trends").await;
    assert_eq!(status, 200, "{told}");
    assert!(names(&told).contains(&"Island epoxy primer"), "{told}");
    let primer = told["groups"].as_array().unwrap().iter().find(|g| g["name"] == "Island epoxy primer").unwrap();
    assert_eq!(primer["count"], 2, "Buoy 7 and Buoy 3");
    let line = |of: &str| primer["lines"].as_array().unwrap().iter().find(|l| l["of"] == of).unwrap().clone();
    assert_eq!((line("first_time")["mean"].as_str(), line("first_time")["count"].as_i64()), (Some("100\u{a0}%"), Some(2)));
    for of in ["film", "ratio", "paint", "time"] {
        assert!(line(of)["mean"].is_string() && !line(of)["points"].as_array().unwrap().is_empty(), "{of}: {primer}");
    }
    // The same by rig; a batch by brush or cup is of its own rig or of none.
    assert!(names(&lead.get("/records/trends?by=rig").await.1).contains(&"Buoy pot, two litres"));
    // People's figures are a lead's and the owner's.
    assert!(names(&lead.get("/records/trends?by=person").await.1).contains(&"Ansa Reef"));
    for client in [&worker, &inspector] {
        for path in ["/records/trends?by=person", "/records/trends?person=Ansa", "/records/trends.csv?by=person"] {
            assert_eq!(client.get(path).await.0, 403, "{path}");
        }
    }
    // What is found bounds it; days and weeks are read or refused by their field.
    assert!(names(&lead.get("/records/trends?product=gel").await.1).iter().all(|n| n.contains("gel")));
    assert!(names(&lead.get("/records/trends?from=2020-01-01&to=2020-02-01").await.1).is_empty());
    assert!(names(&lead.get("/records/trends?weeks=1").await.1).contains(&"Island epoxy primer"));
    for (path, field) in [("weeks=0", "weeks"), ("weeks=soon", "weeks"), ("weeks=521", "weeks"), ("from=yesterday", "from")] {
        let (status, said) = lead.get(&format!("/records/trends?{path}")).await;
        assert_eq!((status.as_u16(), said["field"].as_str()), (422, Some(field)), "{path}: {said}");
        assert_eq!(lead.get(&format!("/records?{path}")).await.0, 422, "the list says the same");
    }
    for misspelt in
        ["/records?prodcut=gel", "/records/trends?prodcut=gel", "/records.csv?prodcut=gel", "/records/trends?by=colour"]
    {
        assert!(lead.get(misspelt).await.0.is_client_error(), "{misspelt}");
    }
    assert!(lead.get("/records?weeks=1").await.1["rows"].as_array().unwrap().len() < 4);
    let (name, csv) = lead.file("/records/trends.csv").await;
    assert!(
        name.contains("level-keel-trends-") && csv.lines().any(|l| l.starts_with("product,Island epoxy primer,Film of wanted,")),
        "{csv}"
    );
    // Columns that do not say what the log says are found, and made anew.
    assert!(check_log(&shop.state.db).await.unwrap().faults.is_empty());
    sqlx::query("update batch set film_pct = 100, first_time = false where state <> 'open'")
        .execute(&shop.state.db)
        .await
        .unwrap();
    let faults = check_log(&shop.state.db).await.unwrap().faults;
    assert!(faults.iter().any(|f| f.contains("film_pct")) && faults.iter().any(|f| f.contains("first_time")), "{faults:?}");
    rebuild(&shop.state.db).await.unwrap();
    assert!(check_log(&shop.state.db).await.unwrap().faults.is_empty());
    shop.close().await;
}

#[sqlx::test]
async fn a_view_is_kept_under_its_name_for_its_person_alone(db: PgPool) {
    let shop = Shop::open(db).await;
    let (mine, other) = (lead(&shop).await, Client::signed(&shop.address, APPLICATOR).await);
    let view = |name: &str, find: Value, trends: Value| json!({ "id": Uuid::now_v7(), "name": name, "asks": { "find": find, "trends": trends } });
    assert_eq!(
        mine.put("/records/views", view("Primer", json!({ "product": "primer", "weeks": "4" }), Value::Null)).await.0,
        204
    );
    assert_eq!(mine.put("/records/views", view("Flumes", json!({ "part": "Flume" }), json!("rig"))).await.0, 204);
    let kept = mine.get("/records/views").await.1;
    assert_eq!(kept.as_array().unwrap().iter().map(|v| v["name"].as_str().unwrap()).collect::<Vec<_>>(), ["Flumes", "Primer"]);
    assert_eq!((&kept[0]["asks"]["trends"], &kept[1]["asks"]["find"]["weeks"]), (&json!("rig"), &json!("4")));
    // The same name again, however it is written, is the newest asking.
    assert_eq!(mine.put("/records/views", view("PRIMER", json!({ "lot": "P-22" }), Value::Null)).await.0, 204);
    let kept = mine.get("/records/views").await.1;
    assert_eq!((kept.as_array().unwrap().len(), &kept[1]["asks"]["find"]["lot"]), (2, &json!("P-22")));
    // It is nobody else's: not seen, not forgotten.
    assert_eq!(other.get("/records/views").await.1, json!([]));
    let id = kept[0]["id"].as_str().unwrap();
    assert_eq!(forget(&other, id).await, 404);
    assert_eq!(forget(&mine, id).await, 204);
    assert_eq!(mine.get("/records/views").await.1.as_array().unwrap().len(), 1);
    // What cannot be asked is not kept.
    for (body, field) in [
        (view(" ", json!({}), Value::Null), "name"),
        (view("Days", json!({ "from": "yesterday" }), Value::Null), "from"),
        (view("Weeks", json!({ "weeks": "many" }), Value::Null), "weeks"),
        (view("Sort", json!({ "sort": "colour" }), Value::Null), "sort"),
        (view("Long", json!({ "find": "x".repeat(300) }), Value::Null), "find"),
    ] {
        let (status, said) = mine.put("/records/views", body).await;
        assert_eq!((status.as_u16(), said["field"].as_str()), (422, Some(field)), "{said}");
    }
    assert!(
        mine.put("/records/views", json!({ "id": Uuid::now_v7(), "name": "x", "asks": { "where": "1=1" } }))
            .await
            .0
            .is_client_error()
    );
    for n in 0..39 {
        assert_eq!(mine.put("/records/views", view(&format!("View {n}"), json!({}), Value::Null)).await.0, 204);
    }
    assert_eq!(mine.put("/records/views", view("One more", json!({}), Value::Null)).await.1["code"], "too-many");
    shop.close().await;
}

pub async fn forget(client: &Client, id: &str) -> u16 {
    client.http.delete(format!("{}/records/views/{id}", client.base)).send().await.unwrap().status().as_u16()
}

/// A pot whose batch is long accepted, and that nobody shut down.
const LEFT_UNDER_PRESSURE: &str =
    "with k as (insert into book (id, kind, created) values ('00000000-0000-4000-8000-000000000001', 'rig', now()) returning id)
                 insert into rig (id, name, body, created, pressed_at, pressed_by)
                 select k.id, 'Yard pot', r.body || '{\"name\": \"Yard pot\"}', r.created, b.ended, b.number
                 from k, rig r, batch b where r.name = 'Buoy pot, two litres' and b.label = 'Buoy 7 · primer'";

#[sqlx::test]
async fn a_rig_left_under_pressure_is_wanted_shut_down_though_its_batch_is_on_no_board(db: PgPool) {
    let shop = Shop::open(db).await;
    let worker = applicator(&shop).await;
    sqlx::raw_sql(LEFT_UNDER_PRESSURE).execute(&shop.state.db).await.unwrap();
    let board = worker.get("/board").await.1;
    let next = board["next"].as_array().unwrap().iter().find(|n| n["part"] == "Yard pot").expect("it is wanted").clone();
    assert_eq!(
        (next["text"].as_str(), next["waits"].as_str(), next["station"].as_i64()),
        (Some("Shut down"), Some("chore"), Some(6))
    );
    assert!(board["batches"].as_array().unwrap().iter().all(|b| b["id"] != next["batch"]), "its batch stands on no board");
    // The table that is taken along has it too, but for who asks for a batch by its name.
    assert!(worker.file("/board.csv").await.1.contains("Yard pot"));
    assert!(!worker.file("/board.csv?find=Buoy%208").await.1.contains("Yard pot"));
    shop.close().await;
}

#[sqlx::test]
async fn the_day_ends_with_pots_hoses_rigs_and_what_was_thrown_away(db: PgPool) {
    let shop = Shop::open(db).await;
    let worker = applicator(&shop).await;
    let end = async || worker.get("/board/day-end").await.1;
    let told = end().await;
    let of = |told: &Value, what: &str, name: &str| {
        told["items"]
            .as_array()
            .unwrap()
            .iter()
            .any(|i| i["what"].as_str().unwrap().contains(what) && i["of"].as_str().unwrap().contains(name))
    };
    assert!(of(&told, "Shut down", "Buoy pot, two litres"), "{told}");
    assert!(of(&told, "pot 1", "Buoy 7"), "{told}");
    assert_eq!((&told["waste"], &told["cost"]), (&json!([]), &Value::Null));
    assert!(told["cautions"].as_array().unwrap().iter().any(|c| c.as_str().unwrap().contains("rags")));
    // A pot is mixed and thrown away, weighed.
    let book = worker.begun().await;
    shop.make_ready(&book).await;
    let pot = Uuid::now_v7();
    worker.wrote(&book, "open_charge", json!({ "charge": pot, "kind": "pot", "wanted_ml": "1 L" })).await;
    let pour = |component: &str, g: &str| json!({ "charge": pot, "component": component, "reading_g": g, "resolution_g": "1 g", "lot": null });
    worker.wrote(&book, "pour", pour("base", "1100 g")).await;
    let thrown = json!({ "charge": pot, "how": "discarded", "reason": "wrong colour", "waste_g": "1.1 kg" });
    worker.wrote(&book, "close_charge", thrown).await;
    let told = end().await;
    assert_eq!(told["waste"][0]["product"], "Island epoxy primer", "{told}");
    assert!(told["waste"][0]["mass"].as_str().unwrap().contains("1100"), "{told}");
    assert_eq!(told["waste"][0]["line"], "1 pot, weighed");
    let (name, csv) = worker.file("/board/day-end.csv").await;
    assert!(name.contains("level-keel-day-end-") && csv.contains("waste,Island epoxy primer"), "{csv}");
    // Rows that do not say what the log says are found, and made anew; tomorrow's waste is not today's.
    sqlx::query("delete from waste").execute(&shop.state.db).await.unwrap();
    assert!(check_log(&shop.state.db).await.unwrap().faults.iter().any(|f| f.contains("threw away")));
    rebuild(&shop.state.db).await.unwrap();
    assert!(check_log(&shop.state.db).await.unwrap().faults.is_empty());
    assert_eq!(end().await["waste"].as_array().unwrap().len(), 1);
    shop.clock.advance(jiff::SignedDuration::from_hours(24));
    // The session of yesterday is over; the one of today sees nothing of its waste.
    let worker = applicator(&shop).await;
    assert_eq!(worker.get("/board/day-end").await.1["waste"], json!([]));
    shop.close().await;
}
