//! Closed to strangers: every operation of the wire, as its own document lists them.

use super::client::{APPLICATOR, Client, lead};
use super::program::Program;
use level_keel_harness::Shop;
use level_keel_server::serving_role;
use reqwest::Method;
use serde_json::{Value, json};
use sqlx::postgres::PgConnectOptions;
use sqlx::{Connection, PgConnection, PgPool};
use std::collections::BTreeSet;

/// What is open: the names to sign in by, signing in itself, and a document that says nothing of a shop.
const OPEN: [(&str, &str); 5] = [
    ("get", "/api/v1/door"),
    ("get", "/api/v1/openapi.json"),
    ("get", "/api/v1/people"),
    // Shut for good once there is anybody (`door::`).
    ("post", "/api/v1/first-visit"),
    ("post", "/api/v1/session"),
];

/// A path with its places filled by something of the right shape.
fn filled(path: &str) -> String {
    let places = [
        ("{sha256}", "ab".repeat(32)),
        ("{code}", "517".into()),
        ("{from}", id()),
        ("{to}", id()),
        ("{charge}", id()),
        ("{entry}", id()),
        ("{id}", id()),
    ];
    places.iter().fold(path.to_string(), |path, (place, with)| path.replace(place, with))
}

fn id() -> String {
    uuid::Uuid::from_u128(5).to_string()
}

fn operations() -> Vec<(String, String)> {
    let doc: Value = serde_json::from_str(include_str!("../../../../openapi.json")).unwrap();
    let paths = doc["paths"].as_object().unwrap();
    paths.iter().flat_map(|(path, of)| of.as_object().unwrap().keys().map(|m| (m.clone(), path.clone()))).collect()
}

async fn status(client: &Client, method: &str, path: &str) -> u16 {
    let method: Method = method.to_uppercase().parse().unwrap();
    let url = format!("{}{}", client.base.trim_end_matches("/api/v1"), filled(path));
    client.http.request(method, url).json(&json!({})).send().await.unwrap().status().as_u16()
}

#[sqlx::test]
async fn a_stranger_is_let_into_nothing(db: PgPool) {
    let shop = Shop::open(db).await;
    let stranger = Client::unsigned(&shop.address);
    let forged = Client {
        http: reqwest::Client::builder()
            .default_headers(
                [(reqwest::header::COOKIE, "level_keel_session=forged; level_keel_demo_session=forged".parse().unwrap())]
                    .into_iter()
                    .collect(),
            )
            .build()
            .unwrap(),
        ..stranger.clone()
    };
    let all = operations();
    assert!(all.len() > 70, "{} operations", all.len());
    let mut open = BTreeSet::new();
    for (method, path) in &all {
        for client in [&stranger, &forged] {
            match status(client, method, path).await {
                401 => {}
                _ => drop(open.insert((method.as_str(), path.as_str()))),
            }
        }
    }
    assert_eq!(open, BTreeSet::from(OPEN));
    shop.close().await;
}

/// What cannot be read is a problem of the client's, whoever sends it: nothing here is answered by a 5xx.
#[sqlx::test]
async fn an_empty_body_is_never_the_servers_fault(db: PgPool) {
    let shop = Shop::open(db).await;
    let owner = Client::signed(&shop.address, ("Dunja Fenn", "4680")).await;
    for (method, path) in operations() {
        // Signing out would end the walk; streams do not end.
        if path.ends_with("/session") || ["/live", "/weigh-in", "/gauges"].iter().any(|end| path.ends_with(end)) {
            continue;
        }
        let answer = status(&owner, &method, &path).await;
        assert!(answer < 500, "{method} {path}: {answer}");
    }
    shop.close().await;
}

/// What only a client can cause is said as its own: a zero byte in an address, an id that is another's.
#[sqlx::test]
async fn a_zero_byte_and_anothers_id_are_the_clients(db: PgPool) {
    let shop = Shop::open(db).await;
    let lead = lead(&shop).await;
    for path in
        ["/lots?find=%00", "/lots?sheet=9b927a59-5f7f-4103-9385-05cede2e685a&state=%00", "/records?part=%00", "/compute/tips/%00"]
    {
        let (status, body) = lead.get(path).await;
        assert!(status.is_client_error() || status.is_success(), "{path}: {status} {body}");
    }
    let (status, body) = lead.get("/lots?find=%00").await;
    assert_eq!((status.as_u16(), body["code"].as_str()), (422, Some("not-text")), "{body}");
    let (_, sheets) = lead.get("/sheets").await;
    let sheet = sheets[0]["id"].as_str().unwrap();
    for to in [i32::MIN, -1, 0, i32::MAX] {
        assert_eq!(lead.get(&format!("/sheets/{sheet}/changes?to={to}")).await.0, 404, "no such edition: {to}");
    }
    let (_, parts) = lead.get("/parts").await;
    let part = |n: usize| parts[n]["id"].as_str().unwrap().to_string();
    let (status, body) =
        lead.post(&format!("/parts/{}/clone", part(0)), json!({ "id": part(1), "name": "Buoy of another" })).await;
    assert_eq!((status.as_u16(), body["code"].as_str()), (409, Some("id-taken")), "{body}");
    let (_, after) = lead.get("/parts").await;
    assert_eq!(after.as_array().unwrap().len(), parts.as_array().unwrap().len(), "nothing half kept");
    shop.close().await;
}

#[sqlx::test]
async fn the_database_lets_nobody_in_without_its_password(db: PgPool) {
    let known = db.connect_options();
    let url = format!("postgres://level_keel@{}:{}/postgres?sslmode=disable", known.get_host(), known.get_port());
    for password in ["", "level_keel", "postgres"] {
        let tried = url.parse::<PgConnectOptions>().unwrap().password(password);
        let refused = PgConnection::connect_with(&tried).await.expect_err("a door stands open");
        let code = refused.as_database_error().and_then(|e| e.code()).map(String::from);
        assert_eq!(code.as_deref(), Some("28P01"), "{refused}");
    }
}

/// Lines of a log of the program but two that are about the machine of the test: that the page is not built
/// beside it, and that a busy database was slow.
fn warned(log: &str) -> Vec<String> {
    log.lines().filter(|l| !l.contains("actix_files") && !l.contains("slow statement")).map(str::to_owned).collect()
}

/// A wrong PIN is everyday and no warning; a name that is locked after many is one, once.
#[sqlx::test]
async fn a_refused_sign_in_is_no_warning_until_it_locks(db: PgPool) {
    let program = Program::start(&db, "true");
    let client = Client::unsigned(&program.address);
    let mut answers = Vec::new();
    let (name, _) = APPLICATOR;
    for _ in 0..4 {
        answers.push(client.post("/session", json!({ "name": name, "pin": "0000" })).await.0.as_u16());
    }
    answers.push(client.post("/session", json!({ "name": "Nobody Known", "pin": "0000" })).await.0.as_u16());
    answers.push(client.get("/board").await.0.as_u16());
    answers.push(client.post("/session", json!({ "name": 5 })).await.0.as_u16());
    assert_eq!(answers, [422, 422, 422, 422, 422, 401, 400]);
    assert_eq!(warned(&program.stop()), Vec::<String>::new(), "nothing is written of what is everyday");

    let program = Program::start(&db, "true");
    let client = Client::unsigned(&program.address);
    let (status, _) = client.post("/session", json!({ "name": name, "pin": "0000" })).await;
    assert_eq!(status, 429, "the fifth wrong PIN locks, whichever run of the program counted the others");
    let log = program.stop();
    let warned = warned(&log);
    assert!(warned.len() == 1 && warned[0].contains("signing in is locked"), "{log}");
    assert!(!log.contains("0000") && !log.contains(name), "neither PIN nor name is written");
}

/// The role a server works under: a whole shop runs by it, and of the log it can only read and add.
#[sqlx::test]
async fn the_role_of_the_server_can_only_add_to_the_log(db: PgPool) {
    let shop = Shop::open(db.clone()).await;
    let role = format!("serving_{}", std::process::id());
    let made = format!("create role {role} login password 'only for this test' nosuperuser");
    sqlx::raw_sql(sqlx::AssertSqlSafe(made)).execute(&db).await.unwrap();
    serving_role::grant(&db, &role).await.unwrap();
    let options = (*db.connect_options()).clone().username(&role).password("only for this test");
    let serving = sqlx::postgres::PgPoolOptions::new().connect_lazy_with(options.clone());
    assert!(!serving_role::may_migrate(&serving).await.unwrap());
    serving_role::is_up_to_date(&serving).await.unwrap();
    let under = Shop::under(&shop, options.clone()).await;
    let client = lead(&under).await;
    let book = client.begun().await;
    client.wrote(&book, "note", json!({ "text": "written by the serving role" })).await;
    assert_eq!(client.get("/board").await.0, 200);
    under.close().await;
    for forbidden in [
        "update entry set payload = '{}'",
        "delete from entry",
        "truncate entry",
        "alter table entry disable trigger entry_append_only",
        "drop trigger entry_append_only on entry",
        "create table mine (x int)",
        "update _sqlx_migrations set version = 0",
        "create role another superuser",
        "alter role current_user superuser",
        "set session_replication_role = replica",
    ] {
        let refused = sqlx::query(forbidden).execute(&serving).await.unwrap_err();
        let code = refused.as_database_error().and_then(|e| e.code()).map(|c| c.into_owned());
        assert_eq!(code.as_deref(), Some("42501"), "{forbidden}: {refused}");
    }
    serving.close().await;
    // Not even the owner of the tables changes, deletes or empties what is written.
    for forbidden in ["update entry set payload = '{}'", "delete from entry", "truncate entry cascade"] {
        let refused = sqlx::query(forbidden).execute(&db).await.unwrap_err().to_string();
        assert!(refused.contains("never changed or deleted"), "{forbidden}: {refused}");
    }
    // Another account of this machine, without the password or with a wrong one, is let in under neither name.
    for (name, password) in [(role.as_str(), ""), (role.as_str(), "wrong"), (db.connect_options().get_username(), "wrong")] {
        let options = options.clone().username(name).password(password);
        let refused = PgConnection::connect_with(&options).await.unwrap_err();
        assert!(refused.as_database_error().is_some_and(|e| e.code().as_deref() == Some("28P01")), "{name}: {refused}");
    }
    shop.close().await;
    let gone = format!("drop owned by {role}; drop role {role}");
    sqlx::raw_sql(sqlx::AssertSqlSafe(gone)).execute(&db).await.unwrap();
}

/// A version that finds older tables, and may not change them, says so and does not serve.
#[sqlx::test]
async fn a_server_that_may_not_migrate_serves_no_other_version(db: PgPool) {
    sqlx::query("delete from _sqlx_migrations where version = (select max(version) from _sqlx_migrations)")
        .execute(&db)
        .await
        .unwrap();
    let said = serving_role::is_up_to_date(&db).await.unwrap_err().to_string();
    assert!(said.contains("run `level-keel migrate` as its owner first"), "{said}");
}
