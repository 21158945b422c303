//! Serves the simulated transmitters, scale and film gauge and prints their addresses; or is the hand at the scale.

use clap::{Parser, Subcommand};
use level_keel_devices::scale::{self, Beside, Made};
use level_keel_devices::weather::Weather;
use level_keel_devices::{film_gauge, modbus};
use std::time::{SystemTime, UNIX_EPOCH};
use tokio::io::{AsyncBufReadExt, AsyncWriteExt, BufReader};
use tokio::net::TcpStream;

/// Simulated transmitters over Modbus TCP and a simulated scale that sends lines of text.
#[derive(Parser)]
struct Asked {
    #[command(subcommand)]
    hand: Option<Hand>,
    /// Where the transmitters listen; port 0 takes a free one.
    #[arg(long, default_value = "127.0.0.1:0")]
    listen: String,
    /// Seed of the weather.
    #[arg(long, default_value_t = 17)]
    seed: u64,
    /// Hour of the day it begins at; the present one when missing.
    #[arg(long)]
    hour: Option<f64>,
    /// Seconds of weather in a real second.
    #[arg(long, default_value_t = 1.0)]
    rate: f64,
    /// What the simulated pot's regulator is set to when it begins.
    #[arg(long, default_value = "0 psi")]
    pot: String,
    /// Where the scale sends its lines.
    #[arg(long, default_value = "127.0.0.1:0")]
    scale: String,
    /// Where the film gauge sends its lines.
    #[arg(long, default_value = "127.0.0.1:0")]
    gauge: String,
    /// Where the hand at the scale is told what to do.
    #[arg(long, default_value = HAND)]
    hand_at: String,
}

/// Where the hand listens when nothing else is said.
const HAND: &str = "127.0.0.1:7079";

#[derive(Subcommand)]
enum Hand {
    /// Tells the hand at the simulated scale what to do: `put 350`, `tare`, `pour 1136`, `take`, `fault unplugged`;
    /// at the simulated pot: `rig set 10 psi`, `rig trigger`, `rig release`, `rig vent`, `rig shut`;
    /// or at the simulated film gauge: `gauge on 118`, `gauge press`, `gauge drift 5`, `gauge unit mil`, `gauge fault stuck`.
    Hand {
        /// Where it listens.
        #[arg(long, default_value = HAND)]
        at: String,
        /// What to do.
        #[arg(required = true)]
        words: Vec<String>,
    },
}

#[tokio::main]
async fn main() -> std::io::Result<()> {
    let asked = Asked::parse();
    if let Some(Hand::Hand { at, words }) = asked.hand {
        return tell(&at, &words.join(" ")).await;
    }
    let now = SystemTime::now().duration_since(UNIX_EPOCH).map_or(0.0, |d| d.as_secs_f64() / 3600.0);
    let weather = Weather::new(asked.seed);
    let served = modbus::serve(&asked.listen, weather, asked.hour.unwrap_or(now), asked.rate / 3600.0).await?;
    if let Err(why) = served.plant().hand(&format!("set {}", asked.pot)) {
        return Err(std::io::Error::new(std::io::ErrorKind::InvalidInput, why));
    }
    // The hand's usual port may be in use: then it takes a free one, and says which.
    let gauge = film_gauge::serve(&asked.gauge, asked.seed).await?;
    let beside = || Beside { plant: Some(served.plant()), gauge: Some(gauge.clone()) };
    let scale = match scale::serve_beside(&asked.scale, &asked.hand_at, Made::default(), beside()).await {
        Err(e) if e.kind() == std::io::ErrorKind::AddrInUse => {
            scale::serve_beside(&asked.scale, "127.0.0.1:0", Made::default(), beside()).await?
        }
        other => other?,
    };
    println!("{} {} {} {}", served.address, scale.address, scale.hand, gauge.address);
    served.forever().await;
    gauge.close();
    scale.close().await;
    Ok(())
}

async fn tell(at: &str, said: &str) -> std::io::Result<()> {
    let mut stream = TcpStream::connect(at).await?;
    stream.write_all(format!("{said}\n").as_bytes()).await?;
    let mut answer = String::new();
    BufReader::new(stream).read_line(&mut answer).await?;
    print!("{answer}");
    Ok(())
}
