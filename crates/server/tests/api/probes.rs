//! Transmitters over Modbus TCP: read, lost, found again; what they send and what is believed.

use super::client::applicator;
use level_keel_core::conditions::probe::ProbeOf;
use level_keel_devices::modbus::{Fault, serve};
use level_keel_devices::weather::Weather;
use level_keel_harness::Shop;
use level_keel_server::conditions::listen;
use level_keel_server::settings::{ProbeAt, RegisterTable, RegisterType, Transmitter};
use serde_json::Value;
use sqlx::PgPool;
use std::time::Duration;
use tokio::io::{AsyncReadExt, AsyncWriteExt};
use tokio::net::TcpListener;
use tokio::task::JoinHandle;

fn transmitter(address: &str) -> Transmitter {
    let probe = |name: &str, of, register| ProbeAt {
        rig: None,
        name: name.into(),
        of,
        table: RegisterTable::Input,
        register,
        holds: RegisterType::I16,
        scale: 0.1,
        offset: 0.0,
    };
    let probes =
        vec![probe("air", ProbeOf::Air, 0), probe("humidity", ProbeOf::Humidity, 1), probe("surface", ProbeOf::Surface, 2)];
    Transmitter { name: "test".into(), address: address.into(), unit: 1, poll_s: 0.05, probes }
}

fn follow(shop: &Shop, address: &str) -> Vec<JoinHandle<()>> {
    let s = &shop.state;
    listen(&[transmitter(address)], &s.probes, &s.db, &s.clock)
}

async fn end(tasks: Vec<JoinHandle<()>>) {
    for task in tasks {
        task.abort();
        let _ = task.await;
    }
}

/// Asks until the air probe says this, at most forty seconds.
async fn until(shop: &Shop, word: &str) -> Value {
    let client = applicator(shop).await;
    for _ in 0..800 {
        let (_, probes) = client.get("/probes").await;
        let air = probes.as_array().unwrap().iter().find(|p| p["name"] == "air").cloned().unwrap();
        if air["word"] == word {
            return air;
        }
        tokio::time::sleep(Duration::from_millis(50)).await;
    }
    panic!("the air probe never says {word}");
}

#[sqlx::test]
async fn a_probe_is_read_believed_lost_and_found_again(db: PgPool) {
    let shop = Shop::open(db).await;
    let device = serve("127.0.0.1:0", Weather::new(17), 12.0, 0.0).await.unwrap();
    let address = device.address.to_string();
    let tasks = follow(&shop, &address);
    let fresh = until(&shop, "fresh").await;
    assert_eq!(fresh["fresh"], true);
    let wanted = Weather::new(17).at(12.0)[0];
    let shown: f64 = fresh["shown"]["figure"].as_str().unwrap().parse().unwrap();
    assert!((shown - wanted).abs() <= 0.06, "{shown} for {wanted}: the register holds tenths");
    // Nonsense, a leap, silence: none of them is fresh, the last good value stays to be seen.
    for (fault, word) in
        [(Fault::Nonsense, "reads nonsense"), (Fault::None, "fresh"), (Fault::Silent, "no answer"), (Fault::None, "fresh")]
    {
        device.fault(0, fault);
        let air = until(&shop, word).await;
        assert_eq!(air["fresh"], word == "fresh");
        assert_eq!(air["shown"], fresh["shown"]);
    }
    // What it sent is kept for a while, without every repeat.
    let kept: i64 =
        sqlx::query_scalar("select count(*) from reading where source = 'probe:air'").fetch_one(&shop.state.db).await.unwrap();
    assert_eq!(kept, 1, "a value that does not move is kept once in ten minutes");
    // The transmitter dies: typed readings go on as ever.
    device.stop().await;
    until(&shop, "no answer").await;
    let client = applicator(&shop).await;
    let book = client.begun().await;
    client.wrote(&book, "conditions", serde_json::json!({ "air_c": 21, "surface_c": 20, "material_c": 20, "rh_pct": 60 })).await;
    // And comes back at the same address.
    let back = serve(&address, Weather::new(17), 12.0, 0.0).await.unwrap();
    until(&shop, "fresh").await;
    end(tasks).await;
    back.stop().await;
    shop.close().await;
}

/// A transmitter that answers with half a frame, and one that takes a connection and says nothing.
#[sqlx::test]
async fn a_frame_cut_short_is_no_reading(db: PgPool) {
    let shop = Shop::open(db).await;
    let listener = TcpListener::bind("127.0.0.1:0").await.unwrap();
    let address = listener.local_addr().unwrap().to_string();
    let (cut, mut sent) = tokio::sync::mpsc::unbounded_channel();
    let broken = tokio::spawn(async move {
        loop {
            let Ok((mut stream, _)) = listener.accept().await else { return };
            let mut asked = [0_u8; 12];
            if stream.read_exact(&mut asked).await.is_ok() {
                // Transaction as asked, protocol 0, length 5, unit 1, function 4, two bytes promised, one sent.
                let _ = stream.write_all(&[asked[0], asked[1], 0, 0, 0, 5, 1, 4, 2, 0x7f]).await;
                let _ = cut.send(());
            }
        }
    });
    let tasks = follow(&shop, &address);
    // Two frames were cut short: the first is dealt with when the second is asked for.
    for _ in 0..2 {
        sent.recv().await.expect("it is asked");
    }
    let air = until(&shop, "no answer").await;
    assert_eq!((&air["fresh"], &air["shown"]), (&Value::Bool(false), &Value::Null));
    end(tasks).await;
    broken.abort();
    shop.close().await;
}

#[test]
fn the_same_seed_and_hour_give_the_same_weather() {
    let weather = Weather::new(3);
    assert_eq!(weather.at(30.25), weather.at(30.25));
    assert_ne!(weather.at(30.25), Weather::new(4).at(30.25));
    for quarter in 0..(4 * 24 * 7) {
        let [air, humidity, surface, ..] = weather.at(f64::from(quarter) / 4.0);
        assert!((10.0..30.0).contains(&air) && (40.0..85.0).contains(&humidity) && (10.0..30.0).contains(&surface));
    }
}
