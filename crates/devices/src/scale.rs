//! A simulated indicator: ten lines of text a second over TCP, as `W=+01136.0;U=g;M=still`. What is put on the pan is
//! said on a second port, the hand: `put 350`, `pour 1136 150` (so many grams, so many a second), `take`, `tare`,
//! `fault noise|overload|unplugged|none`, `lose-tare`, `show`; each is answered with a line.

use crate::film_gauge::FilmGauge;
use crate::plant::Plant;
use rand::rngs::StdRng;
use rand::{RngExt, SeedableRng};
use std::net::SocketAddr;
use std::sync::{Arc, Mutex, PoisonError};
use std::time::{Duration, Instant};
use tokio::io::{AsyncBufReadExt, AsyncWriteExt, BufReader};
use tokio::net::{TcpListener, TcpStream};
use tokio::task::JoinHandle;

/// How it is made.
#[derive(Debug, Clone, Copy)]
pub struct Made {
    /// Least step it shows.
    pub resolution_g: f64,
    /// Most it weighs, with the cup.
    pub capacity_g: f64,
    /// How far it wanders in an hour.
    pub drift_g_h: f64,
    /// Lines in a second.
    pub lines_s: f64,
    /// Seed of its noise.
    pub seed: u64,
}

impl Default for Made {
    fn default() -> Self {
        Made { resolution_g: 1.0, capacity_g: 15_000.0, drift_g_h: 0.0, lines_s: 10.0, seed: 17 }
    }
}

/// What is wrong with it.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Fault {
    /// Nothing.
    None,
    /// It shakes.
    Noise,
    /// It says it is over its capacity.
    Overload,
    /// Nobody is there.
    Unplugged,
}

/// After a movement it is still from here on.
const SETTLES: Duration = Duration::from_millis(400);
/// How a shaken one shakes, in divisions.
const SHAKES: f64 = 12.0;

struct Pan {
    made: Made,
    began: Instant,
    load_g: f64,
    tare_g: f64,
    /// Grams still to come, at so many a second, since.
    pouring: Option<(f64, f64, Instant)>,
    moved: Instant,
    fault: Fault,
    noise: StdRng,
}

impl Pan {
    fn settle(&mut self, now: Instant) {
        if let Some((left, rate, since)) = self.pouring {
            let poured = (rate * now.duration_since(since).as_secs_f64()).min(left);
            self.load_g += poured;
            self.moved = now;
            self.pouring = (left > poured).then_some((left - poured, rate, now));
        }
    }

    fn line(&mut self, now: Instant) -> String {
        self.settle(now);
        let wander = self.made.drift_g_h * now.duration_since(self.began).as_secs_f64() / 3600.0;
        let d = self.made.resolution_g;
        let shake = if self.fault == Fault::Noise { self.noise.random_range(-SHAKES..SHAKES) * d } else { 0.0 };
        let still = now.duration_since(self.moved) > SETTLES && self.fault != Fault::Noise;
        let word = if still { "still" } else { "moving" };
        if self.fault == Fault::Overload || self.load_g > self.made.capacity_g {
            return "W=OVER;U=g;M=moving\r\n".into();
        }
        let shown = ((self.load_g - self.tare_g + wander + shake) / d).round() * d;
        // Minus nothing is nothing.
        format!("W={:+08.1};U=g;M={word}\r\n", shown + 0.0)
    }

    fn hand(&mut self, words: &[&str], now: Instant) -> Result<(), String> {
        self.settle(now);
        let number = |i: usize| -> Result<f64, String> {
            let text = words.get(i).ok_or("a number is missing")?;
            text.parse::<f64>().ok().filter(|n| n.is_finite()).ok_or(format!("{text} is no number"))
        };
        match words.first().copied() {
            Some("put") => self.load_g += number(1)?,
            Some("pour") => {
                let rate = if words.len() > 2 { number(2)? } else { 150.0 };
                // More of it comes on top of what still runs.
                let left = self.pouring.map_or(0.0, |(left, ..)| left);
                self.pouring = Some((left + number(1)?, rate.max(0.1), now));
            }
            Some("take") => (self.load_g, self.pouring) = (0.0, None),
            Some("tare") => self.tare_g = self.load_g,
            Some("lose-tare") => self.tare_g = 0.0,
            Some("show") => return Ok(()),
            Some("fault") => {
                self.fault = match words.get(1).copied() {
                    Some("none") => Fault::None,
                    Some("noise") => Fault::Noise,
                    Some("overload") => Fault::Overload,
                    Some("unplugged") => Fault::Unplugged,
                    other => return Err(format!("no fault {other:?}")),
                }
            }
            other => return Err(format!("cannot {other:?}")),
        }
        self.moved = now;
        Ok(())
    }
}

/// A running scale.
pub struct Scale {
    /// Where its lines come from.
    pub address: SocketAddr,
    /// Where the hand is told what to do.
    pub hand: SocketAddr,
    pan: Arc<Mutex<Pan>>,
    tasks: Vec<JoinHandle<()>>,
}

fn lock(pan: &Mutex<Pan>) -> std::sync::MutexGuard<'_, Pan> {
    pan.lock().unwrap_or_else(PoisonError::into_inner)
}

impl Scale {
    /// Does what a hand would; the same words as over the hand's port.
    pub fn hand(&self, said: &str) -> Result<(), String> {
        lock(&self.pan).hand(&said.split_whitespace().collect::<Vec<_>>(), Instant::now())
    }

    /// Ends it.
    pub async fn close(self) {
        for task in self.tasks {
            task.abort();
            let _ = task.await;
        }
    }
}

/// Serves a scale; port 0 takes free ones.
pub async fn serve(listen: &str, hand: &str, made: Made) -> std::io::Result<Scale> {
    serve_beside(listen, hand, made, Beside::default()).await
}

/// What the same hand reaches beside the scale.
#[derive(Clone, Default)]
pub struct Beside {
    /// A pot: what is said with `rig` before it, as `rig set 10 psi`.
    pub plant: Option<Plant>,
    /// A film gauge: what is said with `gauge` before it, as `gauge press`.
    pub gauge: Option<FilmGauge>,
}

/// As [`serve`], with what the hand reaches beside it.
pub async fn serve_beside(listen: &str, hand: &str, made: Made, beside: Beside) -> std::io::Result<Scale> {
    let (lines, hands) = (TcpListener::bind(listen).await?, TcpListener::bind(hand).await?);
    let (address, hand) = (lines.local_addr()?, hands.local_addr()?);
    let now = Instant::now();
    let pan = Arc::new(Mutex::new(Pan {
        made,
        began: now,
        load_g: 0.0,
        tare_g: 0.0,
        pouring: None,
        moved: now,
        fault: Fault::None,
        noise: StdRng::seed_from_u64(made.seed),
    }));
    let (one, two) = (pan.clone(), pan.clone());
    let saying = tokio::spawn(async move {
        while let Ok((stream, _)) = lines.accept().await {
            tokio::spawn(say(stream, one.clone()));
        }
    });
    let hearing = tokio::spawn(async move {
        while let Ok((stream, _)) = hands.accept().await {
            tokio::spawn(hear(stream, two.clone(), beside.clone()));
        }
    });
    Ok(Scale { address, hand, pan, tasks: vec![saying, hearing] })
}

async fn say(mut stream: TcpStream, pan: Arc<Mutex<Pan>>) {
    let every = Duration::from_secs_f64(1.0 / lock(&pan).made.lines_s.clamp(0.1, 20_000.0));
    let mut beat = tokio::time::interval(every);
    loop {
        beat.tick().await;
        let line = {
            let mut pan = lock(&pan);
            if pan.fault == Fault::Unplugged {
                return;
            }
            pan.line(Instant::now())
        };
        if stream.write_all(line.as_bytes()).await.is_err() {
            return;
        }
    }
}

async fn hear(mut stream: TcpStream, pan: Arc<Mutex<Pan>>, beside: Beside) {
    let (read, mut write) = stream.split();
    let mut lines = BufReader::new(read).lines();
    while let Ok(Some(said)) = lines.next_line().await {
        let now = Instant::now();
        let to_rig = said.trim().strip_prefix("rig ").zip(beside.plant.as_ref());
        let to_gauge = said.trim().strip_prefix("gauge ").zip(beside.gauge.as_ref());
        let answer = if let Some((said, plant)) = to_rig {
            plant.hand(said).unwrap_or_else(|e| e)
        } else if let Some((said, gauge)) = to_gauge {
            gauge.hand(said).unwrap_or_else(|e| e)
        } else {
            let mut pan = lock(&pan);
            match pan.hand(&said.split_whitespace().collect::<Vec<_>>(), now) {
                Ok(()) => pan.line(now).trim_end().to_string(),
                Err(e) => e,
            }
        };
        if write.write_all(format!("{answer}\n").as_bytes()).await.is_err() {
            return;
        }
    }
}
