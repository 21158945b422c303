use super::client::{Client, lead};
use super::program::Program;
use jiff::SignedDuration;
use level_keel_harness::Shop;
use reqwest::StatusCode;
use serde_json::{Value, json};
use sqlx::PgPool;

fn visit() -> Value {
    json!({ "owner": "Mara Sill", "pin": "258036", "units": "us", "shop": "Tern Yard", "zone": "America/Halifax", "works_alone": true,
            "scale_resolution_g": "0.5 oz", "comb": "mil" })
}

/// Sent as a proxy would pass it on: from another machine.
async fn from_elsewhere(client: &Client, code: &str) -> (StatusCode, Value) {
    let body = json!({ "code": code, "visit": visit() });
    let asked = client.http.post(format!("{}/first-visit", client.base)).header("x-forwarded-for", "10.0.0.7").json(&body);
    let answer = asked.send().await.unwrap();
    (answer.status(), answer.json().await.unwrap_or_default())
}

#[sqlx::test]
async fn an_empty_shop_gets_its_owner_from_its_own_machine_and_only_once(db: PgPool) {
    let shop = Shop::empty(db).await;
    let client = Client::unsigned(&shop.address);
    let (_, door) = client.get("/door").await;
    assert_eq!((&door["demo"], &door["first_visit"]["code_needed"]), (&json!(false), &json!(false)));
    assert!(door["first_visit"]["zones"].as_array().unwrap().iter().any(|z| z == "America/Halifax"));
    let mut wrong = visit();
    wrong["zone"] = json!("Nowhere/Reef");
    wrong["pin"] = json!("1111");
    let (status, body) = client.post("/first-visit", json!({ "visit": wrong })).await;
    assert_eq!(status, 422);
    assert_eq!(body["fields"].as_array().unwrap().iter().map(|f| f["field"].clone()).collect::<Vec<_>>(), ["pin", "zone"]);
    assert_eq!(client.get("/people").await.1, json!([]), "nothing is half stored");
    assert_eq!(client.post("/first-visit", json!({ "visit": visit() })).await.0, 204);
    let (_, me) = client.get("/session").await;
    assert_eq!((&me["name"], &me["role"], &me["units"]), (&json!("Mara Sill"), &json!("owner"), &json!("us")));
    assert_eq!((&me["shop"], &me["zone"], &me["works_alone"]), (&json!("Tern Yard"), &json!("America/Halifax"), &json!(true)));
    // Again, from this machine and with the code: there is an owner.
    let (status, body) = client.post("/first-visit", json!({ "visit": visit() })).await;
    assert_eq!((status.as_u16(), &body["code"]), (409, &json!("has-owner")));
    let (status, body) = from_elsewhere(&client, &shop.state.first_code.printed()).await;
    assert_eq!((status.as_u16(), &body["code"]), (409, &json!("has-owner")));
    assert_eq!(client.get("/door").await.1["first_visit"], Value::Null);
    // What was said stays said after a start anew.
    let shop = shop.again(level_keel_server::settings::Settings::default(), "0.1.0").await;
    let again = level_keel_server::house::ShopKept::read(&shop.state.db, &shop.state.settings).await.unwrap();
    assert_eq!((again.now().name.as_str(), again.zone_name().as_str()), ("Tern Yard", "America/Halifax"));
    shop.close().await;
}

#[sqlx::test]
async fn from_another_machine_the_code_opens_it_and_twenty_tries_do_not(db: PgPool) {
    let shop = Shop::empty(db).await;
    let client = Client::unsigned(&shop.address);
    let mut statuses = Vec::new();
    for i in 0..20 {
        statuses.push(from_elsewhere(&client, &format!("ABCD-23{i:02}")).await.0.as_u16());
    }
    assert_eq!(statuses[..5], [422, 422, 422, 422, 422]);
    assert!(statuses[5..].iter().all(|s| *s == 429), "{statuses:?}");
    let code = shop.state.first_code.printed();
    assert_eq!(from_elsewhere(&client, &code).await.0, 429, "the right one waits too");
    shop.clock.advance(SignedDuration::from_secs(61));
    assert_eq!(from_elsewhere(&client, "").await.1["field"], "code");
    assert_eq!(from_elsewhere(&client, &code.to_lowercase().replace('-', " ")).await.0, 204, "as one reads it aloud");
    shop.close().await;
}

#[sqlx::test]
async fn a_name_turned_to_this_machine_is_not_this_machine(db: PgPool) {
    let shop = Shop::empty(db).await;
    // A name of another that is not set is turned away before it asks anything (`strangers::`); even one that is set is not this machine.
    let settings =
        level_keel_server::settings::Settings { host_names: vec!["reef.example".into()], ..shop.state.settings.clone() };
    let shop = shop.again(settings, "0.1.0").await;
    let client = Client::unsigned(&shop.address);
    for (header, value) in [("host", "reef.example"), ("x-forwarded-for", "127.0.0.1"), ("forwarded", "for=127.0.0.1")] {
        let asked = client.http.get(format!("{}/door", client.base)).header(header, value).send().await.unwrap();
        let door: Value = asked.json().await.unwrap();
        assert_eq!(door["first_visit"]["code_needed"], true, "{header}");
    }
    shop.close().await;
}

#[sqlx::test]
async fn two_first_visits_at_once_make_one_owner(db: PgPool) {
    let shop = Shop::empty(db).await;
    let (one, other) = (Client::unsigned(&shop.address), Client::unsigned(&shop.address));
    let mut second = visit();
    second["owner"] = json!("Orla Quay");
    let (a, b) = tokio::join!(
        one.post("/first-visit", json!({ "visit": visit() })),
        other.post("/first-visit", json!({ "visit": second }))
    );
    let mut statuses = [a.0.as_u16(), b.0.as_u16()];
    statuses.sort_unstable();
    assert_eq!(statuses, [204, 409]);
    let people = sqlx::query_scalar::<_, i64>("select count(*) from person").fetch_one(&shop.state.db).await.unwrap();
    assert_eq!(people, 1);
    shop.close().await;
}

#[sqlx::test]
async fn the_owner_alone_changes_what_the_shop_says(db: PgPool) {
    let shop = Shop::open(db).await;
    let (lead, owner) = (lead(&shop).await, Client::signed(&shop.address, ("Dunja Fenn", "4680")).await);
    assert_eq!(lead.get("/session").await.1["demo"], true, "every page of the demo knows that it is one");
    let wanted = json!({ "name": "Skerry works", "zone": "Atlantic/Faroe", "works_alone": false, "check_every_s": 7200.0, "overdue_scale": "widens" });
    assert_eq!(lead.put("/shop", wanted.clone()).await.0, 403);
    let mut wrong = wanted.clone();
    wrong["zone"] = json!("Atlantic/Skerry");
    let (status, body) = owner.put("/shop", wrong).await;
    assert_eq!((status.as_u16(), &body["field"]), (422, &json!("zone")));
    let mut often = wanted.clone();
    often["check_every_s"] = json!("5 min");
    let (status, body) = owner.put("/shop", often.clone()).await;
    assert_eq!((status.as_u16(), &body["field"]), (422, &json!("check_every_s")));
    // Typed with its unit.
    often["check_every_s"] = json!("2 h");
    assert_eq!(owner.put("/shop", often).await.0, 200);
    assert_eq!(lead.get("/shop").await.1, wanted);
    assert_eq!(lead.get("/session").await.1["zone"], "Atlantic/Faroe", "without a restart");
    shop.close().await;
}

#[sqlx::test]
async fn first_steps_are_ticked_off(db: PgPool) {
    let shop = Shop::empty(db).await;
    let client = Client::unsigned(&shop.address);
    client.post("/first-visit", json!({ "visit": visit() })).await;
    let done = async || {
        let (_, steps) = client.get("/shop/first-steps").await;
        steps.as_array().unwrap().iter().filter(|s| s["done"] == true).map(|s| s["thing"].clone()).collect::<Vec<_>>()
    };
    assert!(done().await.is_empty());
    client.put("/session/reads", json!({ "units": "metric", "numbers": "point" })).await;
    let (status, body) = client.post("/sheets", json!({ "sheet": super::sheets::typed() })).await;
    assert_eq!(status, 200, "{body}");
    assert_eq!(done().await, ["sheet"]);
    shop.close().await;
}

#[sqlx::test]
async fn what_is_at_hand_is_what_was_said_and_a_comb_can_be_kept(db: PgPool) {
    let shop = Shop::empty(db).await;
    let client = Client::unsigned(&shop.address);
    client.post("/first-visit", json!({ "visit": visit() })).await;
    let at_hand = async || client.get("/instruments").await.1.as_array().unwrap().clone();
    let all = at_hand().await;
    let names: Vec<_> = all.iter().map(|i| (i["name"].clone(), i["shown"]["text"].clone())).collect();
    assert_eq!(names, [(json!("Comb 1 to 30 mil"), json!("1\u{a0}mil")), (json!("Bench scale"), json!("0.5\u{a0}oz"))]);
    let comb = |teeth: &str| json!({ "id": all[0]["id"], "comb": { "name": "Pocket comb", "teeth": teeth } });
    let (status, body) = client.put("/instruments/combs", comb("1 2 2 mil")).await;
    assert_eq!((status.as_u16(), &body["field"]), (422, &json!("teeth")));
    assert_eq!(client.put("/instruments/combs", comb("2 4 8 mil")).await.0, 200);
    assert_eq!(at_hand().await[0]["teeth"], "2 4 8 mil");
    assert_eq!(
        client.put("/instruments/combs", json!({ "comb": { "name": "pocket COMB", "teeth": "1 2" } })).await.1["code"],
        "taken"
    );
    shop.close().await;
}

#[sqlx::test]
async fn the_program_says_how_to_come_into_an_empty_shop(db: PgPool) {
    let mut program = Program::start(&db, "false");
    let said = program.next_line();
    let code = said.trim().rsplit(' ').next().unwrap().to_string();
    assert!(said.starts_with("Nobody works here yet"), "{said}");
    let client = Client::unsigned(&program.address);
    assert_eq!(from_elsewhere(&client, &code).await.0, 204);
    program.kill();
}
