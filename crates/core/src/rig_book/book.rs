//! The book of a rig added up: its figures, what was done to it, what its tip let through.

use super::{Changed, RigEntry, RigEntryKind, Sprayed, WearView, tip_wear, wear_points};
use crate::atomizing::tips::TipRow;
use crate::book::{Asking, Entry, Ledger, LedgerKind, Line, Log, Strike, own_or_lead};
use crate::care::{Done, RigState};
use crate::quantity::Prefs;
use crate::ratio_check::LedgerProof;
use crate::refusal::Refusal;
use crate::rigs::Rig;
use crate::rigs::pieces::PieceKind;
use jiff::Timestamp;
use serde_json::{Value, json};
use uuid::Uuid;

/// A rig as its book says; what batches did with it stands in theirs.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct RigBook {
    /// Its figures; `None` before it was put down.
    pub rig: Option<Rig>,
    /// Not used any more.
    pub retired: bool,
    /// Steps of shut-downs, oldest first.
    pub steps: Vec<Done>,
    /// Items of care, oldest first.
    pub cared: Vec<Done>,
    /// What it tells of the tip, in the order it happened: what was fitted, and flows caught.
    pub tip: Vec<(Timestamp, RigEntry)>,
    /// Proofs from old cards, by sheet, in the order they were typed.
    pub papers: Vec<(Uuid, LedgerProof)>,
    /// When the limits of a sheet were taken anew, oldest first.
    pub renewed: Vec<(Uuid, Timestamp)>,
    /// Every entry, and the head.
    pub log: Log<RigEntryKind, RigEntry>,
}

/// What an entry in the book of a rig is judged with beside it.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct RigBeside {
    /// The shop's own tip codes.
    pub tips: Vec<TipRow>,
    /// When a batch put the rig under pressure last.
    pub pressed_at: Option<Timestamp>,
    /// What its transmitter reads now.
    pub live_kpa: Option<f64>,
}

impl RigBook {
    /// How the rig stands; `None` before it was put down.
    pub fn state(&self, pressed_at: Option<Timestamp>, live_kpa: Option<f64>) -> Option<RigState<'_>> {
        let rig = self.rig.as_ref()?;
        Some(RigState { rig, steps: &self.steps, cared: &self.cared, pressed_at, live_kpa })
    }

    /// May a strike void this line?
    ///
    /// **Errors:** a conflict, for a strike and for the entry that put the rig down.
    pub fn may_strike(line: &Line<RigEntryKind, RigEntry>) -> Result<(), Refusal> {
        line.kind.may_be_struck()?;
        if let Some(RigEntry::Changed(Changed { before: None, .. })) = line.said.as_deref() {
            let text = "A rig is not struck. Change its figures, or say that it is not used any more.";
            return Err(Refusal::conflict("not-strikable", text));
        }
        Ok(())
    }

    /// How worn the fitted tip is; [`tip_wear`] of what the book tells of it, drawn over what batches sprayed through it.
    pub fn wear(&self, sprayed: &[Sprayed], prefs: Prefs) -> Option<WearView> {
        let told: Vec<RigEntry> = self.tip.iter().map(|(_, said)| said.clone()).collect();
        let points = wear_points(&self.tip, sprayed, prefs);
        Some(WearView { points, ..tip_wear(&told, prefs)? })
    }
}

impl Ledger for RigBook {
    const BOOK: &'static str = "rig";
    type Kind = RigEntryKind;
    type Said = RigEntry;
    type Beside = RigBeside;

    fn log(&self) -> &Log<RigEntryKind, RigEntry> {
        &self.log
    }

    fn log_mut(&mut self) -> &mut Log<RigEntryKind, RigEntry> {
        &mut self.log
    }

    fn decode(kind: RigEntryKind, version: i32, payload: &Value) -> Result<RigEntry, Refusal> {
        RigEntry::decode(kind, version, payload)
    }

    fn strike(said: &RigEntry) -> Option<&Strike> {
        if let RigEntry::Strike(strike) = said { Some(strike) } else { None }
    }

    fn apply(&mut self, said: &RigEntry, entry: &Entry<RigEntryKind>) {
        let at = entry.happened;
        let done = |id: &str| Done { id: id.into(), at, by: entry.by.clone() };
        match said {
            RigEntry::Changed(c) => {
                self.retired = c.retired;
                self.rig = Some(c.on(self.rig.take()));
            }
            RigEntry::ShutStep(s) => in_time(&mut self.steps, done(&s.step)),
            RigEntry::Cared(c) => in_time(&mut self.cared, done(&c.item)),
            RigEntry::Fitted(_) | RigEntry::TipFlow(_) => {
                self.tip.push((at, said.clone()));
                self.tip.sort_by_key(|(at, _)| *at);
            }
            RigEntry::PaperProof(p) => self.papers.push((p.sheet, p.proof(entry.id, &entry.by))),
            RigEntry::LimitsRenewed(r) => self.renewed.push((r.sheet, at)),
            RigEntry::Inspected(_) | RigEntry::Cleaned(_) | RigEntry::Exchanged(_) | RigEntry::Note(_) | RigEntry::Strike(_) => {}
        }
        if let Some(rig) = &mut self.rig {
            said.change(rig);
        }
    }

    fn may(&self, entry: &mut Entry<RigEntryKind>, asked: &Asking<'_, RigBeside>) -> Result<(), Refusal> {
        let (prefs, beside) = (asked.writer.prefs, asked.beside);
        let said = RigEntry::new(entry.kind, &entry.payload, prefs)?;
        if let RigEntry::Changed(_) = said {
            return Ok(());
        }
        let state = self.state(beside.pressed_at, beside.live_kpa).ok_or_else(|| {
            let text = "The figures of this rig do not stand in its book yet. Open its page and save them once.";
            Refusal::conflict("not-put-down", text)
        })?;
        said.may(&state, &beside.tips, prefs)?;
        if let RigEntry::Strike(s) = &said {
            let line = s.of(&self.log)?;
            own_or_lead(line, asked.writer)?;
            RigBook::may_strike(line)?;
        }
        let typed = entry.payload.get("typed").cloned();
        entry.payload = said.filled(&state).payload().unwrap_or_else(|_| json!({}));
        if let (Value::Object(map), Some(typed)) = (&mut entry.payload, typed) {
            map.insert("typed".into(), typed);
        }
        Ok(())
    }

    fn words(&self, said: &RigEntry, prefs: Prefs) -> String {
        said.words(prefs)
    }
}

/// Puts a doing in its place by time; of one instant the later written is the newer.
fn in_time(all: &mut Vec<Done>, done: Done) {
    let place = all.partition_point(|d| d.at <= done.at);
    all.insert(place, done);
}

impl Changed {
    /// The figures of a rig after this change: what it changed and nothing else, so that striking an earlier change gives back
    /// what that one took.
    fn on(&self, rig: Option<Rig>) -> Rig {
        let Some(mut figures) = rig.filter(|_| self.before.is_some()).and_then(|r| serde_json::to_value(r).ok()) else {
            return Rig::clone(&self.rig);
        };
        if let Value::Object(map) = &mut figures {
            for (field, _, is) in self.figures() {
                map.insert(field, is);
            }
        }
        serde_json::from_value(figures).unwrap_or_else(|_| Rig::clone(&self.rig))
    }
}

impl RigEntry {
    /// What it changes of the figures of a rig, beside a change of the figures themselves.
    fn change(&self, rig: &mut Rig) {
        rig.unflushed &= !self.flushes();
        if let RigEntry::Fitted(f) = self {
            rig.nozzle_mm = f.nozzle_mm.or(rig.nozzle_mm);
            let code = f.tip_code.as_deref().map(str::trim).filter(|c| !c.is_empty()).map(String::from);
            rig.tip_code = code.or(rig.tip_code.take());
            // What is fitted now is no longer the piece it was put together with.
            rig.pieces.retain(|place, _| !matches!(place, PieceKind::Nozzle | PieceKind::Tip));
        }
    }
}
