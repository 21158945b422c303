//! Film gauges that speak: lines over TCP, each reading given on to every screen that listens.

use crate::lines::{self, Said};
use crate::settings::{GaugeAt, Settings};
use level_keel_core::acceptance::indicator::{GaugeGrammar, GaugeLine, MOST_LINE};
use std::collections::BTreeMap;
use std::sync::atomic::{AtomicBool, Ordering};
use std::sync::{Arc, Mutex, PoisonError};
use tokio::sync::broadcast;
use tokio::task::JoinHandle;

/// Readings a slow screen may be behind.
const BEHIND: usize = 32;

/// A film gauge of the shop.
pub struct Gauge {
    /// Its settings.
    pub at: GaugeAt,
    heard: AtomicBool,
    read: broadcast::Sender<f64>,
}

impl Gauge {
    /// It sends now.
    pub fn is_heard(&self) -> bool {
        self.heard.load(Ordering::Relaxed)
    }

    /// Its readings from now on, in micrometres.
    pub fn follow(&self) -> broadcast::Receiver<f64> {
        self.read.subscribe()
    }
}

/// The film gauges of the shop, by name.
#[derive(Clone, Default)]
pub struct Gauges(Arc<Mutex<BTreeMap<String, Arc<Gauge>>>>);

impl Gauges {
    fn lock(&self) -> std::sync::MutexGuard<'_, BTreeMap<String, Arc<Gauge>>> {
        self.0.lock().unwrap_or_else(PoisonError::into_inner)
    }

    /// One by its name.
    pub fn one(&self, name: &str) -> Option<Arc<Gauge>> {
        self.lock().get(name).cloned()
    }

    /// Every one.
    pub fn all(&self) -> Vec<Arc<Gauge>> {
        self.lock().values().cloned().collect()
    }
}

/// Listens to every gauge of the settings until the tasks are aborted.
///
/// **Errors:** a grammar that cannot be read, in words.
pub fn listen(settings: &Settings, gauges: &Gauges) -> Result<Vec<JoinHandle<()>>, String> {
    let mut tasks = Vec::new();
    for at in settings.all_gauges() {
        let grammar = GaugeGrammar::new(&at.pattern, at.unit.as_deref()).map_err(|e| format!("{}: {e}", at.name))?;
        let gauge = Arc::new(Gauge { at, heard: AtomicBool::new(false), read: broadcast::channel(BEHIND).0 });
        gauges.lock().insert(gauge.at.name.clone(), gauge.clone());
        tasks.push(tokio::spawn(async move { follow(&gauge, &grammar).await }));
    }
    Ok(tasks)
}

async fn follow(gauge: &Gauge, grammar: &GaugeGrammar) {
    lines::follow(&gauge.at.address, MOST_LINE, |said| match said {
        Said::Line(line) => {
            let read = grammar.read(line);
            if let Some(GaugeLine::Read { um }) = read {
                // Where no screen listens a reading is nobody's.
                let _ = gauge.read.send(um);
            }
            if read.is_some() {
                gauge.heard.store(true, Ordering::Relaxed);
            }
            read.is_some()
        }
        Said::Chunk => true,
        Said::Silent => gauge.heard.swap(false, Ordering::Relaxed),
    })
    .await;
}
