//! What needs hands next, soonest first.

use super::coat_of;
use crate::acceptance::AcceptBy;
use crate::batch::after_care::coat_clocks;
use crate::batch::case::Case;
use crate::batch::charge::Charge;
use crate::batch::entries::Begin;
use crate::batch::gates::GateName;
use crate::batch::gates::{Hold, Severity, over, recoat_clock};
use crate::batch::proofs;
use crate::batch::ready_lists;
use crate::lists::ItemState;
use crate::pot_life::{PotState, after};
use crate::quantity::{Prefs, QuantityKind, show};
use crate::recoat::WindowState;
use crate::sheets::ChargeKind;
use crate::worded::VariantArray;
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

/// How urgent it looks: position and word say it too.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Tone {
    /// Now or lost.
    Urgent,
    /// Held.
    Watch,
    /// In order.
    Calm,
    /// Only waiting.
    Quiet,
}

/// What is lost while it waits: the order of the list, before the time.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Waits {
    /// Paint that dies or sets, a window that closes: by the time it does.
    Loss,
    /// Paint already mixed is held up.
    Mixed,
    /// A person is held up.
    Person,
    /// A chore; it can wait and is never marked as now.
    Chore,
}

/// One line of *Hands next*.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct Next {
    pub batch: Uuid,
    pub at: Timestamp,
    /// Seconds from `as_of`; zero or less is now.
    pub in_s: f64,
    pub text: String,
    pub why: String,
    pub part: String,
    pub tone: Tone,
    pub waits: Waits,
    /// Station that answers it.
    pub station: u8,
}

/// Loss first, by the time it comes; then what holds up mixed paint, then what holds up a person, then chores. Of what
/// wants hands at one time, the worst first.
pub fn order(list: &mut [Next], now: Timestamp) {
    list.sort_by_key(|n| (n.waits, n.at.max(now), n.tone));
}

/// A check of the ratio is near from here on; from memory.
const SOON_S: f64 = 15.0 * 60.0;

/// What this batch wants, in the order of [`order`].
pub fn next(batch: Uuid, case: &Case<'_>, holds: &[Hold], now: Timestamp, prefs: Prefs) -> Vec<Next> {
    let Some(aim) = case.aim() else { return Vec::new() };
    let mixed = case.charges.iter().any(|c| c.combined().is_some() && c.closed.is_none());
    let held = if mixed { Waits::Mixed } else { Waits::Person };
    let part = format!("{} · {}", aim.part_name, coat_of(aim));
    let mut wants = Wants { batch, case, aim, holds, now, prefs, part, held, mixed, out: Vec::new() };
    // A closed card wants nothing; its recoat stands with the part.
    match (&case.signature, &case.acceptance) {
        _ if case.left_out.is_some() => {}
        (_, Some(_)) => {}
        (Some(_), None) => wants.of_the_signed(),
        (None, None) => {
            wants.of_holds();
            wants.of_the_lists();
            wants.before_the_first_pot();
            wants.of_the_coat_beneath();
            case.charges.iter().filter(|c| c.closed.is_none()).for_each(|charge| wants.of_a_charge(charge));
            wants.of_the_hose();
            wants.of_stirring();
            wants.of_what_stays();
            wants.before_the_signature();
            wants.of_the_coat();
        }
    }
    order(&mut wants.out, now);
    wants.out
}

/// What is gone through for the list.
struct Wants<'a> {
    batch: Uuid,
    case: &'a Case<'a>,
    aim: &'a Begin,
    holds: &'a [Hold],
    now: Timestamp,
    prefs: Prefs,
    part: String,
    /// What is lost while a hold stands: paint that is mixed, or a person's time.
    held: Waits,
    mixed: bool,
    out: Vec<Next>,
}

impl<'a> Wants<'a> {
    fn add(&mut self, waits: Waits, at: Timestamp, station: u8, tone: Tone, text: impl Into<String>, why: impl Into<String>) {
        self.out.push(Next {
            batch: self.batch,
            at,
            in_s: at.duration_since(self.now).as_secs_f64(),
            text: text.into(),
            why: why.into(),
            part: self.part.clone(),
            tone,
            waits,
            station,
        });
    }

    /// An open hold of a gate.
    fn hold(&self, of: impl Fn(&Hold) -> bool) -> Option<&'a Hold> {
        self.holds.iter().find(|h| h.released.is_none() && of(h))
    }

    fn of_the_signed(&mut self) {
        let waiting = self.before_it_is_accepted();
        for (tone, text, why) in waiting.iter().cloned() {
            self.add(Waits::Chore, self.now, 6, tone, text, why);
        }
        if waiting.is_empty() {
            self.add(Waits::Chore, self.now, 6, Tone::Quiet, "Accept the work", "signed, waits for a lead or inspector");
        }
        self.of_the_coat();
    }

    /// What is still to be measured or looked at, or is not in, before the second signature.
    fn before_it_is_accepted(&self) -> Vec<(Tone, String, String)> {
        let held = self.holds.iter().filter(|h| h.gate == GateName::Acceptance && h.released.is_none());
        held.map(|h| {
            let by_gauge = AcceptBy::VARIANTS.iter().any(|by| by.is_by_gauge() && h.item.as_deref() == Some(<&str>::from(*by)));
            let (tone, text) = match (h.trouble.as_str(), by_gauge) {
                ("not-done", true) => (Tone::Quiet, "Measure the dry film".to_string()),
                ("under-way", true) => (Tone::Quiet, "Go on measuring the dry film".into()),
                ("not-done" | "under-way", false) => (Tone::Quiet, "Look at the coat".into()),
                (_, true) => (Tone::Watch, "The dry film is not accepted".into()),
                (_, false) => (Tone::Watch, "The coat is not accepted".into()),
            };
            (tone, text, h.text.clone())
        })
        .collect()
    }

    /// The clocks of a coat that is on, until each is over; the next coat only while it is not begun.
    fn of_the_coat(&mut self) {
        let begun = self.case.beside.next.is_some();
        for clock in coat_clocks(self.case, self.prefs) {
            if clock.at > self.now && !clock.latest && !(clock.is_next_coat && begun) {
                self.add(Waits::Chore, clock.at, 6, Tone::Quiet, clock.what, clock.why);
            }
        }
    }

    /// Gates that speak for themselves.
    fn of_holds(&mut self) {
        for hold in self.holds.iter().filter(|h| h.released.is_none() && h.reached) {
            let Some(what) = hold.next() else { continue };
            let tone = if hold.severity == Severity::Stop { Tone::Urgent } else { Tone::Watch };
            self.add(self.held, self.now, hold.gate.station(), tone, what, hold.text.clone());
        }
    }

    /// Clocks of the Ready lists, and how many items wait to be done.
    fn of_the_lists(&mut self) {
        if !over(self.case) {
            for (item, state) in ready_lists::states(self.case, self.now, self.prefs) {
                let Some(s) = state.changes_s else { continue };
                let (tone, why) = match state.state {
                    ItemState::Running => (Tone::Calm, format!("then stop it; {}", state.line)),
                    ItemState::Watch => (Tone::Watch, format!("{}, then it holds", state.line)),
                    ItemState::Done | ItemState::Open | ItemState::Held => continue,
                };
                self.add(Waits::Person, after(self.now, s), 1, tone, item.text.clone(), why);
            }
        }
        let lists = |h: &&Hold| h.gate == GateName::Lists && h.released.is_none() && !h.reached;
        let waiting = self.holds.iter().filter(lists).count();
        if waiting > 0 && !self.case.conditions.is_empty() {
            let waits = if self.mixed { Waits::Mixed } else { Waits::Chore };
            let why = format!("{waiting} to do before it is {}", self.case.put_on().done);
            self.add(waits, self.now, 1, Tone::Calm, "Go through the lists", why);
        }
    }

    /// What stands before the first pot.
    fn before_the_first_pot(&mut self) {
        if self.case.conditions.is_empty() {
            self.add(self.held, self.now, 1, Tone::Calm, "Read the conditions", "nothing may be combined before");
        } else if self.hold(|h| h.gate == GateName::Guards).is_some() {
            self.add(self.held, self.now, 1, Tone::Calm, "Put the guards on", "each hazard of the sheet, ticked");
        } else if self.case.charges.is_empty() {
            let at_gun = self.aim.sheet.charge == ChargeKind::AtGun;
            let (station, what) = if at_gun { (4, "Catch both streams") } else { (2, "Mix the first pot") };
            self.add(Waits::Chore, self.now, station, Tone::Calm, what, "conditions are go");
        }
    }

    fn of_the_coat_beneath(&mut self) {
        let clock = recoat_clock(self.case, self.now);
        if let Some(hold) = self.hold(|h| h.gate == GateName::Recoat && h.reached) {
            let opens_s = clock.as_ref().and_then(|c| c.changes_s);
            let at = opens_s.map_or(self.now, |s| after(self.now, s));
            let (tone, what) = match opens_s {
                Some(_) => (Tone::Quiet, "The coat beneath may be coated"),
                None => (Tone::Watch, "Abrade the coat beneath"),
            };
            self.add(self.held, at, 1, tone, what, hold.text.clone());
        }
        // The window of the coat beneath closes whether or not somebody looks.
        let window = clock.filter(|c| c.state == WindowState::Open && self.case.passes.is_empty());
        if let Some(latest) = window.and_then(|c| c.latest).filter(|_| !over(self.case)) {
            let why = "after it the coat beneath is abraded";
            self.add(Waits::Loss, latest, 1, Tone::Watch, "Coat before the window closes", why);
        }
    }

    fn of_a_charge(&mut self, charge: &Charge) {
        let no = charge.no;
        let left = show(self.case.left_ml(charge), QuantityKind::Volume, self.prefs).text;
        let Some(clock) = self.case.clock(charge, self.now) else { return self.of_an_ageless(charge) };
        match clock.state {
            PotState::Spent => {
                self.add(Waits::Loss, self.now, 5, Tone::Urgent, format!("Discard pot {no}"), "its life is spent");
            }
            PotState::LastCall => {
                let text = format!("Empty pot {no} or set it aside");
                self.add(Waits::Loss, clock.spent_at, 5, Tone::Urgent, text, format!("last call, {left} left"));
            }
            PotState::Watch => {
                let why = format!("last quarter of its life, {left} left");
                self.add(Waits::Loss, clock.spent_at, 5, Tone::Watch, format!("Use pot {no} up"), why);
            }
            PotState::Ready => {
                let text = format!("Pot {no} must be empty");
                self.add(Waits::Loss, clock.spent_at, 5, Tone::Quiet, text, format!("ready, {left} left"));
            }
            PotState::Mixing => {
                let why = "hardener is in; induction starts when stirred";
                self.add(Waits::Mixed, self.now, 2, Tone::Calm, format!("Stir pot {no}"), why);
            }
            PotState::Inducting => {
                let at = clock.induction_ends.unwrap_or(self.now);
                let text = format!("Pot {no} is ready: stir once, then load");
                self.add(Waits::Mixed, at, 5, Tone::Calm, text, "induction ends");
            }
            PotState::Filling | PotState::Open => {}
        }
    }

    /// A charge without a clock: at the gun, or a pot that is still filled.
    fn of_an_ageless(&mut self, charge: &Charge) {
        let ratio = self.hold(|h| h.gate == GateName::Ratio && h.charge == Some(charge.id));
        if let Some(hold) = ratio.filter(|_| charge.kind == ChargeKind::AtGun) {
            let again = hold.trouble.starts_with("stale") || hold.trouble == "check-due";
            let (tone, what) = match (hold.reached, again) {
                (true, true) => (Tone::Watch, "Catch both streams again"),
                (true, false) => (Tone::Watch, "Move one pressure, catch again"),
                (false, _) => (Tone::Calm, "Prove the ratio"),
            };
            self.add(self.held, self.now, 4, tone, what, hold.text.clone());
        } else if charge.kind == ChargeKind::AtGun {
            self.of_the_next_check();
        } else if charge.started.is_none() && charge.kind == ChargeKind::Pot {
            self.add(Waits::Chore, self.now, 2, Tone::Calm, format!("Fill pot {}", charge.no), "base first");
        }
    }

    /// The next check of the ratio, while it is not due yet.
    fn of_the_next_check(&mut self) {
        if over(self.case) {
            return;
        }
        let Some((due, kg)) = proofs::next_due(self.case, None, self.now) else { return };
        let view = due.view(self.now, kg, proofs::last_hours_rate(self.case, self.now), self.prefs);
        let soon = view.at.is_some_and(|at| at.duration_since(self.now).as_secs_f64() < SOON_S);
        let tone = if soon { Tone::Watch } else { Tone::Quiet };
        match view.at {
            Some(at) => self.add(Waits::Person, at, 4, tone, "Catch both streams again", view.text),
            // By kilograms alone nobody can say when: a chore that is not marked as now.
            None => self.add(Waits::Chore, self.now, 4, tone, "Catch both streams again", view.text),
        }
    }

    /// What stands in the hose dies with its pot; while a pot is sprayed from, new paint pushes it out.
    fn of_the_hose(&mut self) {
        let Some(line) = self.case.hose(self.now) else { return };
        let idle = self.case.charges.iter().all(|c| c.started.is_none() || c.closed.is_some());
        let (at, tone, text) = match line.clock.state {
            PotState::Spent => (self.now, Tone::Urgent, "Flush the hose: it is spent"),
            PotState::LastCall => (line.clock.spent_at, Tone::Urgent, "Flush the hose"),
            PotState::Open | PotState::Filling | PotState::Mixing | PotState::Inducting | PotState::Ready | PotState::Watch => {
                match idle {
                    true => (line.clock.spent_at, Tone::Watch, "Flush the hose"),
                    false => return,
                }
            }
        };
        let why = format!("it still holds {} of pot {}", show(line.hose_ml, QuantityKind::Volume, self.prefs).text, line.no);
        self.add(Waits::Loss, at, 5, tone, text, why);
    }

    /// Paint that does not age may stay in the hose for a week; the last day of it is said.
    fn of_what_stays(&mut self) {
        let Some(hose) = self.case.stays_in_hose(self.now) else { return };
        let left_s = hose.flush_by.duration_since(self.now).as_secs_f64();
        if left_s > 86_400.0 {
            return;
        }
        let tone = if left_s <= 0.0 { Tone::Watch } else { Tone::Quiet };
        let why = format!("paint stands in it since a week, from pot {}", hose.no);
        self.add(Waits::Chore, hose.flush_by, 5, tone, "Flush the hose", why);
    }

    /// What settles is stirred again.
    fn of_stirring(&mut self) {
        let Some(again_s) = self.aim.sheet.stir_again_s else { return };
        for charge in self.case.charges.iter().filter(|c| c.closed.is_none() && c.stirred.is_some()) {
            let Some(last) = charge.stirs.iter().max() else { continue };
            // After a pause at once.
            let paused = self.case.last_pause(self.now).filter(|pause| pause > last);
            let due = paused.unwrap_or(after(*last, again_s));
            let spent = self.case.clock(charge, self.now).is_some_and(|c| c.state == PotState::Spent);
            if !spent {
                let tone = if due <= self.now { Tone::Watch } else { Tone::Quiet };
                let why = "it settles: at every fill and after every pause";
                self.add(Waits::Mixed, due, 2, tone, format!("Stir pot {} again", charge.no), why);
            }
        }
    }

    /// What stands before the signature, once every pot is closed.
    fn before_the_signature(&mut self) {
        if !over(self.case) {
            return;
        }
        let open = self.case.deviations.iter().filter(|d| d.answer.is_none()).count();
        if open > 0 {
            self.add(Waits::Person, self.now, 6, Tone::Watch, "Answer the deviations", format!("{open} open before signing"));
        } else if let Some(hold) = self.hold(|h| h.gate == GateName::Film) {
            self.add(Waits::Person, self.now, 5, Tone::Watch, "Prove the film", hold.text.clone());
        } else if let Some(hold) = self.hold(|h| h.gate == GateName::Coverage) {
            self.add(Waits::Person, self.now, 2, Tone::Watch, "Put more on", hold.text.clone());
        } else {
            self.add(Waits::Chore, self.now, 6, Tone::Calm, "Sign the work", "every pot is closed");
        }
    }
}
