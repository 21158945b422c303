//! Mix over the wire: a scale that speaks, a double acceptance, silence and noise; pots handed over; what-ifs.

use super::client::{Client, applicator};
use futures_util::StreamExt;
use level_keel_core::conditions::probe::ProbeOf;
use level_keel_devices::scale::{self, Made, Scale};
use level_keel_harness::Shop;
use level_keel_server::books::temperature_feed::feed;
use level_keel_server::conditions::listen;
use level_keel_server::scales;
use level_keel_server::settings::{ProbeAt, RegisterTable, RegisterType, ScaleAt, Settings, Transmitter};
use level_keel_server::state::State;
use serde_json::{Value, json};
use sqlx::PgPool;
use std::time::Duration;
use tokio::io::AsyncWriteExt;
use tokio::task::JoinHandle;
use uuid::Uuid;

async fn listening(shop: &Shop, address: &str) -> Vec<JoinHandle<()>> {
    let settings = Settings { demo_scale: address.into(), ..shop.state.settings.clone() };
    scales::listen(&State { settings, ..shop.state.clone() }).await.unwrap()
}

async fn end(tasks: Vec<JoinHandle<()>>) {
    for task in tasks {
        task.abort();
        let _ = task.await;
    }
}

async fn quick() -> Scale {
    scale::serve("127.0.0.1:0", "127.0.0.1:0", Made { lines_s: 50.0, ..Made::default() }).await.unwrap()
}

/// Follows a weigh-in until a picture is as wanted, at most twelve seconds.
async fn until(client: &Client, path: &str, mut wanted: impl FnMut(&Value) -> bool) -> Value {
    let response = client.http.get(format!("{}{path}", client.base)).send().await.unwrap();
    assert_eq!(response.status(), 200);
    let mut stream = response.bytes_stream();
    let (mut text, mut last) = (String::new(), Value::Null);
    let looking = async {
        while let Some(Ok(bytes)) = stream.next().await {
            text.push_str(&String::from_utf8_lossy(&bytes));
            while let Some(end) = text.find("\n\n") {
                let event: String = text.drain(..end + 2).collect();
                let data = event.lines().find_map(|l| l.strip_prefix("data: ")).unwrap_or("null");
                last = serde_json::from_str(data).unwrap_or(Value::Null);
                if wanted(&last) {
                    return true;
                }
            }
        }
        false
    };
    let found = tokio::time::timeout(Duration::from_secs(40), looking).await;
    assert!(matches!(found, Ok(true)), "never so; last: {last}");
    last
}

pub async fn ready_pot(shop: &Shop, client: &Client) -> (String, Uuid) {
    let book = client.begun().await;
    let conditions = json!({ "air_c": 21, "surface_c": 20, "material_c": 20, "rh_pct": 55 });
    client.wrote(&book, "conditions", conditions).await;
    client.wrote(&book, "guards", json!({ "hazards": ["solvent", "pressure_vessel"] })).await;
    for (component, lot) in [("base", "P-2204"), ("hardener", "H-118")] {
        client.wrote(&book, "take_lot", json!({ "component": component, "lot": lot, "reason": "test" })).await;
    }
    shop.make_ready(&book).await;
    let charge = Uuid::now_v7();
    client.wrote(&book, "open_charge", json!({ "charge": charge, "kind": "pot", "wanted_ml": 1000 })).await;
    (book, charge)
}

#[sqlx::test]
async fn one_weighs_in_by_the_scale_and_two_screens_write_one_pour(db: PgPool) {
    let shop = Shop::open(db).await;
    let client = applicator(&shop).await;
    let scale = quick().await;
    let tasks = listening(&shop, &scale.address.to_string()).await;
    let (book, charge) = ready_pot(&shop, &client).await;
    let path = format!("/batches/{book}/charges/{charge}/weigh-in?scale=Mixing%20scale");
    let (_, plan) = client.get(&format!("/batches/{book}")).await;
    assert_eq!(plan["mix"]["pots"][0]["hand"], "base");

    scale.hand("put 350").unwrap();
    until(&client, &path, |w| w["weigh"]["load_g"] == 350.0 && w["weigh"]["stable"] == true).await;
    scale.hand("tare").unwrap();
    let base = record_mass(&shop, &book, 0).await;
    scale.hand(&format!("pour {base} 500")).unwrap();
    let taken = until(&client, &path, |w| w["weigh"]["accept"] == true).await;
    assert_eq!((taken["weigh"]["component"].as_str(), taken["weigh"]["pace"].as_str()), (Some("base"), Some("stop")));
    let pour = json!({ "charge": charge, "component": "base", "reading_g": taken["weigh"]["load_g"], "tared": false,
        "instrument": taken["instrument"], "by_scale": true });
    let entry = json!({ "id": taken["weigh"]["entry"], "kind": "pour", "payload": pour });
    let entries = format!("/books/{book}/entries");
    let (one, two) = tokio::join!(client.post(&entries, entry.clone()), client.post(&entries, entry));
    assert_eq!((one.0, two.0), (reqwest::StatusCode::OK, reqwest::StatusCode::OK), "{one:?} {two:?}");
    let (_, view) = client.get(&format!("/batches/{book}")).await;
    assert_eq!(view["mix"]["pots"][0]["lines"][0]["word"], "in");

    // Hardener runs in: the screen is told to write that the clock begins; a jump is said and stops the acceptance.
    let more = record_mass(&shop, &book, 1).await;
    scale.hand(&format!("pour {} 400", more / 2.0)).unwrap();
    until(&client, &path, |w| w["weigh"]["combines"] == true).await;
    client.wrote(&book, "combine", json!({ "charge": charge })).await;
    scale.hand("lose-tare").unwrap();
    let jumped = until(&client, &path, |w| w["weigh"]["notice"].as_str().is_some_and(|n| n.contains("jumped"))).await;
    assert_eq!((jumped["weigh"]["accept"].as_bool(), jumped["weigh"]["pace"].as_str()), (Some(false), Some("wait")));
    scale.hand("put -350").unwrap();
    until(&client, &path, |w| w["weigh"]["notice"].is_null() && w["weigh"]["component"] == "hardener").await;

    // Unplugged in the middle of the pour, and back: nothing is lost, and it is never shown as fresh.
    scale.hand("fault unplugged").unwrap();
    until(&client, &path, |w| w["weigh"].is_null() && w["instrument"].is_string()).await;
    let (_, view) = client.get(&format!("/batches/{book}")).await;
    assert_eq!(view["mix"]["pots"][0]["lines"][0]["word"], "in", "what was taken stays");
    scale.hand("fault none").unwrap();
    scale.hand(&format!("pour {} 400", more / 2.0)).unwrap();
    let done = until(&client, &path, |w| w["weigh"]["accept"] == true).await;
    assert_eq!(done["weigh"]["component"], "hardener");
    scale.hand("fault overload").unwrap();
    until(&client, &path, |w| w["weigh"]["notice"].as_str().is_some_and(|n| n.contains("capacity"))).await;
    end(tasks).await;
    scale.close().await;
    shop.close().await;
}

/// Planned mass of a component, by its place in the plan.
async fn record_mass(shop: &Shop, book: &str, at: usize) -> f64 {
    let mut db = shop.state.db.acquire().await.unwrap();
    let entries = level_keel_server::books::load(&mut db, book.parse().unwrap()).await.unwrap();
    let record: level_keel_core::batch::Record = level_keel_core::book::fold(&entries);
    record.plan(record.charges.last().unwrap())[at].mass_g.round()
}

/// Ten thousand lines a second, half lines, wrong units, noise and lines without end.
#[sqlx::test]
async fn whatever_a_scale_sends_is_read_or_left(db: PgPool) {
    let shop = Shop::open(db).await;
    let client = applicator(&shop).await;
    let listener = tokio::net::TcpListener::bind("127.0.0.1:0").await.unwrap();
    let address = listener.local_addr().unwrap().to_string();
    // The scale stays until its last line was looked for: how busy the machine is decides nothing.
    let (looked, done) = tokio::sync::oneshot::channel::<()>();
    let sending = tokio::spawn(async move {
        let (mut stream, _) = listener.accept().await.unwrap();
        let mut burst: Vec<u8> = (0..10_000).flat_map(|i| format!("W=+{i:05}.0;U=g;M=moving\r\n").into_bytes()).collect();
        burst.extend_from_slice(b"W=+00012.0;U=psi;M=still\r\nW=+0001");
        burst.extend(std::iter::repeat_n(b'x', 100_000));
        burst.extend_from_slice(b"\r\n\xff\xfe\r\nW=+04711.0;U=g;M=still\r\n");
        stream.write_all(&burst).await.unwrap();
        let _ = done.await;
    });
    let tasks = listening(&shop, &address).await;
    let mut seen = String::new();
    for _ in 0..800 {
        let (_, all) = client.get("/scales").await;
        seen = all[0]["load"]["text"].as_str().unwrap_or_default().to_string();
        if seen.contains("4.71") || seen.contains("4711") || seen.contains("4,711") {
            break;
        }
        tokio::time::sleep(Duration::from_millis(50)).await;
    }
    assert!(seen.contains("4.71") || seen.contains("711"), "{seen}");
    drop(looked);
    sending.await.unwrap();
    end(tasks).await;
    assert_eq!(
        client
            .get("/batches/00000000-0000-0000-0000-000000000000/charges/00000000-0000-0000-0000-000000000000/weigh-in?scale=none")
            .await
            .0,
        404
    );
    shop.close().await;
}

#[tokio::test]
async fn a_grammar_that_cannot_be_read_is_said_at_the_start() {
    let db = sqlx::postgres::PgPoolOptions::new().connect_lazy("postgres://127.0.0.1:1/none").unwrap();
    let wrong = ScaleAt {
        name: "bench".into(),
        address: "127.0.0.1:1".into(),
        resolution_g: 1.0,
        capacity_g: None,
        pattern: "(".into(),
        unit: None,
    };
    let state = State {
        searches: db.clone(),
        pulse: level_keel_server::pulse::Pulse::of(&db),
        db,
        clock: level_keel_server::clock::Clock::wall(),
        shop: Default::default(),
        first_code: Default::default(),
        live: Default::default(),
        settings: Settings { scales: vec![wrong], ..Settings::default() },
        books: Default::default(),
        probes: Default::default(),
        scales: Default::default(),
        gauges: Default::default(),
        version: String::new(),
    };
    assert!(scales::listen(&state).await.unwrap_err().starts_with("bench: the pattern cannot be read"));
}

#[sqlx::test]
async fn a_remainder_goes_to_another_batch_with_its_age(db: PgPool) {
    let shop = Shop::open(db).await;
    let client = applicator(&shop).await;
    let (book, charge) = ready_pot(&shop, &client).await;
    let pour = |component: &str, g: f64| json!({ "charge": charge, "component": component, "reading_g": g, "resolution_g": 1 });
    let (a, b) = (record_mass(&shop, &book, 0).await, record_mass(&shop, &book, 1).await);
    client.wrote(&book, "pour", pour("base", a)).await;
    client.wrote(&book, "combine", json!({ "charge": charge })).await;
    client.wrote(&book, "pour", pour("hardener", a + b)).await;
    client.wrote(&book, "stirred", json!({ "charge": charge })).await;
    shop.clock.advance(jiff::SignedDuration::from_mins(30));
    let other = client.begun().await;
    let (_, view) = client.get(&format!("/batches/{book}")).await;
    let offered = view["mix"]["hand_to"].as_array().unwrap();
    assert!(offered.iter().any(|h| h["id"] == other.as_str()), "{offered:?}");
    // Halves of the act alone are no entries.
    let half = json!({ "charge": charge, "to_batch": other });
    assert_eq!(client.write(&book, "hand_over", half).await.1["code"], "unknown-kind");
    let id = Uuid::now_v7();
    let hand = json!({ "id": id, "charge": charge, "to_batch": other });
    let (status, body) = client.post(&format!("/books/{book}/hand-over"), hand.clone()).await;
    assert_eq!(status, 200, "{body}");
    let (status, body) = client.post(&format!("/books/{book}/hand-over"), hand).await;
    assert_eq!((status.as_u16(), body["repeated"].as_bool()), (200, Some(true)), "{body}");
    let (_, there) = client.get(&format!("/batches/{other}")).await;
    let pot = &there["pots"][0];
    assert!(pot["age"].as_f64().unwrap() > 0.1, "it keeps its age: {pot}");
    assert_eq!(there["mix"]["pots"].as_array().unwrap().len(), 1);
    assert!(there["mix"]["pots"][0]["born"].as_str().unwrap().contains("of batch"));
    let (_, here) = client.get(&format!("/batches/{book}")).await;
    assert!(here["pots"].as_array().unwrap().is_empty());
    // To one of another sheet it does not go.
    let (_, board) = client.get("/board").await;
    let gel = board["batches"].as_array().unwrap().iter().find(|b| b["label"].as_str().unwrap().starts_with("Float")).unwrap();
    let wrong = json!({ "id": Uuid::now_v7(), "charge": there["mix"]["pots"][0]["id"], "to_batch": gel["id"] });
    let (status, body) = client.post(&format!("/books/{other}/hand-over"), wrong).await;
    assert_eq!((status.as_u16(), body["field"].as_str()), (422, Some("to_batch")), "{body}");
    assert!(level_keel_server::books::check_log(&shop.state.db).await.unwrap().faults.is_empty());
    shop.close().await;
}

#[sqlx::test]
async fn what_ifs_marks_and_the_strip(db: PgPool) {
    let shop = Shop::open(db).await;
    let client = applicator(&shop).await;
    let (book, charge) = ready_pot(&shop, &client).await;
    let way = |plan: Value, temp: Value| json!({ "way": { "plan": plan, "temp_c": temp } });
    let ask = |body: Value| async { client.post(&format!("/compute/mixing/what-if/{book}"), body).await };
    let (status, cool) = ask(way(json!({ "rate_ml_min": "300 mL/min", "fill_ml": "1 L" }), json!("18 C"))).await;
    assert_eq!(status, 200, "{cool}");
    let (_, hot) = ask(way(json!({ "rate_ml_min": 300, "fill_ml": 500 }), json!("95 F"))).await;
    assert!(hot["pots"].as_array().unwrap().len() > cool["pots"].as_array().unwrap().len());
    assert_ne!(hot["life"], cool["life"]);
    let (status, body) = ask(way(json!({ "rate_ml_min": "5 psi" }), Value::Null)).await;
    assert_eq!((status.as_u16(), body["field"].as_str()), (422, Some("plan.rate_ml_min")), "{body}");
    assert_eq!(ask(way(json!({ "rate_ml_min": -1 }), Value::Null)).await.0, 422);

    let cup = json!({ "cup": { "floor_mm": "90 mm", "rim_mm": 120, "height_mm": "150 mm" } });
    let (status, marks) = client.post(&format!("/compute/mixing/marks/{book}/{charge}"), cup).await;
    assert_eq!((status.as_u16(), marks["marks"].as_array().unwrap().len()), (200, 2), "{marks}");
    let small = json!({ "cup": { "floor_mm": 50, "rim_mm": 50, "height_mm": 50 } });
    let (status, body) = client.post(&format!("/compute/mixing/marks/{book}/{charge}"), small).await;
    assert_eq!((status.as_u16(), body["code"].as_str()), (422, Some("cup-too-small")));
    let path = format!("/batches/{book}/charges/{charge}/strip.svg?floor_mm=90&rim_mm=120&height_mm=150");
    let strip = client.http.get(format!("{}{path}", client.base)).send().await.unwrap();
    assert_eq!(strip.headers()["content-type"], "image/svg+xml");
    let svg = strip.text().await.unwrap();
    // 150 mm high, the wall leaning 15 mm out: 150.75 mm along it, and two margins of 8.
    assert!(svg.contains("height=\"166.75mm\"") && svg.matches("<line").count() == 2, "{svg}");

    let shapes = json!({ "takeoff": [{ "shape": { "is": "plate", "width_mm": "1 m", "height_mm": "2 m", "side_count": 2 }, "piece_count": 3, "off_pct": "10 %" }] });
    let (status, area) = client.post("/compute/mixing/takeoff", shapes.clone()).await;
    assert_eq!(
        (status.as_u16(), area["area"]["text"].as_str().map(|t| t.replace('\u{a0}', " "))),
        (200, Some("12 m²".into())),
        "{area}"
    );
    // A batch begun by its shapes keeps them, and plans with their interval.
    let (_, sheets) = client.get("/sheets").await;
    let primer = sheets.as_array().unwrap().iter().find(|s| s["name"] == "Island epoxy primer").unwrap();
    let id = Uuid::now_v7();
    let wanted = json!({ "sheet": primer["id"], "part": "Gate 4", "coat": "primer", "takeoff": shapes["takeoff"], "film_um": "4 mil",
        "film_is": "wet", "transfer_pct": 60 });
    let (status, body) = client.post("/batches", json!({ "id": id, "wanted": wanted })).await;
    assert_eq!(status, 200, "{body}");
    let (_, view) = client.get(&format!("/batches/{id}")).await;
    assert!(view["mix"]["plan"]["span"].is_string() && view["mix"]["plan"]["takeoff"].is_object(), "{}", view["mix"]["plan"]);
    shop.close().await;
}

/// The probe at the bench writes into the books of live pots, once a change.
#[sqlx::test]
async fn a_live_pot_ages_by_the_probe(db: PgPool) {
    let shop = Shop::open(db).await;
    assert_eq!(feed(&shop.state).await.unwrap(), 0, "no probe, no entry");
    let weather = level_keel_devices::weather::Weather::new(17);
    let served = level_keel_devices::modbus::serve("127.0.0.1:0", weather, 15.0, 0.0).await.unwrap();
    let probe = ProbeAt {
        rig: None,
        name: "bench".into(),
        of: ProbeOf::Material,
        table: RegisterTable::Input,
        register: 3,
        holds: RegisterType::I16,
        scale: 0.1,
        offset: 0.0,
    };
    let transmitter =
        Transmitter { name: "t".into(), address: served.address.to_string(), unit: 1, poll_s: 0.05, probes: vec![probe] };
    let tasks = listen(&[transmitter], &shop.state.probes, &shop.state.db, &shop.state.clock);
    let mut written = 0;
    for _ in 0..800 {
        written = feed(&shop.state).await.unwrap();
        if written > 0 {
            break;
        }
        tokio::time::sleep(Duration::from_millis(50)).await;
    }
    assert!(written >= 3, "every live pot of the demo: {written}");
    assert_eq!(feed(&shop.state).await.unwrap(), 0, "no change, nothing written");
    shop.clock.advance(jiff::SignedDuration::from_mins(11));
    let mut again = 0;
    for _ in 0..800 {
        again = feed(&shop.state).await.unwrap();
        if again > 0 {
            break;
        }
        tokio::time::sleep(Duration::from_millis(50)).await;
    }
    assert_eq!(again, written, "after ten minutes again");
    let client = applicator(&shop).await;
    let (_, board) = client.get("/board").await;
    let (_, view) = client.get(&format!("/batches/{}", board["pots"][0]["batch"].as_str().unwrap())).await;
    assert!(view["log"].as_array().unwrap().iter().any(|l| l["kind"] == "pot_temperature"));
    assert!(level_keel_server::books::check_log(&shop.state.db).await.unwrap().faults.is_empty());
    end(tasks).await;
    shop.close().await;
}

/// What two signed coats of the primer by pot on blasted steel took, worked out from their own cards, is what the next such
/// coat is told; one by another method, or on something else, is told nothing.
#[sqlx::test]
async fn use_is_learned_from_signed_coats_alike(db: PgPool) {
    let shop = Shop::open(db).await;
    let client = applicator(&shop).await;
    let (_, records) = client.get("/records").await;
    let mut factors = Vec::new();
    for row in records["rows"].as_array().unwrap() {
        let (_, card) = client.get(&format!("/batches/{}/card.json", row["id"].as_str().unwrap())).await;
        if card["sheet"]["name"] != "Island epoxy primer" || card["method"] != "pot" || card["substrate"] != "blasted_steel" {
            continue;
        }
        let of = |field: &str| card[field].as_f64().unwrap();
        let used: f64 = card["passes"].as_array().unwrap().iter().map(|p| p["used_ml"].as_f64().unwrap()).sum();
        factors.push(used / (of("area_m2") * of("wet_aim_um") / (of("transfer_pct") / 100.0)));
    }
    assert!(factors.len() >= 2, "{factors:?}");
    let off = (100.0 * (factors.iter().sum::<f64>() / factors.len() as f64 - 1.0)).round();
    let says = format!("{:.0} % {} ({} coats, ", off.abs(), if off < 0.0 { "less" } else { "more" }, factors.len());
    for (method, substrate, told) in
        [("pot", "blasted_steel", true), ("brush", "blasted_steel", false), ("pot", "already_coated", false)]
    {
        let id = Uuid::now_v7();
        let sheets = client.get("/sheets").await.1;
        let sheet = sheets.as_array().unwrap().iter().find(|s| s["name"] == "Island epoxy primer").unwrap();
        let wanted = json!({ "sheet": sheet["id"], "part": format!("Buoy by {method} on {substrate}"), "coat": "primer", "area_m2": 5.0,
            "film_um": 100.0, "film_is": "wet", "transfer_pct": 60.0, "method": method, "substrate": substrate });
        let (status, _) = client.post("/batches", json!({ "id": id, "wanted": wanted })).await;
        assert!(status.is_success());
        let (_, view) = client.get(&format!("/batches/{id}")).await;
        let learned = view["mix"]["plan"]["learned"].as_str().unwrap_or_default();
        assert_eq!(learned.contains(&says), told, "{method}, {substrate}: {learned:?}, by the cards {says}");
        if told {
            // Reckoned with, the need is that many times what area and film say.
            let need = |by_learned: bool| json!({ "rate_ml_min": 300.0, "more": { "by_learned": by_learned } });
            let ml = |answer: Value| {
                answer["view"]["mix"]["plan"]["working"]["lines"].as_array().unwrap().last().unwrap()["value"].as_f64().unwrap()
            };
            let with = ml(client.dry(&id.to_string(), "plan_mix", need(true)).await);
            let without = ml(client.dry(&id.to_string(), "plan_mix", need(false)).await);
            assert!((with / without - (1.0 + off / 100.0)).abs() < 0.006, "{with} to {without}");
        }
    }
    shop.close().await;
}
