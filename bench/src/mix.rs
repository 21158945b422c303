//! Mix under load: the plan and the rescue while someone types, and two hundred screens that follow one weigh-in.

use crate::client::Client;
use crate::report::{Report, Times};
use futures_util::StreamExt;
use level_keel_harness::Shop;
use level_keel_server::scales;
use level_keel_server::settings::Settings;
use level_keel_server::state::State;
use serde_json::json;
use std::sync::{Arc, Mutex};
use std::time::{Duration, Instant};
use tokio::io::AsyncWriteExt;
use tokio::net::TcpListener;

/// Answers asked of each kind.
const ASKED: usize = 200;
/// Screens that follow one scale, lines it sends, and the time between two.
const SCREENS: usize = 200;
const LINES: usize = 100;
const BETWEEN: Duration = Duration::from_millis(100);
/// A line later than this is no picture of the pan any more: a screen that is behind.
const BEHIND: Duration = Duration::from_secs(1);

/// What a plan of pots and a rescue cost, asked while typing.
pub async fn planning(shop: &Shop, report: &mut Report) {
    let client = Client::signed(&shop.address).await;
    let (book, charge) = client.pot().await;
    let pour = |component: &str, g: f64| json!({ "charge": charge, "component": component, "reading_g": g, "resolution_g": 1 });
    client.entry(&book, "pour", pour("base", 2000.0), false).await;
    client.entry(&book, "pour", pour("hardener", 2500.0), false).await;
    let (mut plans, mut rescues) = (Times::default(), Times::default());
    for n in 0..ASKED {
        let start = Instant::now();
        let rate = 200 + n;
        let plan = json!({ "rate_ml_min": format!("{rate} mL/min"), "fill_ml": "700 mL", "more": { "extra_pct": "5 %" } });
        let answer = client.entry(&book, "plan_mix", plan, true).await;
        plans.add(start.elapsed());
        assert!(answer["view"]["mix"]["plan"]["pots"].as_array().is_some_and(|p| !p.is_empty()), "{answer}");
        let start = Instant::now();
        let answer = client.entry(&book, "rescue", json!({ "charge": charge, "to": "exact" }), true).await;
        rescues.add(start.elapsed());
        assert_eq!(answer["refusals"], json!([]), "{answer}");
    }
    for (name, times) in [("plan of the pots, typed", plans), ("rescue of an over-pour", rescues)] {
        let line = format!("p50 {}, p95 {}", times.at(50), times.at(95));
        report.line(name, &line, "p95 ≤ 20 ms", times.at(95).0 <= 20.0);
    }
}

/// Each line carries its number as the load; a screen that shows it says when.
pub async fn weighing(shop: &Shop, report: &mut Report) {
    let client = Client::signed(&shop.address).await;
    let (book, charge) = client.pot().await;
    let listener = TcpListener::bind("127.0.0.1:0").await.expect("a free port");
    let address = listener.local_addr().expect("an address").to_string();
    let settings = Settings { demo_scale: address, ..shop.state.settings.clone() };
    let tasks = scales::listen(&State { settings, ..shop.state.clone() }).await.expect("it is heard");
    let (mut line, _) = listener.accept().await.expect("the server listens");
    let sent: Arc<Mutex<Vec<Instant>>> = Arc::default();
    let (told, mut heard) = tokio::sync::mpsc::unbounded_channel::<(usize, Instant)>();
    let path = format!("/batches/{book}/charges/{charge}/weigh-in?scale=Mixing%20scale");
    let mut screens = Vec::new();
    for _ in 0..SCREENS {
        let (stream, told) = (client.stream(&path).await, told.clone());
        screens.push(tokio::spawn(async move {
            let mut stream = stream.bytes_stream();
            while let Some(Ok(chunk)) = stream.next().await {
                let at = Instant::now();
                let text = String::from_utf8_lossy(&chunk).into_owned();
                for load in text.split("\"load_g\":").skip(1) {
                    let figure: String = load.chars().take_while(|c| c.is_ascii_digit() || *c == '.').collect();
                    if let Ok(n) = figure.parse::<f64>() {
                        let _ = told.send((n as usize, at));
                    }
                }
            }
        }));
    }
    tokio::time::sleep(Duration::from_millis(500)).await;
    for n in 0..LINES {
        sent.lock().expect("the times").push(Instant::now());
        line.write_all(format!("W=+{n:05}.0;U=g;M=moving\r\n").as_bytes()).await.expect("it is sent");
        tokio::time::sleep(BETWEEN).await;
    }
    tokio::time::sleep(Duration::from_millis(500)).await;
    screens.iter().for_each(tokio::task::JoinHandle::abort);
    let (mut times, mut seen, mut behind) = (Times::default(), 0, 0);
    let sent = sent.lock().expect("the times").clone();
    while let Ok((n, at)) = heard.try_recv() {
        if let Some(start) = sent.get(n) {
            let took = at.duration_since(*start);
            seen += 1;
            behind += usize::from(took > BEHIND);
            times.add(took);
        }
    }
    for task in tasks {
        task.abort();
        let _ = task.await;
    }
    let share = 100.0 * seen as f64 / (SCREENS * LINES) as f64;
    report.line(
        "200 screens follow a weigh-in, 10 lines a second",
        &format!(
            "p50 {}, p95 {}, p99 {}; {share:.0} % of all lines seen, {behind} behind",
            times.at(50),
            times.at(95),
            times.at(99)
        ),
        "p95 ≤ 100 ms, none behind",
        times.at(95).0 <= 100.0 && behind == 0,
    );
}
