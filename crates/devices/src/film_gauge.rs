//! A simulated film gauge: a line a second over TCP while it is on, as `F=-;U=um;N=7`, and one at once for each reading, as
//! `F=118.4;U=um;N=8`. The hand: `on 118` (the film under the probe), `press`, `drift 5` (so many per cent too much), `unit mil`,
//! `fault unplugged|stuck|none`; each is answered with a line.

use rand::rngs::StdRng;
use rand::{RngExt, SeedableRng};
use std::net::SocketAddr;
use std::sync::{Arc, Mutex, PoisonError};
use std::time::Duration;
use tokio::io::AsyncWriteExt;
use tokio::net::{TcpListener, TcpStream};
use tokio::sync::broadcast;
use tokio::task::JoinHandle;

/// It says that it is there so often.
const BEAT: Duration = Duration::from_secs(1);
/// How far two readings of one film lie apart, of the film.
const SPREAD: f64 = 0.01;
const UM_PER_MIL: f64 = 25.4;

/// What is wrong with it.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum Fault {
    None,
    /// It reads what it read last, whatever is under it.
    Stuck,
    /// Nobody is there.
    Unplugged,
}

struct Probe {
    film_um: f64,
    drift_pct: f64,
    in_mil: bool,
    fault: Fault,
    last: String,
    count: u64,
    noise: StdRng,
}

impl Probe {
    fn unit(&self) -> &'static str {
        if self.in_mil { "mil" } else { "um" }
    }

    fn alive(&self) -> String {
        format!("F=-;U={};N={}\r\n", self.unit(), self.count)
    }

    fn press(&mut self) -> String {
        self.count += 1;
        if self.fault != Fault::Stuck || self.last.is_empty() {
            let off = self.noise.random_range(-SPREAD..SPREAD) + self.drift_pct / 100.0;
            let um = self.film_um * (1.0 + off);
            self.last = if self.in_mil { format!("{:.2}", um / UM_PER_MIL) } else { format!("{um:.1}") };
        }
        format!("F={};U={};N={}\r\n", self.last, self.unit(), self.count)
    }
}

/// A running gauge.
#[derive(Clone)]
pub struct FilmGauge {
    /// Where its lines come from.
    pub address: SocketAddr,
    probe: Arc<Mutex<Probe>>,
    read: broadcast::Sender<String>,
    task: Arc<JoinHandle<()>>,
}

impl FilmGauge {
    /// Does what a hand would.
    ///
    /// **Errors:** what it does not understand, in words.
    pub fn hand(&self, said: &str) -> Result<String, String> {
        let words: Vec<&str> = said.split_whitespace().collect();
        let mut probe = self.probe.lock().unwrap_or_else(PoisonError::into_inner);
        let number = || -> Result<f64, String> {
            let text = words.get(1).ok_or("a number is missing")?;
            text.parse::<f64>().ok().filter(|n| n.is_finite()).ok_or(format!("{text} is no number"))
        };
        match words.first().copied() {
            Some("on") => probe.film_um = number()?.max(0.0),
            Some("drift") => probe.drift_pct = number()?,
            Some("unit") => {
                probe.in_mil = match words.get(1).copied() {
                    Some("mil") => true,
                    Some("um") => false,
                    other => return Err(format!("no unit {other:?}")),
                }
            }
            Some("fault") => {
                probe.fault = match words.get(1).copied() {
                    Some("none") => Fault::None,
                    Some("stuck") => Fault::Stuck,
                    Some("unplugged") => Fault::Unplugged,
                    other => return Err(format!("no fault {other:?}")),
                }
            }
            Some("press") if probe.fault == Fault::Unplugged => return Err("it is not plugged in".into()),
            Some("press") => {
                let line = probe.press();
                // Nobody may be listening: the reading was taken all the same.
                let _ = self.read.send(line.clone());
                return Ok(line.trim_end().into());
            }
            other => return Err(format!("cannot {other:?}")),
        }
        Ok(probe.alive().trim_end().into())
    }

    /// Ends it.
    pub fn close(&self) {
        self.task.abort();
    }
}

/// Serves a gauge; port 0 takes a free one.
pub async fn serve(listen: &str, seed: u64) -> std::io::Result<FilmGauge> {
    let lines = TcpListener::bind(listen).await?;
    let address = lines.local_addr()?;
    let noise = StdRng::seed_from_u64(seed);
    let probe = Probe { film_um: 120.0, drift_pct: 0.0, in_mil: false, fault: Fault::None, last: String::new(), count: 0, noise };
    let probe = Arc::new(Mutex::new(probe));
    let (read, _) = broadcast::channel(16);
    let (of, heard) = (probe.clone(), read.clone());
    let task = tokio::spawn(async move {
        while let Ok((stream, _)) = lines.accept().await {
            tokio::spawn(say(stream, of.clone(), heard.subscribe()));
        }
    });
    Ok(FilmGauge { address, probe, read, task: Arc::new(task) })
}

async fn say(mut stream: TcpStream, probe: Arc<Mutex<Probe>>, mut read: broadcast::Receiver<String>) {
    let mut beat = tokio::time::interval(BEAT);
    loop {
        let line = tokio::select! {
            line = read.recv() => match line {
                Ok(line) => line,
                Err(broadcast::error::RecvError::Lagged(_)) => continue,
                Err(broadcast::error::RecvError::Closed) => return,
            },
            _ = beat.tick() => {
                let probe = probe.lock().unwrap_or_else(PoisonError::into_inner);
                if probe.fault == Fault::Unplugged {
                    return;
                }
                probe.alive()
            }
        };
        if stream.write_all(line.as_bytes()).await.is_err() {
            return;
        }
    }
}
