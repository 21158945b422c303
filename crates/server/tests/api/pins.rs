//! Guessing at PINs: locks that grow and outlive the server, an owner who is told and not locked out, and whose address counts.

use super::client::{APPLICATOR, Client, lead};
use jiff::SignedDuration;
use level_keel_harness::Shop;
use level_keel_server::settings::Settings;
use serde_json::{Value, json};
use sqlx::PgPool;

const OWNER: (&str, &str) = ("Dunja Fenn", "4680");

async fn tries(client: &Client, name: &str, many: usize) -> Vec<u16> {
    let mut statuses = Vec::new();
    for _ in 0..many {
        statuses.push(client.post("/session", json!({ "name": name, "pin": "9031" })).await.0.as_u16());
    }
    statuses
}

async fn wait_s(client: &Client, name: &str) -> i64 {
    let url = format!("{}/session", client.base);
    let answer = client.http.post(url).json(&json!({ "name": name, "pin": "9031" })).send().await.unwrap();
    assert_eq!(answer.status(), 429);
    answer.headers()["retry-after"].to_str().unwrap().parse().unwrap()
}

#[sqlx::test]
async fn each_lock_is_longer_and_no_restart_opens_it(db: PgPool) {
    let mut shop = Shop::open(db).await;
    for (n, locked_s) in [60, 120, 240, 480, 960, 960].into_iter().enumerate() {
        let stranger = Client::unsigned(&shop.address);
        assert_eq!(tries(&stranger, APPLICATOR.0, 5).await, [422, 422, 422, 422, 429], "lock {n}");
        let settings = shop.state.settings.clone();
        shop = shop.again(settings, "0.1.0").await;
        let stranger = Client::unsigned(&shop.address);
        let wait = wait_s(&stranger, APPLICATOR.0).await;
        assert!((locked_s - 5..=locked_s + 1).contains(&wait), "lock {n}: {wait} s");
        shop.clock.advance(SignedDuration::from_secs(locked_s - 10));
        assert_eq!(tries(&stranger, APPLICATOR.0, 1).await, [429], "lock {n} holds to its end");
        shop.clock.advance(SignedDuration::from_secs(12));
    }
    // After it, the right PIN opens at once.
    Client::signed(&shop.address, APPLICATOR).await;
    shop.close().await;
}

#[sqlx::test]
async fn the_owner_is_told_of_guessing_and_not_locked_out_where_they_are_known(db: PgPool) {
    let shop = Shop::open(db).await;
    let owner = Client::signed(&shop.address, OWNER).await;
    let told = async |client: &Client| client.get("/board").await.1["guessing"].clone();
    assert_eq!(told(&owner).await, Value::Null);
    let stranger = Client::unsigned(&shop.address);
    assert_eq!(tries(&stranger, OWNER.0, 6).await, [422, 422, 422, 422, 429, 429]);
    let right = json!({ "name": OWNER.0, "pin": OWNER.1 });
    assert_eq!(stranger.post("/session", right.clone()).await.0, 429, "elsewhere the lock holds for the owner too");
    // On the browser the owner signed in on before, it does not; nor does the lock of the address.
    for n in 0..20 {
        tries(&stranger, &format!("Nobody {n}"), 1).await;
    }
    assert_eq!(stranger.post("/session", json!({ "name": "Nobody", "pin": "9031" })).await.0, 429);
    assert_eq!(owner.post("/session", right.clone()).await.0, 204);
    let said = told(&owner).await;
    assert!(
        said.as_str().is_some_and(|t| t.contains("Dunja Fenn locked once") && t.contains("address 127.0.0.1 locked once")),
        "{said}"
    );
    // Known there is the owner, and nobody else; and whoever sits at that browser has as few tries.
    assert_eq!(
        owner.post("/session", json!({ "name": APPLICATOR.0, "pin": APPLICATOR.1 })).await.0,
        429,
        "the address is locked"
    );
    assert_eq!(tries(&owner, OWNER.0, 6).await, [422, 422, 422, 422, 429, 429]);
    shop.clock.advance(SignedDuration::from_secs(61));
    let lead = lead(&shop).await;
    assert_eq!(told(&lead).await, Value::Null, "nobody else is told");
    assert_eq!(owner.post("/session", right).await.0, 204);
    // A cookie of one's own making is no browser that is known.
    let forged = Client::unsigned(&shop.address);
    let send = |pin: &str| {
        let asked = forged
            .http
            .post(format!("{}/session", forged.base))
            .header("cookie", format!("level_keel_demo_tablet={}", "a".repeat(64)));
        asked.json(&json!({ "name": APPLICATOR.0, "pin": pin })).send()
    };
    let mut statuses = Vec::new();
    for _ in 0..6 {
        statuses.push(send("9031").await.unwrap().status().as_u16());
    }
    assert_eq!(statuses, [422, 422, 422, 422, 429, 429]);
    shop.close().await;
}

/// Each proxy adds the address it saw at the end; what stands before those of our own anyone may have written.
#[sqlx::test]
async fn the_address_our_outermost_proxy_saw_counts(db: PgPool) {
    let mut shop = Shop::open(db).await;
    for (proxies, header, counted) in [
        (0, "192.0.2.9", "127.0.0.1"),
        (1, "192.0.2.9", "192.0.2.9"),
        (1, "198.51.100.1, 192.0.2.9", "192.0.2.9"),
        (2, "198.51.100.1, 192.0.2.9, 10.0.0.1", "192.0.2.9"),
        (2, "10.0.0.1", "127.0.0.1"),
        (1, "198.51.100.1, nonsense", "127.0.0.1"),
        (1, "2001:DB8::1", "2001:db8::1"),
        (1, "", "127.0.0.1"),
    ] {
        sqlx::query("delete from sign_in_try").execute(&shop.state.db).await.unwrap();
        let settings = Settings { proxies, ..shop.state.settings.clone() };
        shop = shop.again(settings, "0.1.0").await;
        let stranger = Client::unsigned(&shop.address);
        let asked = stranger.http.post(format!("{}/session", stranger.base)).header("x-forwarded-for", header);
        asked.json(&json!({ "name": "Nobody", "pin": "9031" })).send().await.unwrap();
        let keys: Vec<String> =
            sqlx::query_scalar("select key from sign_in_try where key like 'address:%'").fetch_all(&shop.state.db).await.unwrap();
        assert_eq!(keys, [format!("address:{counted}")], "{proxies} {header}");
    }
    shop.close().await;
}

#[sqlx::test]
async fn a_stranger_learns_no_roles_and_where_the_shop_says_so_no_names(db: PgPool) {
    let shop = Shop::open(db).await;
    let lead = lead(&shop).await;
    let stranger = Client::unsigned(&shop.address);
    let roles = |people: &Value| people.as_array().unwrap().iter().filter(|p| !p["role"].is_null()).count();
    let names = stranger.get("/people").await.1;
    assert!(names.as_array().unwrap().len() >= 4 && roles(&names) == 0, "{names}");
    assert!(roles(&lead.get("/people").await.1) >= 4);
    let settings = Settings { list_people: false, ..shop.state.settings.clone() };
    let shop = shop.again(settings, "0.1.0").await;
    let stranger = Client::unsigned(&shop.address);
    assert_eq!(stranger.get("/people").await.1, json!([]));
    assert_eq!(stranger.get("/door").await.1["names_listed"], false);
    // By its name, typed, one signs in as before.
    let signed = Client::signed(&shop.address, APPLICATOR).await;
    assert!(signed.get("/people").await.1.as_array().unwrap().len() >= 4);
    shop.close().await;
}

/// Outside the demo a PIN has six digits, or as many as the shop says, and never fewer than four.
#[sqlx::test]
async fn a_pin_has_six_digits_or_what_the_shop_says(db: PgPool) {
    let mut shop = Shop::empty(db).await;
    for (digits, pin, opens) in [(6, "2580", false), (6, "123456", false), (0, "258", false), (4, "2580", true)] {
        let settings = Settings { pin_digits: digits, ..shop.state.settings.clone() };
        shop = shop.again(settings, "0.1.0").await;
        let client = Client::unsigned(&shop.address);
        let visit = json!({ "owner": "Mara Sill", "pin": pin, "units": "us", "shop": "Tern Yard", "zone": "America/Halifax", "works_alone": true,
                            "scale_resolution_g": "0.5 oz", "comb": "mil" });
        assert_eq!(client.get("/door").await.1["first_visit"]["pin_digits"], digits.max(4));
        let (status, body) = client.post("/first-visit", json!({ "visit": visit })).await;
        assert_eq!(status == 204, opens, "{digits} {pin}: {body}");
        assert!(opens || body["fields"][0]["field"] == "pin", "{body}");
    }
    shop.close().await;
}
