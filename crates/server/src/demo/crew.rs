//! The demo crew: writes entries by the same way as everybody else.

use crate::auth::Person;
use crate::books::{Draft, NewBatch, NewEntry, Writing, around};
use crate::people;
use crate::problem::Problem;
use crate::state::State;
use jiff::Timestamp;
use level_keel_core::batch::beside::Neighbour;
use level_keel_core::batch::gates::{self, Severity};
use level_keel_core::batch::{Case, Record};
use level_keel_core::conditions::Readings;
use level_keel_core::lists::{Before, ChecklistItem, What};
use level_keel_core::mixing::Component;
use level_keel_core::people::{PIN_DIGITS_LEAST, Role};
use level_keel_core::pot_life::after;
use level_keel_core::quantity::Prefs;
use serde_json::{Value, json};
use sqlx::{Postgres, Transaction};
use uuid::Uuid;

/// Namespace of every id of the demo.
const SEED: Uuid = Uuid::from_u128(0x4c65_7665_6c20_4b65_656c_2064_656d_6f21);

/// Invented people, one a role. The PINs are in the README; they open a demo and nothing else.
const CREW: [(&str, Role, &str); 4] = [
    ("Ansa Reef", Role::Applicator, "1357"),
    ("Brok Tarn", Role::Lead, "2468"),
    ("Celo Wick", Role::Inspector, "3579"),
    ("Dunja Fenn", Role::Owner, "4680"),
];

/// The crew on a server.
pub struct Crew<'a> {
    /// The server.
    pub state: &'a State,
    people: Vec<Person>,
}

/// An id of the demo by name.
pub fn id(name: &str) -> Uuid {
    Uuid::new_v5(&SEED, name.as_bytes())
}

impl<'a> Crew<'a> {
    /// Adds the crew to an empty database.
    pub async fn hire(state: &'a State, now: Timestamp) -> Result<Crew<'a>, Problem> {
        for (name, role, pin) in CREW {
            let added = people::Added { id: id(name), name, role, pin, pin_digits: PIN_DIGITS_LEAST };
            people::add(&state.db, &added, now).await?;
        }
        Self::known(state).await
    }

    /// The crew hired before.
    pub async fn known(state: &'a State) -> Result<Crew<'a>, Problem> {
        let person = |(name, role, _): (&str, Role, &str)| Person {
            id: id(name),
            name: name.into(),
            role,
            prefs: Prefs::METRIC,
            session: Uuid::nil(),
            works_alone: false,
        };
        Ok(Crew { state, people: CREW.into_iter().map(person).collect() })
    }

    /// The one of a role.
    pub fn one(&self, role: Role) -> &Person {
        self.people.iter().find(|p| p.role == role).unwrap_or(&self.people[0])
    }
}

/// A batch of the demo while it is written in memory: time moves with each entry. It is stored by [`Job::done`].
pub struct Job<'a> {
    crew: &'a Crew<'a>,
    name: String,
    tx: Transaction<'static, Postgres>,
    /// The book.
    pub book: Uuid,
    draft: Draft<Record>,
    /// When the next entry happens.
    pub at: Timestamp,
    count: u32,
}

impl<'a> Job<'a> {
    /// Begins a batch at a time.
    pub async fn begin(crew: &'a Crew<'a>, name: &str, at: Timestamp, wanted: Value) -> Result<Job<'a>, Problem> {
        let book = id(name);
        let writing = Writing::of(crew.state, crew.one(Role::Applicator), at);
        Box::pin(writing.begin(NewBatch { id: book, wanted })).await?;
        Job::resume(crew, name, book, at).await
    }

    /// Goes on with a batch begun before.
    pub async fn resume(crew: &'a Crew<'a>, name: &str, book: Uuid, at: Timestamp) -> Result<Job<'a>, Problem> {
        let mut tx = crew.state.db.begin().await?;
        let draft = Draft::open(&mut tx, book, at).await?;
        Ok(Job { crew, name: name.into(), tx, book, draft, at, count: 0 })
    }

    /// Lets minutes pass.
    pub fn wait(&mut self, minutes: f64) -> &mut Self {
        self.at = after(self.at, minutes * 60.0);
        self
    }

    /// Writes an entry as someone.
    pub async fn write_as(&mut self, role: Role, kind: &str, payload: Value) -> Result<(), Problem> {
        self.count += 1;
        let entry =
            NewEntry { id: id(&format!("{}/{}/{}", self.name, self.at, self.count)), kind: kind.into(), payload, ago_s: 0.0 };
        let writing = Writing::of(self.crew.state, self.crew.one(role), self.at);
        Box::pin(self.draft.write(&writing, &mut self.tx, entry)).await.map(drop)
    }

    /// Writes an entry as the applicator.
    pub async fn write(&mut self, kind: &str, payload: Value) -> Result<(), Problem> {
        self.write_as(Role::Applicator, kind, payload).await
    }

    /// Stores what was written, and the card where it was signed.
    pub async fn done(mut self) -> Result<(), Problem> {
        let writing = Writing::of(self.crew.state, self.crew.one(Role::Inspector), self.at);
        Box::pin(self.draft.store(&mut self.tx)).await?;
        Box::pin(writing.keep_card(&mut self.tx, self.book, self.draft.folded())).await?;
        Ok(self.tx.commit().await?)
    }

    /// A lead lets go what holds and may be let go, and says why.
    pub async fn let_go(&mut self, reason: &str) -> Result<(), Problem> {
        let record = self.record().clone();
        let beside = around(self.crew.state, &mut self.tx, self.book, &record, Neighbour::OF_THE_GATES).await?;
        let holds = gates::all(&Case::new(&record, &beside), self.at, Prefs::METRIC);
        for hold in holds.into_iter().filter(|h| h.released.is_none() && h.severity == Severity::Hold) {
            let seen_seq = self.record().log.head_seq;
            let release = json!({ "gate": hold.gate, "charge": hold.charge, "item": hold.item, "trouble": hold.trouble,
                "reason": reason, "seen_seq": seen_seq });
            self.write_as(Role::Lead, "release", release).await?;
        }
        Ok(())
    }

    /// Stores what was written after the card was closed: the card stays as it is.
    pub async fn noted(mut self) -> Result<(), Problem> {
        Box::pin(self.draft.store(&mut self.tx)).await?;
        Ok(self.tx.commit().await?)
    }

    /// Reads conditions, puts the guards on, takes the lots, and does what combining waits for.
    pub async fn ready(&mut self, read: Readings, hazards: &[&str], lots: &[&str]) -> Result<(), Problem> {
        self.write("conditions", serde_json::to_value(read)?).await?;
        self.wait(2.0).write("guards", json!({ "hazards": hazards })).await?;
        let items: Vec<ChecklistItem> = self.record().aim().map(|b| b.items.clone()).unwrap_or_default();
        let wanted = items.iter().filter_map(|i| match i.what {
            What::Lot { component } => Some(component),
            _ => None,
        });
        for (component, code) in wanted.zip(lots) {
            let taken = self.write("take_lot", json!({ "component": component, "lot": code })).await;
            if taken.is_err() {
                let why = "Opened already at the bench.";
                self.write("take_lot", json!({ "component": component, "lot": code, "reason": why })).await?;
            }
        }
        for item in items.iter().filter(|i| i.before == Before::Combine) {
            self.tick(item).await?;
        }
        Ok(())
    }

    /// Reads again and does what the first pass waits for.
    pub async fn prepare(&mut self, read: Readings) -> Result<(), Problem> {
        self.write("conditions", serde_json::to_value(read)?).await?;
        let items: Vec<ChecklistItem> = self.record().aim().map(|b| b.items.clone()).unwrap_or_default();
        for item in items.iter().filter(|i| i.before == Before::Spray) {
            self.tick(item).await?;
        }
        Ok(())
    }

    /// Does what an item asks for.
    pub async fn tick(&mut self, item: &ChecklistItem) -> Result<(), Problem> {
        let say = |did: &str| json!({ "item": item.key, "did": did });
        match item.what {
            What::Lot { .. } => {}
            What::Timer { least_s, most_s, .. } => {
                let minutes = least_s.unwrap_or(60.0) / 60.0;
                self.write("tick", say("start")).await?;
                self.wait(minutes + 0.5);
                if most_s.is_some() {
                    self.write("tick", say("stop")).await?;
                }
            }
            What::Approve => {
                let approved = json!({ "item": item.key, "did": "done", "text": "control sample 4" });
                self.write_as(Role::Lead, "tick", approved).await?;
            }
            What::Profile => drop(self.write("tick", json!({ "item": item.key, "did": "done", "read_um": 58.0 })).await?),
            _ => drop(self.write("tick", say("done")).await?),
        }
        Ok(())
    }

    /// What the book adds up to now.
    pub fn record(&self) -> &Record {
        self.draft.folded()
    }

    /// Opens a pot and weighs everything in by its plan, `off_g` too much hardener; stirs it.
    pub async fn mix(&mut self, pot: &str, wanted_ml: f64, lots: [&str; 3], off_g: f64) -> Result<Uuid, Problem> {
        let charge = id(&format!("{}/{pot}", self.name));
        self.write("open_charge", json!({ "charge": charge, "kind": "pot", "wanted_ml": wanted_ml })).await?;
        let plan = self.record().charge(charge).map(|c| self.record().plan(c)).unwrap_or_default();
        for (index, pour) in plan.iter().enumerate() {
            if pour.component == Component::Hardener {
                self.wait(1.0).write("combine", json!({ "charge": charge })).await?;
            }
            let off = if index > 0 { off_g } else { 0.0 };
            let reading = (pour.running_g + off).round();
            self.wait(1.0)
                .write("pour", json!({ "charge": charge, "component": pour.component, "reading_g": reading, "resolution_g": 1.0, "lot": lots.get(index) }))
                .await?;
        }
        self.wait(2.0).write("stirred", json!({ "charge": charge })).await?;
        Ok(charge)
    }

    /// A pass over the whole part, and comb readings in each of its zones after it, in mil.
    pub async fn pass(&mut self, charge: Uuid, used_ml: Option<f64>, wet_mil: f64, readings: usize) -> Result<(), Problem> {
        let zones = self.record().zones();
        let named: Vec<Uuid> = zones.iter().filter_map(|(id, _)| *id).collect();
        // The step at hand, once the step before may be gone over.
        let at_hand = self.record().step_at_hand().map(|at| (at.step.name.clone(), at.from));
        if let Some(from) = at_hand.as_ref().and_then(|(_, from)| *from) {
            self.at = self.at.max(from);
        }
        let step = at_hand.map(|(name, _)| name);
        let zones_now = self.record().zone_passes().iter().filter_map(|z| Some((z.id, z.wait?))).collect::<Vec<_>>();
        for (zone, look) in zones_now.into_iter().filter_map(|(id, w)| Some((id, w.look.filter(|_| !w.looked)?))) {
            self.write("pass_look", json!({ "zones": zone.into_iter().collect::<Vec<_>>(), "look": look })).await?;
        }
        self.write("pass", json!({ "charge": charge, "zones": named, "used_ml": used_ml, "step": step })).await?;
        let teeth = crate::instruments::comb_um(&mut *self.tx).await?;
        for (zone, _) in zones {
            for _ in 0..readings {
                let read = json!({ "zone": zone, "tooth_um": wet_mil * 25.4, "teeth_um": teeth, "of": "total" });
                self.wait(0.4).write("comb", read).await?;
            }
        }
        self.wait(1.0);
        Ok(())
    }

    /// Signed by the applicator, accepted by the inspector.
    pub async fn sign(&mut self) -> Result<(), Problem> {
        self.sign_work().await?;
        self.accept().await
    }

    /// Signed by the applicator.
    pub async fn sign_work(&mut self) -> Result<(), Problem> {
        let seen = self.record().log.head_seq;
        self.wait(10.0).write("sign", json!({ "seen_seq": seen })).await
    }

    /// Accepted by the inspector.
    pub async fn accept(&mut self) -> Result<(), Problem> {
        let seen = self.record().log.head_seq;
        self.wait(25.0).write_as(Role::Inspector, "accept", json!({ "seen_seq": seen })).await
    }
}
