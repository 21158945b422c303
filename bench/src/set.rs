//! Set under load: a pressure typed, and the flow curve it draws; the line asked both ways.

use crate::client::Client;
use crate::report::{Report, Times};
use crate::{KEYS, PAUSE, TYPISTS};
use level_keel_harness::Shop;
use serde_json::json;
use std::time::{Duration, Instant};

/// Twenty people set their rigs at once; each pause of the hand asks for the picture anew.
pub async fn curves(shop: &Shop, report: &mut Report) {
    let client = Client::signed(&shop.address).await;
    let rigs = client.get("/rigs").await;
    let pot = rigs.as_array().and_then(|r| r.iter().find(|r| r["rig"]["kind"] == "pot")).expect("a pot")["id"].clone();
    let tasks: Vec<_> = (0..TYPISTS)
        .map(|n| {
            let (client, pot) = (client.clone(), pot.clone());
            tokio::spawn(async move {
                let book = client.begun().await;
                client.entry(&book, "choose_rig", json!({ "rig": pot }), false).await;
                let (mut tries, mut asked) = (Times::default(), Times::default());
                for key in 0..KEYS {
                    tokio::time::sleep(PAUSE + Duration::from_millis((n * 7 % 40) as u64)).await;
                    let kpa = format!("{}.{} psi", 5 + n, key % 10);
                    let start = Instant::now();
                    let answer = client.entry(&book, "set_up", json!({ "pot_kpa": kpa, "stream_mm": "9 in" }), true).await;
                    tries.add(start.elapsed());
                    let curve = &answer["view"]["set"]["modelled"]["curve"]["points"];
                    assert!(curve.as_array().is_some_and(|p| p.len() > 40), "{answer}");
                    let start = Instant::now();
                    let answer =
                        client.line(&book, json!({ "stream_mm": "9 in", "nozzle_mm": format!("1.{} mm", key % 9 + 1) })).await;
                    asked.add(start.elapsed());
                    assert!(answer["modelled"]["at"]["text"].is_string(), "{answer}");
                }
                (tries, asked)
            })
        })
        .collect();
    let (mut tries, mut asked) = (Times::default(), Times::default());
    for task in tasks {
        let (a, b) = task.await.expect("a hand at its rig");
        tries.join(a);
        asked.join(b);
    }
    for (name, times) in [("flow curve while typing a try, 20 clients", tries), ("the line asked both ways, 20 clients", asked)] {
        let line = format!("p50 {}, p95 {}", times.at(50), times.at(95));
        report.line(name, &line, "p95 ≤ 50 ms", times.at(95).0 <= 50.0);
    }
}
