//! Scales that speak: lines over TCP, read by a grammar of the settings, given to every screen through the process and
//! never through the database. A silent scale blocks nothing: a reading can always be typed.

pub mod http;

use crate::lines::{self, Said};
use crate::settings::ScaleAt;
use crate::state::State;
use level_keel_core::weighing::{Grammar, MOST_LINE, Pan, Watch};
use std::collections::BTreeMap;
use std::sync::{Arc, Mutex, PoisonError};
use std::time::Instant;
use tokio::sync::watch;
use tokio::task::JoinHandle;
use uuid::Uuid;

/// What is known of a scale now; `None`: silent.
pub type Heard = Option<Pan>;

/// A scale of the shop.
pub struct Scale {
    /// Its settings.
    pub at: ScaleAt,
    /// The instrument kept for it.
    pub instrument: Uuid,
    grammar: Grammar,
    pan: Mutex<Watch>,
    heard: watch::Sender<Heard>,
    /// Tared for the next pour of this pot, after so many.
    tared: Mutex<Option<(Uuid, usize)>>,
}

impl Scale {
    /// Follows it from now on; of several lines since the last look only the newest is seen.
    pub fn follow(&self) -> watch::Receiver<Heard> {
        self.heard.subscribe()
    }

    /// What it says now.
    pub fn now(&self) -> Heard {
        *self.heard.borrow()
    }

    /// What stands on it is meant: a jump is forgotten.
    pub fn go_on(&self) {
        self.watch().accept();
    }

    /// Whether it was tared since the last pour of a pot.
    pub fn is_tared(&self, charge: Uuid, pours: usize) -> bool {
        *self.tared.lock().unwrap_or_else(PoisonError::into_inner) == Some((charge, pours))
    }

    /// It was tared for the next pour of a pot.
    pub fn was_tared(&self, charge: Uuid, pours: usize) {
        *self.tared.lock().unwrap_or_else(PoisonError::into_inner) = Some((charge, pours));
    }

    fn watch(&self) -> std::sync::MutexGuard<'_, Watch> {
        // A line is taken in whole.
        self.pan.lock().unwrap_or_else(PoisonError::into_inner)
    }

    fn line(&self, line: &[u8], at_s: f64) -> Option<Pan> {
        // What is not of the grammar says nothing; a scale that says nothing for long is silent.
        let seen = self.grammar.read(line).ok()?;
        Some(self.watch().push(seen, at_s))
    }
}

/// The scales of the shop, by name.
#[derive(Clone, Default)]
pub struct Scales(Arc<Mutex<BTreeMap<String, Arc<Scale>>>>);

impl Scales {
    fn lock(&self) -> std::sync::MutexGuard<'_, BTreeMap<String, Arc<Scale>>> {
        self.0.lock().unwrap_or_else(PoisonError::into_inner)
    }

    /// One by its name.
    pub fn one(&self, name: &str) -> Option<Arc<Scale>> {
        self.lock().get(name).cloned()
    }

    /// Every one.
    pub fn all(&self) -> Vec<Arc<Scale>> {
        self.lock().values().cloned().collect()
    }
}

/// Listens to every scale of the settings until the tasks are aborted.
///
/// **Errors:** a grammar that cannot be read, in words.
pub async fn listen(state: &State) -> Result<Vec<JoinHandle<()>>, String> {
    let mut tasks = Vec::new();
    for at in state.settings.all_scales() {
        let grammar = Grammar::new(&at.pattern, at.unit.as_deref()).map_err(|e| format!("{}: {e}", at.name))?;
        let instrument = instrument(state, &at).await.map_err(|e| format!("{}: {e:?}", at.name))?;
        let pan = Mutex::new(Watch::up_to(at.resolution_g, at.capacity_g));
        let scale = Arc::new(Scale { instrument, grammar, pan, heard: watch::Sender::new(None), tared: Mutex::new(None), at });
        state.scales.lock().insert(scale.at.name.clone(), scale.clone());
        tasks.push(tokio::spawn(async move { follow(&scale).await }));
    }
    Ok(tasks)
}

/// The instrument of this name, made when it is new; its resolution is that of the settings.
async fn instrument(state: &State, at: &ScaleAt) -> Result<Uuid, sqlx::Error> {
    let known = sqlx::query_scalar!("select id from instrument where kind = 'scale' and name = $1", at.name)
        .fetch_optional(&state.db)
        .await?;
    let id = known.unwrap_or_else(Uuid::now_v7);
    sqlx::query!(
        "insert into instrument (id, kind, name, resolution) values ($1, 'scale', $2, $3)
         on conflict (id) do update set resolution = $3",
        id,
        at.name,
        at.resolution_g
    )
    .execute(&state.db)
    .await?;
    Ok(id)
}

/// Of several lines at once only the newest is told.
async fn follow(scale: &Scale) {
    let (began, mut last, mut newest) = (Instant::now(), Instant::now(), None);
    let silent = || scale.heard.send_if_modified(|heard| heard.take().is_some());
    lines::follow(&scale.at.address, MOST_LINE, |said| match said {
        Said::Line(line) => {
            newest = scale.line(line, began.elapsed().as_secs_f64()).or(newest);
            newest.is_some()
        }
        Said::Chunk => {
            if let Some(pan) = newest.take() {
                last = Instant::now();
                scale.heard.send_replace(Some(pan));
            } else if last.elapsed() > lines::SILENT {
                // It sends, and nothing of it can be read.
                silent();
            }
            true
        }
        Said::Silent => silent(),
    })
    .await;
}
