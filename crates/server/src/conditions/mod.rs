//! Transmitters: probes read over Modbus TCP, kept for a while, offered where conditions are read. One that is lost
//! blocks nothing and is never shown as fresh.

pub mod http;
mod modbus;

use crate::clock::Clock;
use crate::problem::Problem;
use crate::settings::{ProbeAt, Transmitter};
use jiff::Timestamp;
use jiff_sqlx::ToSqlx;
use level_keel_core::conditions::probe::{Probe, ProbeOf};
use level_keel_core::pot_life::after;
use level_keel_core::rigs::Gauges;
use level_keel_core::stores::storage::StoreReading;
use sqlx::{PgConnection, PgPool};
use std::collections::BTreeMap;
use std::sync::{Arc, Mutex, PoisonError};
use std::time::Duration;
use tokio::sync::watch;
use tokio::task::JoinHandle;

/// First wait after a silence, doubled up to the longest.
const FIRST_WAIT: Duration = Duration::from_millis(500);
const LONGEST_WAIT: Duration = Duration::from_secs(60);
/// A value is kept in the history when it moved so much, or so much time went by.
const KEPT_MOVE: f64 = 0.2;
const KEPT_EVERY_S: f64 = 600.0;
/// The history reaches back so far.
const HISTORY_DAYS: f64 = 30.0;
/// Readings of one source given at once.
const MOST_READINGS: i64 = 5_000;

/// A probe as it was heard, and the rig it sits on.
struct Heard {
    probe: Probe,
    rig: Option<String>,
}

/// The probes as they were heard, by name.
#[derive(Clone, Default)]
pub struct Probes(Arc<Shared>);

#[derive(Default)]
struct Shared {
    known: Mutex<BTreeMap<String, Heard>>,
    /// Counts readings of gauges, for who follows them.
    gauges: watch::Sender<u64>,
}

impl Probes {
    /// Puts the probes of the settings on the list, not heard yet.
    pub fn expect(&self, transmitters: &[Transmitter]) {
        let mut known = self.lock();
        for at in transmitters.iter().flat_map(|t| &t.probes) {
            known.entry(at.name.clone()).or_insert_with(|| Heard { probe: Probe::new(at.of), rig: at.rig.clone() });
        }
    }

    fn lock(&self) -> std::sync::MutexGuard<'_, BTreeMap<String, Heard>> {
        // A reading is put in whole; nothing half done can lie here.
        self.0.known.lock().unwrap_or_else(PoisonError::into_inner)
    }

    /// Every probe.
    pub fn all(&self) -> Vec<(String, Probe)> {
        self.lock().iter().map(|(name, heard)| (name.clone(), heard.probe.clone())).collect()
    }

    /// Names under which the readings of air, humidity and surface are kept, where there is a probe of each.
    pub fn weather_sources(&self) -> [Option<String>; 3] {
        let known = self.lock();
        [ProbeOf::Air, ProbeOf::Humidity, ProbeOf::Surface]
            .map(|of| known.iter().find(|(_, h)| h.probe.of() == of).map(|(name, _)| format!("probe:{name}")))
    }

    /// The value of a probe, if it may be taken for now.
    pub fn fresh(&self, name: &str, now: Timestamp) -> Option<(Timestamp, f64)> {
        self.lock().get(name).and_then(|h| h.probe.fresh(now))
    }

    /// Whether a rig has transmitters at all.
    pub fn on_rig(&self, rig: &str) -> bool {
        self.lock().values().any(|h| h.rig.as_deref() == Some(rig))
    }

    /// What the transmitters of a rig read, where they may be taken for now.
    pub fn gauges(&self, rig: &str, now: Timestamp) -> Gauges {
        let known = self.lock();
        let read = |of: ProbeOf| {
            let mut here = known.values().filter(|h| h.rig.as_deref() == Some(rig) && h.probe.of() == of);
            here.find_map(|h| h.probe.fresh(now)).map(|(_, kpa)| kpa)
        };
        Gauges { pot_kpa: read(ProbeOf::Pot), gun_kpa: read(ProbeOf::Gun) }
    }

    /// Tells of every reading of a gauge from now on; of several since the last look only the newest is seen.
    pub fn follow_gauges(&self) -> watch::Receiver<u64> {
        self.0.gauges.subscribe()
    }

    fn heard(&self, name: &str, at: Timestamp, value: f64) -> Option<(Timestamp, f64)> {
        let mut known = self.lock();
        let probe = &mut known.get_mut(name)?.probe;
        probe.heard(at, value);
        let (fresh, gauge) = (probe.fresh(at), probe.of().is_gauge());
        drop(known);
        if gauge {
            self.0.gauges.send_modify(|n| *n += 1);
        }
        fresh
    }

    fn missed(&self, transmitter: &Transmitter) {
        let mut known = self.lock();
        for probe in &transmitter.probes {
            if let Some(heard) = known.get_mut(&probe.name) {
                heard.probe.missed();
            }
        }
        drop(known);
        self.0.gauges.send_modify(|n| *n += 1);
    }
}

/// Reads every transmitter until the tasks are aborted.
pub fn listen(transmitters: &[Transmitter], probes: &Probes, db: &PgPool, clock: &Clock) -> Vec<JoinHandle<()>> {
    probes.expect(transmitters);
    let one = |t: &Transmitter| {
        let (t, probes, db, clock) = (t.clone(), probes.clone(), db.clone(), clock.clone());
        tokio::spawn(async move { follow(&t, &probes, &db, &clock).await })
    };
    transmitters.iter().map(one).collect()
}

/// One transmitter: read, wait, read; after a silence wait longer each time.
async fn follow(transmitter: &Transmitter, probes: &Probes, db: &PgPool, clock: &Clock) {
    let mut wait = FIRST_WAIT;
    let mut kept: BTreeMap<String, (Timestamp, f64)> = BTreeMap::new();
    loop {
        match modbus::Line::open(transmitter).await {
            Ok(mut line) => {
                while let Ok(values) = line.read(transmitter).await {
                    wait = FIRST_WAIT;
                    let now = clock.now();
                    for (probe, value) in transmitter.probes.iter().zip(values) {
                        if let Some(taken) = probes.heard(&probe.name, now, value)
                            && !probe.of.is_gauge()
                            && let Err(e) = keep(db, probe, taken, &mut kept).await
                        {
                            // The probe is still shown; only its history has a gap.
                            tracing::warn!(probe = probe.name, ?e, "a reading could not be kept");
                        }
                    }
                    tokio::time::sleep(Duration::from_secs_f64(transmitter.poll_s.clamp(0.05, 3600.0))).await;
                }
                tracing::warn!(transmitter = transmitter.name, "a transmitter broke off");
            }
            Err(e) => tracing::debug!(transmitter = transmitter.name, e, "a transmitter does not answer"),
        }
        probes.missed(transmitter);
        tokio::time::sleep(wait).await;
        wait = (wait * 2).min(LONGEST_WAIT);
    }
}

async fn keep(
    db: &PgPool,
    probe: &ProbeAt,
    (at, value): (Timestamp, f64),
    kept: &mut BTreeMap<String, (Timestamp, f64)>,
) -> Result<(), Problem> {
    let due = kept
        .get(&probe.name)
        .is_none_or(|(then, was)| (value - was).abs() >= KEPT_MOVE || at.duration_since(*then).as_secs_f64() >= KEPT_EVERY_S);
    if !due {
        return Ok(());
    }
    let source = format!("probe:{}", probe.name);
    sqlx::query!(
        "insert into reading (source, at, value) values ($1, $2, $3) on conflict do nothing",
        source,
        at.to_sqlx() as _,
        value
    )
    .execute(db)
    .await?;
    let oldest = after(at, -HISTORY_DAYS * 86_400.0);
    sqlx::query!("delete from reading where source = $1 and at < $2", source, oldest.to_sqlx() as _).execute(db).await?;
    kept.insert(probe.name.clone(), (at, value));
    Ok(())
}

/// Readings of a source since a time, oldest first.
pub async fn readings_since(db: &mut PgConnection, source: &str, from: Timestamp) -> Result<Vec<StoreReading>, Problem> {
    let rows = sqlx::query!(
        r#"select at as "at!: jiff_sqlx::Timestamp", value as "value!" from
             (select at, value from reading where source = $1 and at >= $2 order by at desc limit $3) newest order by at"#,
        source,
        from.to_sqlx() as _,
        MOST_READINGS,
    )
    .fetch_all(db)
    .await?;
    Ok(rows.into_iter().map(|r| StoreReading { at: r.at.to_jiff(), temp_c: r.value }).collect())
}
