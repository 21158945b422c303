//! May this entry be written? Facts are taken when well formed; acts must keep the rules.

use super::gates::{self, Severity, Standing};
use super::payload::{Ended, GateName, LotRef, Payload};
use super::record::{Charge, Record};
use super::{Entry, Kind, hand_over, mixed, set_up};
use crate::film;
use crate::limits::{self, check_text};
use crate::lists::{self, Before, Did, Tick, What};
use crate::mixing::{self, Component};
use crate::people::{May, Role, may};
use crate::quantity::Prefs;
use crate::refusal::Refusal;
use crate::rigs::Rig;
use crate::schedule::{CoatLink, CoatOver, window_beneath};
use crate::sheets::ChargeKind;
use jiff::Timestamp;
use uuid::Uuid;

/// Who writes.
#[derive(Debug, Clone, PartialEq)]
pub struct Writer {
    /// Id.
    pub id: Uuid,
    /// Role.
    pub role: Role,
    /// How they read numbers.
    pub prefs: Prefs,
}

/// Decides on a new entry against the record so far. A release gets its `badness` filled in.
///
/// **Errors:** a [`Refusal`] with its reason and way out; nothing is half taken.
pub fn check(record: &Record, entry: &mut Entry, writer: &Writer, now: Timestamp) -> Result<(), Refusal> {
    let mut payload = Payload::decode(entry.kind, entry.version, &entry.payload)?;
    if let Payload::OpenCharge(open) = &mut payload
        && let (Some(amount), Some(aim), Some(on)) = (&open.amount, record.aim(), record.on_the_part())
    {
        (open.wanted_ml, _) = mixing::wanted_ml(&aim.sheet, amount, on, writer.prefs)?;
        entry.payload["wanted_ml"] = open.wanted_ml.into();
    }
    mixed::complete(record, &mut payload, &mut entry.payload, writer.prefs)?;
    well_formed(&payload, writer.prefs)?;
    in_time(entry, now)?;
    in_order(record, entry.kind)?;
    permitted(record, entry.kind, &payload, writer)?;
    if let Some(id) = payload.charge() {
        let charge = record
            .charge(id)
            .ok_or_else(|| Refusal::bad_input("unknown-charge", "charge", "There is no such pot in this batch."))?;
        if charge.closed.is_some() {
            return Err(Refusal::conflict("charge-closed", format!("Pot {} is closed already.", charge.no)));
        }
    }
    match payload {
        Payload::OpenCharge(open) => {
            let aim = record.aim().map(|b| b.sheet.charge);
            if aim.is_some_and(|kind| kind != open.kind) {
                return Err(Refusal::bad_input("wrong-charge", "kind", "The sheet mixes this product the other way."));
            }
            if record.charge(open.charge).is_some() {
                return Err(Refusal::conflict("charge-exists", "This pot is open already."));
            }
            Ok(())
        }
        Payload::TakeLot(t) => may_take(record, t.component, &t.lot, t.reason.as_deref(), entry.happened),
        Payload::Tick(t) => may_tick(record, &t, writer, entry.happened),
        Payload::Pour(p) => {
            may_pour(record, &p)?;
            p.lot.map_or(Ok(()), |lot| refuse_stopped(record, p.component, &lot, entry.happened))
        }
        Payload::ChooseRig(r) => set_up::may_choose(&r),
        Payload::SetUp(s) => set_up::may_set(record, &s, writer.prefs),
        Payload::FlowCatch(c) => set_up::may_catch(record, &c, entry.happened.min(now), writer.prefs),
        Payload::PlanMix(p) => mixed::may_plan(record, &p, writer.prefs),
        Payload::Transfer(t) => mixed::may_transfer(record, &t),
        Payload::Fill(f) => mixed::may_fill(record, &f, entry.happened.min(now), writer.prefs),
        Payload::Divide(d) => mixed::may_divide(record, &d, writer.prefs),
        Payload::HandOver(h) => hand_over::may_hand_over(record, &h, entry.happened.min(now)),
        Payload::TakeOver(t) => match record.charge(t.charge) {
            Some(_) => Err(Refusal::conflict("charge-exists", "This pot is here already.")),
            None => Ok(()),
        },
        Payload::Flush(_) if record.line(now).is_none() => {
            Err(Refusal::conflict("nothing-in-the-line", "No mixed paint stands in the line."))
        }
        Payload::CloseCharge(c) => mixed::may_close(record, &c, writer.prefs),
        Payload::Combine(c) => may_combine(record, c.charge, entry.happened.min(now), writer.prefs),
        Payload::Stirred(c) => may_stir(record, c.charge),
        Payload::StartSpraying(c) => {
            may_spray(record, c.charge, entry.happened.min(now), writer.prefs)?;
            let over = record.beside.beneath.as_ref().and_then(|b| {
                let CoatLink { batch, number, coat, .. } = b.link.clone();
                window_beneath(record).map(|w| CoatOver { batch, number, coat, earliest: w.earliest, latest: w.latest })
            });
            entry.payload["over"] = serde_json::to_value(over).unwrap_or_default();
            Ok(())
        }
        Payload::Pass(p) => in_zones(record, "zones", &p.zones),
        Payload::Comb(c) => {
            film::comb(&c.teeth_um, c.tooth_um, writer.prefs)?;
            in_zones(record, "zone", c.zone.as_slice())
        }
        Payload::DenyBirth(d) => match record.charge(d.charge).and_then(Charge::birth_in_doubt) {
            Some(_) => Ok(()),
            None => Err(Refusal::conflict(
                "no-birth-in-doubt",
                "No struck entry says that this pot is older: there is nothing to deny.",
            )),
        },
        Payload::Answer(a) => {
            let known = record.deviations.iter().find(|d| d.entry == a.entry && d.code == a.code);
            let known = known.ok_or_else(|| Refusal::bad_input("unknown-deviation", "entry", "There is no such deviation."))?;
            entry.payload["about"] = known.text.clone().into();
            Ok(())
        }
        Payload::Release(r) => {
            seen(record, r.seen_seq)?;
            let hold = held(record, &r, now, writer.prefs)?;
            if hold.severity == Severity::Stop {
                return Err(Refusal::stop("stop", format!("{} This is a stop: nobody may release it.", hold.text)));
            }
            entry.payload["badness"] = hold.badness.into();
            entry.payload["trouble"] = hold.trouble.into();
            entry.payload["item"] = hold.item.into();
            Ok(())
        }
        Payload::Strike(s) => may_strike(record, s.entry),
        Payload::Sign(s) => may_sign(record, s.seen_seq, now, writer.prefs),
        Payload::Accept(s) => {
            seen(record, s.seen_seq)?;
            if record.signature.is_none() {
                return Err(Refusal::conflict("not-signed", "The work is not signed yet."));
            }
            Ok(())
        }
        Payload::Reopen(_) => {
            if record.signature.is_none() {
                Err(Refusal::conflict("not-signed", "There is no signature to void."))
            } else {
                Ok(())
            }
        }
        Payload::Begin(_)
        | Payload::Conditions(_)
        | Payload::Guards(_)
        | Payload::PotTemperature(_)
        | Payload::SetStep(_)
        | Payload::CupRun(_)
        | Payload::Rescue(_)
        | Payload::FilmLook(_)
        | Payload::Flush(_)
        | Payload::Note(_) => Ok(()),
        Payload::Catch(c) => set_up::may_catch_both(record, &c, writer.prefs),
    }
}

/// Every zone named is one of the part; where it has several, one must be named.
fn in_zones(record: &Record, field: &str, zones: &[Uuid]) -> Result<(), Refusal> {
    let all = record.aim().map(|b| b.zones.as_slice()).unwrap_or_default();
    if zones.is_empty() && all.len() > 1 {
        return Err(Refusal::bad_input("which-zone", field, "The part has several zones: which of them?"));
    }
    match zones.iter().all(|z| all.iter().any(|k| k.id == *z)) {
        true => Ok(()),
        false => Err(Refusal::bad_input("unknown-zone", field, "The part has no such zone.")),
    }
}

/// The hold a release names: gate and charge, and its item and trouble where the gate holds several things.
fn held(record: &Record, r: &super::payload::Release, now: Timestamp, prefs: Prefs) -> Result<gates::Hold, Refusal> {
    let named = |h: &gates::Hold| {
        h.gate == r.gate
            && h.charge == r.charge
            && (r.item.is_none() || r.item == h.item)
            && r.trouble.as_ref().is_none_or(|t| *t == h.trouble)
    };
    let mut found: Vec<gates::Hold> =
        gates::all(record, now, prefs).into_iter().filter(|h| named(h) && h.released.is_none()).collect();
    match found.len() {
        0 => Err(Refusal::conflict("nothing-held", "Nothing is on hold there any more.")),
        1 => Ok(found.remove(0)),
        _ => {
            let texts: Vec<String> = found.into_iter().map(|h| h.text).collect();
            let text = format!("This gate holds several things. Which is released? {}", texts.join(" "));
            Err(Refusal::bad_input("which-hold", "item", text))
        }
    }
}

/// Every figure inside the limits of sense, every text readable.
fn well_formed(payload: &Payload, prefs: Prefs) -> Result<(), Refusal> {
    let scale = |field: &str, g: f64, resolution: f64| {
        limits::SCALE_READING.check(field, g, prefs)?;
        limits::SCALE_RESOLUTION.check("resolution_g", resolution, prefs)
    };
    match payload {
        Payload::Conditions(r) => r.validate(prefs).map(|_| ()),
        Payload::OpenCharge(c) => limits::AMOUNT.check("wanted_ml", c.wanted_ml, prefs).map(|_| ()),
        Payload::Pour(p) => scale("reading_g", p.reading_g, p.resolution_g).map(|_| ()),
        Payload::Catch(c) => {
            limits::POT_PRESSURE.check_optional("a_kpa", c.a_kpa, prefs)?;
            limits::POT_PRESSURE.check_optional("b_kpa", c.b_kpa, prefs)?;
            limits::CATCH_TIME.check_optional("caught_watch_s", c.caught_watch_s, prefs)?;
            limits::LIFT.check_optional("lift_mm", c.lift_mm, prefs)?;
            for (field, g) in [("a_g", c.a_g), ("b_g", c.b_g)] {
                scale(field, g, c.resolution_g)?;
                if g < c.resolution_g {
                    return Err(Refusal::bad_input("nothing-caught", field, "This catch is empty on this scale."));
                }
            }
            Ok(())
        }
        Payload::PotTemperature(p) => limits::TEMPERATURE.check("temp_c", p.temp_c, prefs).map(|_| ()),
        Payload::ChooseRig(r) => match &r.fitted {
            // Its tip was read with the shop's own table when it was fitted; a batch keeps the code.
            Some(rig) => Rig { tip_code: None, ..rig.clone() }.validate(&[], prefs).map(|_| ()),
            None => Err(Refusal::bad_input("missing", "rig", "Which rig?")),
        },
        Payload::SetUp(s) => set_up::well_formed(s, prefs),
        Payload::SetStep(s) => set_up::known_step(s),
        Payload::CupRun(c) => set_up::ran(c, prefs),
        Payload::FlowCatch(c) => set_up::caught(c, prefs),
        Payload::Pass(p) => {
            limits::CATCH_TIME.check_optional("sprayed_watch_s", p.sprayed_watch_s, prefs)?;
            limits::AMOUNT.check_optional("used_ml", p.used_ml, prefs).map(|_| ())
        }
        Payload::CloseCharge(c) => {
            limits::AMOUNT.check_optional("waste_ml", c.waste_ml, prefs)?;
            if c.how == Ended::Discarded {
                check_text("reason", c.reason.as_deref().unwrap_or(""), limits::TEXT_CHARS)?;
            }
            Ok(())
        }
        Payload::PlanMix(p) => {
            limits::SPRAY_RATE.check("rate_ml_min", p.rate_ml_min, prefs)?;
            limits::AMOUNT.check_optional("fill_ml", p.fill_ml, prefs)?;
            limits::SHEET_TIME.check_optional("handling_s", p.handling_s, prefs).map(|_| ())
        }
        Payload::Transfer(t) => scale("reading_g", t.reading_g, t.resolution_g).map(|_| ()),
        Payload::Fill(f) => {
            limits::AMOUNT.check("fill_ml", f.fill_ml, prefs)?;
            limits::SCALE_READING.check_optional("dose_g", f.dose_g, prefs).map(|_| ())
        }
        Payload::Divide(d) => limits::AMOUNT.check("part_ml", d.part_ml, prefs).map(|_| ()),
        Payload::Flush(f) => match f.text.as_deref().filter(|x| !x.trim().is_empty()) {
            Some(text) => check_text("text", text, limits::TEXT_CHARS).map(|_| ()),
            None => Ok(()),
        },
        Payload::Tick(t) => match t.text.as_deref().filter(|x| !x.trim().is_empty()) {
            Some(text) => check_text("text", text, limits::TEXT_CHARS).map(|_| ()),
            None => Ok(()),
        },
        Payload::Note(n) => check_text("text", &n.text, limits::TEXT_CHARS).map(|_| ()),
        Payload::FilmLook(l) => match l.text.as_deref().filter(|t| !t.trim().is_empty()) {
            Some(text) => check_text("text", text, limits::TEXT_CHARS).map(|_| ()),
            None if l.good => Ok(()),
            None => Err(Refusal::bad_input("missing", "text", "What is not right with it?")),
        },
        Payload::DenyBirth(d) => check_text("reason", &d.reason, limits::TEXT_CHARS).map(|_| ()),
        Payload::Answer(a) => check_text("text", &a.text, limits::TEXT_CHARS).map(|_| ()),
        Payload::Release(r) => check_text("reason", &r.reason, limits::TEXT_CHARS).map(|_| ()),
        Payload::Strike(s) => check_text("reason", &s.reason, limits::TEXT_CHARS).map(|_| ()),
        Payload::Reopen(r) => check_text("reason", &r.reason, limits::TEXT_CHARS).map(|_| ()),
        Payload::Begin(_)
        | Payload::Rescue(_)
        | Payload::HandOver(_)
        | Payload::TakeOver(_)
        | Payload::Guards(_)
        | Payload::TakeLot(_)
        | Payload::Combine(_)
        | Payload::Stirred(_)
        | Payload::StartSpraying(_)
        | Payload::Comb(_)
        | Payload::Sign(_)
        | Payload::Accept(_) => Ok(()),
    }
}

fn in_time(entry: &Entry, now: Timestamp) -> Result<(), Refusal> {
    let ago = now.duration_since(entry.happened).as_secs_f64();
    if ago > limits::BACK_DATE_S {
        return Err(Refusal::bad_input("too-long-ago", "ago_s", "More than 24 h back. Write a note with the time instead."));
    }
    if ago < -1.0 {
        return Err(Refusal::bad_input("in-the-future", "ago_s", "This has not happened yet."));
    }
    Ok(())
}

fn in_order(record: &Record, kind: Kind) -> Result<(), Refusal> {
    match (record.begin.is_some(), kind) {
        (false, Kind::Begin) => Ok(()),
        (false, _) => Err(Refusal::conflict("not-begun", "This batch is not begun.")),
        (true, Kind::Begin) => Err(Refusal::conflict("begun-already", "This batch is begun already.")),
        (true, _) => Ok(()),
    }?;
    if record.acceptance.is_some() && !matches!(kind, Kind::Note | Kind::Reopen) {
        return Err(Refusal::conflict("accepted", "The card is closed. Write a note, or ask a lead to reopen it."));
    }
    if record.signature.is_some() && !matches!(kind, Kind::Note | Kind::Reopen | Kind::Accept) {
        return Err(Refusal::conflict("signed", "The work is signed. Write a note, or ask a lead to reopen it."));
    }
    Ok(())
}

/// What the viewer may do, by the one table.
pub fn permitted(record: &Record, kind: Kind, payload: &Payload, writer: &Writer) -> Result<(), Refusal> {
    let role = writer.role.word();
    let no = |text: String| Err(Refusal::forbidden("not-your-role", text));
    match may(writer.role, kind) {
        May::Yes => Ok(()),
        May::No => no(format!("The role {role} may not do this. Ask someone who may.")),
        May::OwnBatch if record.workers.contains(&writer.id) => Ok(()),
        May::OwnBatch => no("You did not work on this batch. Someone who did signs it.".into()),
        May::NotAlone if record.workers.iter().any(|w| *w != writer.id) => Ok(()),
        May::NotAlone => no("You did this work alone. Someone else accepts it.".into()),
        May::OwnEntry => match payload {
            Payload::Strike(s) if record.log.iter().any(|l| l.entry == s.entry && l.who != writer.id) => {
                no("This is another's entry. They or a lead may strike it.".into())
            }
            _ => Ok(()),
        },
    }
}

fn may_pour(record: &Record, pour: &super::payload::Pour) -> Result<(), Refusal> {
    let Some(charge) = record.charge(pour.charge) else { return Ok(()) };
    if charge.kind == ChargeKind::AtGun {
        return Err(Refusal::conflict("at-gun", "This product is mixed at the gun: there is nothing to pour together."));
    }
    let last = charge.pours.last().map_or(0.0, |p| p.it.weighed.reading_g);
    if !pour.tared && pour.reading_g < last - pour.resolution_g {
        return Err(Refusal::bad_input(
            "scale-fell",
            "reading_g",
            "The scale shows less than before this pour. Was it tared, or the cup changed? Tick “tared before” or read again.",
        ));
    }
    if pour.component.additive().is_some_and(|i| record.aim().is_some_and(|b| i >= b.sheet.additives.len())) {
        return Err(Refusal::bad_input("no-additive", "component", "The sheet has no such additive."));
    }
    if pour.component == Component::Hardener && record.aim().is_some_and(|b| !b.sheet.has_hardener) {
        return Err(Refusal::bad_input("no-hardener", "component", "This product has no second component."));
    }
    Ok(())
}

/// Gates that are closed and not released: the first one refuses, stops before holds.
fn refuse_if_held(standing: Standing) -> Result<(), Refusal> {
    match standing.holds.into_iter().find(|h| h.released.is_none()) {
        None => Ok(()),
        Some(h) if h.severity == Severity::Stop => Err(Refusal::stop("stop", h.text)),
        Some(h) => Err(Refusal::hold("hold", h.text)),
    }
}

/// No combining before conditions are go, guards on and base in.
pub fn may_combine(record: &Record, charge: Uuid, now: Timestamp, prefs: Prefs) -> Result<(), Refusal> {
    refuse_if_held(gates::before(record, Before::Combine, None, now, prefs))?;
    let charge = known(record, charge)?;
    if charge.combine.is_some() {
        return Err(Refusal::conflict("combined-already", format!("Pot {} is combined already.", charge.no)));
    }
    if !charge.pours.iter().any(|p| p.it.weighed.component == Component::Base) {
        return Err(Refusal::hold("no-base", format!("There is no base in pot {} yet. Pour the base first.", charge.no)));
    }
    Ok(())
}

/// A lot that nobody may take, by what the stores know of it.
fn refuse_stopped(record: &Record, component: Component, lot: &LotRef, now: Timestamp) -> Result<(), Refusal> {
    let (Some(stand), Some(aim)) = (&lot.stand, record.aim()) else { return Ok(()) };
    let stop = stand.troubles(&lot.code, &aim.sheet, component, now).into_iter().find(|t| t.severity == Severity::Stop);
    stop.map_or(Ok(()), |t| Err(Refusal { field: Some("lot".into()), ..Refusal::stop(t.code, t.text) }))
}

/// First in, first out, unless there is a reason; an expired or quarantined lot never.
fn may_take(record: &Record, component: Component, lot: &LotRef, reason: Option<&str>, now: Timestamp) -> Result<(), Refusal> {
    let Some(aim) = record.aim() else { return Ok(()) };
    if component == Component::Hardener && !aim.sheet.has_hardener {
        return Err(Refusal::bad_input("no-hardener", "component", "This product has no second component."));
    }
    refuse_stopped(record, component, lot, now)?;
    let first = lot.stand.as_ref().and_then(|s| s.first.as_ref());
    match (first, reason.map(str::trim).filter(|r| !r.is_empty())) {
        (Some(first), None) => Err(Refusal::bad_input(
            "not-first-in",
            "reason",
            format!("Lot {first} came in first and is fit: take it, or say why not."),
        )),
        (_, Some(why)) => check_text("reason", why, limits::TEXT_CHARS).map(drop),
        (None, None) => Ok(()),
    }
}

/// An item of this batch, done in a way that fits it.
fn may_tick(record: &Record, tick: &Tick, writer: &Writer, at: Timestamp) -> Result<(), Refusal> {
    let items = record.aim().map(|b| b.items.as_slice()).unwrap_or_default();
    let item = items
        .iter()
        .find(|i| i.key == tick.item)
        .ok_or_else(|| Refusal::bad_input("unknown-item", "item", "The lists of this batch have no such item."))?;
    let fits = matches!(
        (&item.what, tick.did),
        (What::Tick | What::Test { .. } | What::Approve, Did::Done | Did::Failed)
            | (What::GoodFor { .. } | What::Profile, Did::Done)
            | (What::Timer { .. }, Did::Start | Did::Stop)
    );
    if !fits {
        return Err(Refusal::bad_input("wrong-tick", "did", format!("“{}” is not ticked that way.", item.text)));
    }
    if matches!(item.what, What::Approve) {
        if !matches!(writer.role, Role::Lead | Role::Owner) {
            return Err(Refusal::forbidden("not-your-role", format!("“{}”: a lead or the owner approves. Ask them.", item.text)));
        }
        check_text("text", tick.text.as_deref().unwrap_or_default(), limits::TEXT_CHARS)
            .map_err(|_| Refusal::bad_input("missing", "text", "Name the control sample it was compared with."))?;
    }
    if matches!(item.what, What::Profile) {
        limits::FILM.check("read_um", limits::required("read_um", tick.read_um)?, writer.prefs)?;
    }
    if tick.did == Did::Stop {
        let running = record.ticks.iter().rev().find(|t| t.it.item == tick.item).is_some_and(|t| t.it.did == Did::Start);
        if !running {
            return Err(Refusal::conflict("not-running", format!("“{}” is not running. Start it first.", item.text)));
        }
    }
    if let Some(first) = item.after.as_ref().and_then(|k| items.iter().find(|i| i.key == *k)) {
        let state = lists::state(record, first, at, writer.prefs);
        if !matches!(state.stand, lists::ItemStand::Done | lists::ItemStand::Watch | lists::ItemStand::Held)
            || state.ran_s.is_some()
        {
            return Err(Refusal::hold("not-yet", format!("“{}” comes first.", first.text)));
        }
    }
    Ok(())
}

fn may_stir(record: &Record, charge: Uuid) -> Result<(), Refusal> {
    let charge = known(record, charge)?;
    let hardened = record.aim().is_none_or(|b| !b.sheet.has_hardener) || charge.combined().is_some();
    if charge.pours.is_empty() || !hardened {
        return Err(Refusal::hold(
            "not-combined",
            format!("Pot {} holds no hardener yet; its induction begins when both are stirred.", charge.no),
        ));
    }
    Ok(())
}

/// No spraying in induction, from a spent pot, with the ratio open or the conditions on hold.
pub fn may_spray(record: &Record, charge: Uuid, now: Timestamp, prefs: Prefs) -> Result<(), Refusal> {
    let charge = known(record, charge)?;
    let standing = gates::before_spraying(record, charge, now, prefs);
    let waits = standing.waits.clone();
    refuse_if_held(standing)?;
    if charge.kind == ChargeKind::Pot && charge.pours.is_empty() {
        return Err(Refusal::hold("empty-pot", format!("Pot {} is empty. Fill it at Mix.", charge.no)));
    }
    // What these gates wait for is not there yet: absence is never a pass. Film is what the spraying itself brings.
    let needed = [GateName::Ratio, GateName::Induction, GateName::Life];
    match waits.into_iter().find(|(gate, _)| needed.contains(gate)) {
        Some((_, what)) => Err(Refusal::hold("not-combined", what)),
        None => Ok(()),
    }
}

fn known(record: &Record, charge: Uuid) -> Result<&Charge, Refusal> {
    record.charge(charge).ok_or_else(|| Refusal::bad_input("unknown-charge", "charge", "There is no such pot in this batch."))
}

fn may_strike(record: &Record, entry: Uuid) -> Result<(), Refusal> {
    let line = record
        .log
        .iter()
        .find(|l| l.entry == entry)
        .ok_or_else(|| Refusal::bad_input("unknown-entry", "entry", "There is no such entry in this book."))?;
    match line.kind {
        _ if line.struck.is_some() => Err(Refusal::conflict("struck-already", "This entry is struck already.")),
        Kind::Strike | Kind::Begin | Kind::Sign | Kind::Accept | Kind::Reopen => {
            Err(Refusal::conflict("not-strikable", "This entry cannot be struck. Enter it again, or ask a lead to reopen."))
        }
        _ => Ok(()),
    }
}

fn seen(record: &Record, seen_seq: i64) -> Result<(), Refusal> {
    if seen_seq == record.head_seq {
        Ok(())
    } else {
        Err(Refusal::conflict("seen-older", "Something was written since you looked. Look again, then sign or release."))
    }
}

/// No signing with an open deviation or hold, a live pot, or nothing sprayed.
pub fn may_sign(record: &Record, seen_seq: i64, now: Timestamp, prefs: Prefs) -> Result<(), Refusal> {
    seen(record, seen_seq)?;
    if let Some(open) = record.deviations.iter().find(|d| d.answer.is_none()) {
        return Err(Refusal::hold("open-deviation", format!("A deviation is not answered: {}", open.text)));
    }
    if record.passes.is_empty() {
        return Err(Refusal::hold("nothing-sprayed", "No pass is stamped yet."));
    }
    if let Some(live) = record.charges.iter().find(|c| c.closed.is_none()) {
        return Err(Refusal::hold("charge-open", format!("Pot {} is still open. Empty or discard it at Spray.", live.no)));
    }
    if let Some(line) = record.line(now) {
        return Err(Refusal::hold(
            "line-not-flushed",
            format!("The hose still holds mixed paint of pot {}. Flush it at Spray.", line.no),
        ));
    }
    refuse_if_held(gates::before_signing(record, prefs))
}
