//! Serves the simulated transmitters and prints their address.

use clap::Parser;
use level_keel_devices::modbus::serve;
use level_keel_devices::weather::Weather;
use std::time::{SystemTime, UNIX_EPOCH};

/// Simulated transmitters over Modbus TCP.
#[derive(Parser)]
struct Asked {
    /// Where to listen; port 0 takes a free one.
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
}

#[tokio::main]
async fn main() -> std::io::Result<()> {
    let asked = Asked::parse();
    let now = SystemTime::now().duration_since(UNIX_EPOCH).map_or(0.0, |d| d.as_secs_f64() / 3600.0);
    let served = serve(&asked.listen, Weather::new(asked.seed), asked.hour.unwrap_or(now), asked.rate / 3600.0).await?;
    println!("{}", served.address);
    served.forever().await;
    Ok(())
}
