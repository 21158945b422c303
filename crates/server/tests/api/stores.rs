//! Stores over the wire: what comes in, what is left, who may stand where, tables, papers, labels.

use super::client::{Client, INSPECTOR, applicator, lead};
use level_keel_harness::Shop;
use level_keel_server::books::check_log;
use serde_json::{Value, json};
use sqlx::PgPool;
use uuid::Uuid;

async fn sheet_of(client: &Client, name: &str) -> Value {
    let (_, sheets) = client.get("/sheets").await;
    let found = sheets.as_array().unwrap().iter().find(|s| s["name"].as_str().unwrap().starts_with(name)).cloned();
    found.unwrap()["id"].clone()
}

/// A day so many days from the shop's today.
fn day(shop: &Shop, days: i64) -> String {
    shop.state.shop_day().saturating_add(jiff::SignedDuration::from_hours(24 * days)).to_string()
}

async fn receive(client: &Client, payload: Value) -> (u16, Value) {
    let entry = json!({ "id": Uuid::now_v7(), "kind": "received", "payload": payload });
    let (status, body) = client.post("/lots", entry).await;
    (status.as_u16(), body)
}

async fn keep(client: &Client, lot: &Value, kind: &str, payload: Value) -> (u16, Value) {
    let entry = json!({ "id": Uuid::now_v7(), "kind": kind, "payload": payload });
    let (status, body) = client.post(&format!("/lots/{}/entries", lot.as_str().unwrap()), entry).await;
    (status.as_u16(), body)
}

async fn left(client: &Client, lot: &Value) -> String {
    let (_, view) = client.get(&format!("/lots/{}", lot.as_str().unwrap())).await;
    view["left"]["text"].as_str().unwrap().replace('\u{a0}', " ")
}

#[sqlx::test]
async fn a_lot_comes_in_is_poured_given_back_and_counted(db: PgPool) {
    let shop = Shop::open(db).await;
    let client = applicator(&shop).await;
    let primer = sheet_of(&client, "Island").await;
    let payload = json!({ "code": "P-9", "sheet": primer, "component": "base", "colour": "grey", "received": day(&shop, 0),
        "expires": day(&shop, 90), "container_g": "20 kg", "containers_count": 2, "place": "Slip shed" });
    let (status, made) = receive(&client, payload.clone()).await;
    assert_eq!(status, 200, "{made}");
    let lot = made["lot"].clone();
    assert_eq!(left(&client, &lot).await, "40 kg");
    let (status, twice) = receive(&client, payload).await;
    assert_eq!((status, twice["code"].as_str()), (409, Some("received-already")));

    let book = client.begun().await;
    let charge = Uuid::now_v7();
    client.wrote(&book, "open_charge", json!({ "charge": charge, "kind": "pot", "wanted_ml": 1000 })).await;
    let pour = json!({ "charge": charge, "component": "base", "reading_g": 1200, "resolution_g": 1, "lot": "p-9" });
    let poured = client.wrote(&book, "pour", pour).await;
    assert_eq!(left(&client, &lot).await, "38.8 kg", "the code is found whatever its case");
    let entry = poured["view"]["log"][0]["entry"].clone();
    client.wrote(&book, "strike", json!({ "entry": entry, "reason": "read the wrong scale" })).await;
    assert_eq!(left(&client, &lot).await, "40 kg", "a strike gives back");

    assert_eq!(keep(&client, &lot, "counted", json!({ "left_g": "39.5 kg" })).await.0, 200);
    assert_eq!(left(&client, &lot).await, "39.5 kg");
    for (kind, payload, field) in [
        ("counted", json!({ "left_g": "-1 kg" }), "left_g"),
        ("counted", json!({ "left_g": "20 psi" }), "left_g"),
        ("moved", json!({ "place": " " }), "place"),
        ("quarantined", json!({ "reason": "" }), "reason"),
        ("certified", json!({ "values": [] }), "values"),
        ("certified", json!({ "values": [{ "name": "gel time", "value": "" }] }), "values[0].value"),
        ("weighed", json!({}), "kind"),
    ] {
        let (status, body) = keep(&client, &lot, kind, payload).await;
        assert_eq!((status, body["field"].as_str()), (422, Some(field)), "{body}");
    }
    assert!(check_log(&shop.state.db).await.unwrap().faults.is_empty());
    shop.close().await;
}

#[sqlx::test]
async fn an_expired_or_quarantined_lot_cannot_be_taken_by_any_way(db: PgPool) {
    let shop = Shop::open(db).await;
    let (client, lead) = (applicator(&shop).await, lead(&shop).await);
    let book = client.begun().await;
    let charge = Uuid::now_v7();
    client.wrote(&book, "open_charge", json!({ "charge": charge, "kind": "pot", "wanted_ml": 1000 })).await;
    // P-2191 of the demo is past its date, H-209 of another product.
    for (who, code, why) in [(&client, "P-2191", "expired-lot"), (&lead, "P-2191", "expired-lot"), (&lead, "F-0931", "wrong-lot")]
    {
        let take = json!({ "component": "base", "lot": code, "reason": "it looks fine" });
        let (status, body) = who.write(&book, "take_lot", take).await;
        assert_eq!((status.as_u16(), body["code"].as_str()), (409, Some(why)), "{body}");
        let pour = json!({ "charge": charge, "component": "base", "reading_g": 1200, "resolution_g": 1, "lot": code });
        let (status, body) = who.write(&book, "pour", pour).await;
        assert_eq!((status.as_u16(), body["code"].as_str()), (409, Some(why)), "{body}");
    }
    // The oldest that is fit first; another wants a reason.
    let (status, body) = client.write(&book, "take_lot", json!({ "component": "base", "lot": "P-2215" })).await;
    assert_eq!((status.as_u16(), body["field"].as_str()), (422, Some("reason")), "{body}");
    client.wrote(&book, "take_lot", json!({ "component": "base", "lot": "P-2204" })).await;
    // Quarantined while the work goes on: a stop at once, and nobody may release it.
    let (_, lots) = client.get("/lots?find=P-2204").await;
    let lot = lots["lots"][0]["id"].clone();
    assert_eq!(keep(&client, &lot, "quarantined", json!({ "reason": "recall" })).await.0, 200);
    let (_, view) = client.get(&format!("/batches/{book}")).await;
    let held = view["holds"].as_array().unwrap().iter().find(|h| h["gate"] == "lots").unwrap().clone();
    assert_eq!(held["severity"], "stop");
    let release = json!({ "gate": "lots", "item": held["item"], "reason": "I know it", "seen_seq": view["head_seq"] });
    assert_eq!(lead.write(&book, "release", release).await.1["code"], "stop");
    // Freed only by a lead, an inspector or the owner; striking the quarantine is no way round.
    assert_eq!(keep(&client, &lot, "freed", json!({ "reason": "fine" })).await.0, 403);
    let (_, one) = client.get(&format!("/lots/{}", lot.as_str().unwrap())).await;
    let entry = one["log"][0]["entry"].clone();
    assert_eq!(keep(&client, &lot, "strike", json!({ "entry": entry, "reason": "oops" })).await.0, 403);
    let inspector = Client::signed(&shop.address, INSPECTOR).await;
    assert_eq!(keep(&inspector, &lot, "freed", json!({ "reason": "retested" })).await.0, 200);
    let (_, view) = client.get(&format!("/batches/{book}")).await;
    assert!(view["holds"].as_array().unwrap().iter().all(|h| h["gate"] != "lots"), "{}", view["holds"]);
    shop.close().await;
}

/// One lot for the whole part: a second one holds, in the same batch and in another of the same coat.
#[sqlx::test]
async fn a_second_lot_on_a_part_holds_until_a_lead_releases_it(db: PgPool) {
    let shop = Shop::open(db).await;
    let (client, lead) = (applicator(&shop).await, lead(&shop).await);
    let book = client.begun().await;
    let charge = Uuid::now_v7();
    client.wrote(&book, "open_charge", json!({ "charge": charge, "kind": "pot", "wanted_ml": 1000 })).await;
    let pour = json!({ "charge": charge, "component": "base", "reading_g": 500, "resolution_g": 1, "lot": "P-2204" });
    client.wrote(&book, "pour", pour).await;
    let (_, view) = client.get(&format!("/batches/{book}")).await;
    let of = |view: &Value| {
        let all = view["holds"].as_array().unwrap();
        all.iter().find(|h| h["text"].as_str().is_some_and(|t| t.contains("would be the second"))).cloned()
    };
    assert!(of(&view).is_none(), "{}", view["holds"]);
    let take = json!({ "component": "base", "lot": "P-2207", "reason": "the first is empty" });
    client.wrote(&book, "take_lot", take).await;
    let (_, view) = client.get(&format!("/batches/{book}")).await;
    let held = of(&view).expect("a hold on the second lot");
    assert_eq!(held["severity"], "hold");
    let release = json!({ "gate": "lots", "item": held["item"], "reason": "same colour, checked", "seen_seq": view["head_seq"] });
    assert_eq!(client.write(&book, "release", release.clone()).await.0, 403);
    lead.wrote(&book, "release", release).await;
    let (_, view) = client.get(&format!("/batches/{book}")).await;
    assert!(of(&view).is_none_or(|h| h["released"].is_string() || h["released"].is_object()), "{}", view["holds"]);
    shop.close().await;
}

#[sqlx::test]
async fn peroxide_never_comes_to_stand_beside_gel_coat(db: PgPool) {
    let shop = Shop::open(db).await;
    let client = applicator(&shop).await;
    let gel_coat = sheet_of(&client, "Flume").await;
    let peroxide = json!({ "code": "C-9", "sheet": gel_coat, "component": "hardener", "received": day(&shop, 0), "container_g": 5000,
        "containers_count": 1, "place": "gel-coat ROOM" });
    let (status, body) = receive(&client, peroxide).await;
    assert_eq!((status, body["code"].as_str(), body["field"].as_str()), (409, Some("peroxide-beside-resin"), Some("place")));
    let (_, lots) = client.get("/lots?find=C-0412").await;
    let lot = lots["lots"][0]["id"].clone();
    assert_eq!(keep(&client, &lot, "moved", json!({ "place": "Gel-coat room" })).await.1["code"], "peroxide-beside-resin");
    assert_eq!(keep(&client, &lot, "moved", json!({ "place": "Cold locker" })).await.0, 200);
    let table = format!(
        "code,product,component,received,container_g,containers_count,place\nG-1,\"Flume gel coat, sand\",base,{},1000,1,Cold locker\n",
        day(&shop, 0)
    );
    let (_, imported) = import(&client, &table, true).await;
    assert!(imported["faults"][0]["text"].as_str().unwrap().contains("beside"), "{imported}");
    shop.close().await;
}

async fn import(client: &Client, table: &str, dry: bool) -> (u16, Value) {
    import_as(client, Uuid::now_v7(), table.as_bytes().to_vec(), dry).await
}

async fn import_as(client: &Client, id: Uuid, table: Vec<u8>, dry: bool) -> (u16, Value) {
    let address = format!("{}/lots/import?id={id}&dry_run={dry}", client.base);
    let answer = client.http.post(address).header("content-type", "text/csv").body(table).send().await.unwrap();
    let status = answer.status().as_u16();
    (status, answer.json().await.unwrap())
}

const HEADER: &str = "code,product,component,received,expires,container_g,containers_count,place";

#[sqlx::test]
async fn a_table_goes_in_whole_or_not_at_all_and_comes_out_the_same(db: PgPool) {
    let shop = Shop::open(db).await;
    let client = applicator(&shop).await;
    let (came, good) = (day(&shop, -3), day(&shop, 100));
    let row = |code: &str| format!("{code},Island epoxy primer,base,{came},{good},20 kg,2,Paint store");
    // A byte-order mark, semicolons, quotes, an empty last line.
    let german = format!(
        "\u{feff}{}\r\n\"N-1\";Island epoxy primer;base;{came};{good};\"20 kg\";2;\"Shed \"\"B\"\"\"\r\n\r\n",
        HEADER.replace(',', ";")
    );
    let id = Uuid::now_v7();
    let (_, seen) = import_as(&client, id, german.clone().into_bytes(), true).await;
    assert_eq!(
        (&seen["fault_count"], &seen["stored"], &seen["preview"][0]["place"]),
        (&json!(0), &json!(0), &json!("Shed \"B\"")),
        "{seen}"
    );
    let (_, places) = client.get("/places").await;
    assert!(places["places"].as_array().unwrap().iter().all(|p| p["name"] != "Shed \"B\""), "looking stores nothing");
    let (_, stored) = import_as(&client, id, german.clone().into_bytes(), false).await;
    assert_eq!(stored["stored"], 1, "{stored}");
    // Sent again after a lost answer: the same import.
    let (_, again) = import_as(&client, id, german.into_bytes(), false).await;
    assert_eq!((&again["stored"], &again["fault_count"]), (&json!(1), &json!(0)));

    let bad = [
        ("lot,product\n1,2\n".to_string(), "lot"),
        (format!("{HEADER}\n{}\n{}\n", row("N-2"), row("n-2")), "code"),
        (format!("{HEADER}\n{}\n", row("N-1")), "code"),
        (format!("{HEADER}\n{}\n", row("=1+1")), "code"),
        (format!("{HEADER}\n{}\n", row("N-3").replace("Island epoxy primer", "Nobody's paint")), "product"),
        (format!("{HEADER}\n{}\n", row("N-3").replace("20 kg", "-4")), "container_g"),
    ];
    for (table, column) in bad {
        let (status, body) = import(&client, &table, false).await;
        assert_eq!((status, &body["stored"]), (200, &json!(0)), "{body}");
        assert_eq!(body["faults"][0]["column"], column, "{body}");
    }
    for (table, said) in [("", "empty"), (HEADER, "no row"), (&format!("{HEADER}\n1,2\n"), "cells")] {
        let (_, body) = import(&client, table, false).await;
        assert!(body["faults"][0]["text"].as_str().unwrap().contains(said), "{body}");
    }
    let (status, body) = import_as(&client, Uuid::now_v7(), vec![0xff, 0xfe, 0x41], false).await;
    assert_eq!((status, body["field"].as_str()), (422, Some("file")));

    // The same columns out, which go in again once the codes are other ones.
    let (_, out) = client.file("/lots.csv?find=Island").await;
    assert!(out.starts_with("code,product,component,makers_lot,colour,received,made,expires,shelf_life_days,container_g,containers_count,place,left_g\n"));
    let mut lines = out.lines();
    let header = lines.next().unwrap();
    let renamed: Vec<String> = lines.map(|l| format!("X{l}")).collect();
    let (_, back) = import(&client, &format!("{header}\n{}\n", renamed.join("\n")), false).await;
    assert_eq!((&back["fault_count"], back["stored"].as_u64().unwrap() as usize), (&json!(0), renamed.len()), "{back}");
    let (_, lots) = client.get("/lots?find=XP-2204").await;
    let (_, old) = client.get("/lots?find=P-2204").await;
    let poured = old["lots"].as_array().unwrap().iter().find(|l| l["code"] == "P-2204").unwrap();
    assert_eq!(lots["lots"][0]["left"], poured["left"], "what is left goes with it");
    assert!(check_log(&shop.state.db).await.unwrap().faults.is_empty());
    shop.close().await;
}

#[sqlx::test]
async fn lots_are_found_and_read_page_by_page_oldest_first(db: PgPool) {
    let shop = Shop::open(db).await;
    let client = applicator(&shop).await;
    let rows: Vec<String> = (0..230)
        .map(|n| format!("Q-{n:04},Deck texture,base,{},{},1000,1,Paint store", day(&shop, -n % 40), day(&shop, 5 + n)))
        .collect();
    let table = format!("{HEADER}\n{}\n", rows.join("\n")).replace("Deck texture,", "\"Deck texture, single pack\",");
    assert_eq!(import(&client, &table, false).await.1["stored"], 230);
    let mut seen: Vec<(String, String)> = Vec::new();
    let mut after = String::new();
    loop {
        let (_, page) = client.get(&format!("/lots?find=Q-&after={after}")).await;
        for l in page["lots"].as_array().unwrap() {
            seen.push((l["received"].as_str().unwrap().into(), l["code"].as_str().unwrap().into()));
        }
        match page["next"].as_str() {
            Some(next) => after = next.replace('|', "%7C"),
            None => break,
        }
    }
    assert_eq!(seen.len(), 230);
    assert!(seen.is_sorted(), "oldest first, then by code");
    // By a column, both ways, a page at a time.
    for (sort, field) in [("code", "code"), ("expires", "expires")] {
        for down in ["", "-"] {
            let (mut said, mut after) = (Vec::new(), String::new());
            loop {
                let (_, page) = client.get(&format!("/lots?find=Q-&sort={down}{sort}&after={after}")).await;
                said.extend(page["lots"].as_array().unwrap().iter().map(|l| l[field].as_str().unwrap().to_string()));
                match page["next"].as_str() {
                    Some(next) => after = next.into(),
                    None => break,
                }
            }
            if down == "-" {
                said.reverse();
            }
            assert!(said.len() == 230 && said.is_sorted(), "{down}{sort}: {said:?}");
        }
    }
    // Equal keys and lots without a date are cut by the end of a page like any others: each comes once.
    for (at, sort) in [("left", ""), ("place", ""), ("expires", ""), ("expires", "-")].map(|(c, way)| (c, format!("{way}{c}"))) {
        let (mut codes, mut after) = (Vec::new(), String::new());
        loop {
            let (_, page) = client.get(&format!("/lots?state=all&sort={sort}&after={after}")).await;
            codes.extend(page["lots"].as_array().unwrap().iter().map(|l| l["id"].as_str().unwrap().to_string()));
            match page["next"].as_str() {
                Some(next) => after = next.replace('+', "%2B").replace(' ', "%20"),
                None => break,
            }
        }
        let many = codes.len();
        codes.sort();
        codes.dedup();
        assert!(many > 240 && codes.len() == many, "{at}: {many} rows, {} lots", codes.len());
    }
    let heaviest = client.get("/lots?sort=-left").await.1;
    assert_eq!(heaviest["lots"][0]["code"], "G-3122", "two drums");
    assert_eq!(client.get("/lots?sort=colour").await.1["field"], "sort");
    for after in ["-5", "x", "P-1"] {
        for sort in ["code", ""] {
            let (status, body) = client.get(&format!("/lots?sort={sort}&after={after}")).await;
            assert_eq!((status.as_u16(), body["field"].as_str()), (422, Some("after")), "{sort} {after}");
        }
    }
    let firsts = client.get("/lots?component=base&find=Deck").await.1;
    let marked: Vec<_> = firsts["lots"].as_array().unwrap().iter().filter(|l| l["first"] == true).collect();
    assert_eq!(marked.len(), 1, "one lot is first in");
    for (state, want) in [("expired", 1), ("quarantined", 1), ("empty", 0)] {
        let (_, page) = client.get(&format!("/lots?state={state}")).await;
        assert_eq!(page["lots"].as_array().unwrap().len(), want, "{state}");
    }
    shop.close().await;
}

#[sqlx::test]
async fn a_paper_is_what_its_bytes_are_and_is_sent_as_a_download(db: PgPool) {
    let shop = Shop::open(db).await;
    let client = applicator(&shop).await;
    let put = async |name: &str, bytes: Vec<u8>| {
        let address = format!("{}/files?name={name}", client.base);
        let answer = client.http.put(address).header("content-type", "application/pdf").body(bytes).send().await.unwrap();
        (answer.status().as_u16(), answer.json::<Value>().await.unwrap())
    };
    let (status, paper) = put("certificate.pdf", b"%PDF-1.4\n1 0 obj\n%%EOF".to_vec()).await;
    assert_eq!(status, 200, "{paper}");
    for lies in [b"<script>alert(1)</script>".to_vec(), b"MZ\x90\x00".to_vec(), Vec::new(), b"PDF".to_vec()] {
        assert_eq!(put("certificate.pdf", lies).await.0, 422);
    }
    assert_eq!(put("certificate.pdf", vec![b'%'; 11 * 1024 * 1024]).await.0, 413);
    let (_, lots) = client.get("/lots?find=P-2207").await;
    let lot = lots["lots"][0]["id"].clone();
    let certified = json!({ "values": [{ "name": "gel time", "value": "12 min" }], "paper": paper });
    assert_eq!(keep(&client, &lot, "certified", certified).await.0, 200);
    let ghost = json!({ "values": [], "paper": { "sha256": "00", "name": "x" } });
    assert_eq!(keep(&client, &lot, "certified", ghost).await.1["code"], "unknown-file");
    let answer = client.http.get(format!("{}/files/{}", client.base, paper["sha256"].as_str().unwrap())).send().await.unwrap();
    assert!(answer.headers()["content-disposition"].to_str().unwrap().starts_with("attachment"));
    assert_eq!(answer.headers()["x-content-type-options"], "nosniff");
    assert_eq!(answer.headers()["content-type"], "application/pdf");
    // A photo of a panel cannot be a PDF.
    let book = client.begun().await;
    let tick = json!({ "item": "containers", "did": "done", "photo": paper });
    assert_eq!(client.write(&book, "tick", tick).await.1["code"], "wrong-file");
    shop.close().await;
}

#[sqlx::test]
async fn a_place_keeps_its_band_and_counts_the_time_outside(db: PgPool) {
    let shop = Shop::open(db).await;
    let (client, lead) = (applicator(&shop).await, lead(&shop).await);
    let place = json!({ "name": "Cold locker", "store_min_c": "41 F", "store_max_c": "25 °C", "probe": "" });
    assert_eq!(client.post("/places", json!({ "place": place })).await.0, 403);
    let (status, id) = lead.post("/places", json!({ "place": place })).await;
    assert_eq!(status, 200, "{id}");
    assert_eq!(lead.post("/places", json!({ "place": place })).await.1["field"], "name");
    let read = async |temp: &str, hours: f64| {
        let entry =
            json!({ "id": Uuid::now_v7(), "kind": "temperature", "payload": { "temp_c": temp }, "ago_s": hours * 3600.0 });
        client.post(&format!("/places/{}/entries", id.as_str().unwrap()), entry).await
    };
    assert_eq!(read("30", 10.0).await.0, 200);
    assert_eq!(read("20", 7.0).await.0, 200);
    assert_eq!(read("20 psi", 1.0).await.1["field"], "temp_c");
    assert_eq!(read("20", 30.0).await.1["field"], "ago_s");
    let (_, places) = client.get("/places").await;
    let locker = places["places"].as_array().unwrap().iter().find(|p| p["name"] == "Cold locker").cloned().unwrap();
    assert_eq!(locker["out_of_band"].as_str().unwrap().replace('\u{a0}', " "), "3 h 00");
    assert_eq!((&locker["level"]["word"], &locker["by_probe"]), (&json!("in"), &json!(false)));
    assert!(places["schools"].as_array().unwrap().len() >= 4);
    assert!(check_log(&shop.state.db).await.unwrap().faults.is_empty());
    shop.close().await;
}
