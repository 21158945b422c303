//! The book of a rig: inspected, cleaned, its tip changed.

use super::pieces::PieceKind;
use super::{Rig, TipFlow, may_press};
use crate::atomizing::tips::{TipRow, decode};
use crate::batch::payload::read;
use crate::care::{self, Stand};
use crate::limits::{self, check_text};
use crate::quantity::{Kind as Quantity, Prefs, show};
use crate::refusal::Refusal;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;
use uuid::Uuid;

/// Kinds of entry in the book of a rig.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum RigEntryKind {
    /// Looked over: hoses without kinks, no leaks, relief and gauge sound.
    Inspected,
    /// Flushed and cleaned.
    Cleaned,
    /// Another nozzle or tip fitted.
    Fitted,
    /// What its tip lets through, caught.
    TipFlow,
    /// A step of a shut-down.
    ShutStep,
    /// An item of the care lists.
    Cared,
    /// A note.
    Note,
    /// An entry is struck.
    Strike,
}

impl RigEntryKind {
    /// Every kind.
    pub const ALL: [RigEntryKind; 8] = [
        RigEntryKind::Inspected,
        RigEntryKind::Cleaned,
        RigEntryKind::Fitted,
        RigEntryKind::TipFlow,
        RigEntryKind::ShutStep,
        RigEntryKind::Cared,
        RigEntryKind::Note,
        RigEntryKind::Strike,
    ];

    /// The wire name.
    pub fn name(self) -> &'static str {
        match self {
            RigEntryKind::Inspected => "inspected",
            RigEntryKind::Cleaned => "cleaned",
            RigEntryKind::Fitted => "fitted",
            RigEntryKind::TipFlow => "tip_flow",
            RigEntryKind::ShutStep => "shut_step",
            RigEntryKind::Cared => "cared",
            RigEntryKind::Note => "note",
            RigEntryKind::Strike => "strike",
        }
    }

    /// Reads a wire name.
    pub fn from_name(name: &str) -> Option<RigEntryKind> {
        RigEntryKind::ALL.into_iter().find(|k| k.name() == name)
    }
}

/// Looked over.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Inspected {
    /// Everything was sound.
    pub sound: bool,
    /// What was found.
    #[serde(default)]
    pub text: Option<String>,
}

/// Cleaned, or noted.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Said {
    /// With what; what.
    #[serde(default)]
    pub text: Option<String>,
    /// It had not been flushed before; the server fills it in, so that a strike gives it back.
    #[serde(default)]
    pub was_new: bool,
}

/// A step of a shut-down.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ShutStep {
    /// Name of the step.
    pub step: String,
    /// What the gauge read, where the step is to read it.
    #[serde(default)]
    pub gauge_kpa: Option<f64>,
    /// What the rig's transmitter read then; the server fills it in.
    #[serde(default)]
    pub live_kpa: Option<f64>,
    /// What the step is called, so that the book reads the same for ever; the server fills it in.
    #[serde(default)]
    pub word: String,
    /// It had not been flushed before; the server fills it in.
    #[serde(default)]
    pub was_new: bool,
}

/// An item of care.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Cared {
    /// Name of the item.
    pub item: String,
    /// What the item is called; the server fills it in.
    #[serde(default)]
    pub word: String,
    /// It had not been flushed before; the server fills it in.
    #[serde(default)]
    pub was_new: bool,
}

/// Another nozzle or tip.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Fitted {
    /// Its hole.
    #[serde(default)]
    pub nozzle_mm: Option<f64>,
    /// Its code.
    #[serde(default)]
    pub tip_code: Option<String>,
    /// What was fitted before; the server fills it in, so that a strike gives it back.
    #[serde(default)]
    pub before: Option<FittedBefore>,
}

/// What an exchange took off.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct FittedBefore {
    /// Its hole.
    #[serde(default)]
    pub nozzle_mm: Option<f64>,
    /// Its code.
    #[serde(default)]
    pub tip_code: Option<String>,
}

/// Struck.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Struck {
    /// Which entry.
    pub entry: Uuid,
    /// Why.
    pub reason: String,
}

/// An entry, read.
#[derive(Debug, Clone, PartialEq)]
#[allow(missing_docs)]
pub enum RigEntry {
    Inspected(Inspected),
    Cleaned(Said),
    Fitted(Fitted),
    TipFlow(TipFlow),
    ShutStep(ShutStep),
    Cared(Cared),
    Note(Said),
    Strike(Struck),
}

impl RigEntry {
    /// Reads and checks an entry.
    ///
    /// **Errors:** a refusal naming the field.
    pub fn decode(kind: RigEntryKind, value: &Value, prefs: Prefs) -> Result<RigEntry, Refusal> {
        let mut value = value.clone();
        if let Value::Object(map) = &mut value {
            map.remove("typed");
        }
        let entry = match kind {
            RigEntryKind::Inspected => RigEntry::Inspected(read(value)?),
            RigEntryKind::Cleaned => RigEntry::Cleaned(read(value)?),
            RigEntryKind::Fitted => RigEntry::Fitted(read(value)?),
            RigEntryKind::TipFlow => RigEntry::TipFlow(read(value)?),
            RigEntryKind::ShutStep => RigEntry::ShutStep(read(value)?),
            RigEntryKind::Cared => RigEntry::Cared(read(value)?),
            RigEntryKind::Note => RigEntry::Note(read(value)?),
            RigEntryKind::Strike => RigEntry::Strike(read(value)?),
        };
        let text = |t: &Option<String>| t.as_deref().map(|t| check_text("text", t, limits::TEXT_CHARS)).transpose();
        match &entry {
            RigEntry::Inspected(i) if !i.sound => {
                check_text("text", i.text.as_deref().unwrap_or(""), limits::TEXT_CHARS)?;
            }
            RigEntry::Inspected(i) => drop(text(&i.text.clone().filter(|t| !t.trim().is_empty()))?),
            RigEntry::Cleaned(s) => drop(text(&s.text.clone().filter(|t| !t.trim().is_empty()))?),
            RigEntry::Note(s) => {
                check_text("text", s.text.as_deref().unwrap_or(""), limits::TEXT_CHARS)?;
            }
            RigEntry::Fitted(f) => {
                limits::NOZZLE.check_optional("nozzle_mm", f.nozzle_mm, prefs)?;
                if f.nozzle_mm.is_none() && f.tip_code.as_deref().is_none_or(|c| c.trim().is_empty()) {
                    return Err(Refusal::bad_input("missing", "nozzle_mm", "Which nozzle or tip?"));
                }
            }
            RigEntry::TipFlow(f) => f.check(prefs)?,
            RigEntry::ShutStep(s) => {
                check_text("step", &s.step, limits::LABEL_CHARS)?;
                limits::GAUGE.check_optional("gauge_kpa", s.gauge_kpa, prefs)?;
            }
            RigEntry::Cared(c) => drop(check_text("item", &c.item, limits::LABEL_CHARS)?),
            RigEntry::Strike(s) => {
                check_text("reason", &s.reason, limits::TEXT_CHARS)?;
            }
        }
        Ok(entry)
    }

    /// Solvent went through it.
    fn flushes(&self) -> bool {
        match self {
            RigEntry::Cleaned(_) => true,
            RigEntry::ShutStep(s) => s.step == "flush",
            RigEntry::Cared(c) => c.item == "flushed_new",
            _ => false,
        }
    }

    /// It was the first flushing of a new rig.
    fn was_first_flush(&self) -> bool {
        match self {
            RigEntry::Cleaned(s) => s.was_new,
            RigEntry::ShutStep(s) => s.was_new,
            RigEntry::Cared(c) => c.was_new,
            _ => false,
        }
    }

    /// Whether it may be written of a rig that stands so.
    ///
    /// **Errors:** a stop for what opens it under pressure; a refusal naming the field.
    pub fn may(&self, stand: &Stand, tips: &[TipRow], prefs: Prefs) -> Result<(), Refusal> {
        match self {
            RigEntry::Fitted(f) => {
                if let Some(code) = f.tip_code.as_deref().filter(|c| !c.trim().is_empty()) {
                    decode(code, tips)?;
                }
                stand.may_open(prefs)
            }
            RigEntry::TipFlow(_) if !stand.rig.kind.is_tipped() => {
                let text = format!("A {} has no airless tip: its nozzle is measured.", stand.rig.kind.word());
                Err(Refusal::bad_input("no-such-place", "pot_kpa", text))
            }
            RigEntry::TipFlow(f) => may_press(stand.rig, "pot_kpa", f.pot_kpa, prefs),
            RigEntry::ShutStep(s) => stand.may_step(&s.step, s.gauge_kpa, prefs),
            RigEntry::Cared(c) => stand.may_care(&c.item, prefs),
            RigEntry::Inspected(_) | RigEntry::Cleaned(_) | RigEntry::Note(_) | RigEntry::Strike(_) => Ok(()),
        }
    }

    /// With what only the server knows: what it exchanges, the words of a step, what the transmitter reads.
    #[must_use]
    pub fn filled(mut self, stand: &Stand) -> RigEntry {
        let (rig, was_new) = (stand.rig, stand.rig.unflushed && self.flushes());
        match &mut self {
            RigEntry::Fitted(f) => {
                f.before = Some(FittedBefore { nozzle_mm: rig.nozzle_mm, tip_code: rig.tip_code.clone() });
            }
            RigEntry::Cleaned(s) => s.was_new = was_new,
            RigEntry::ShutStep(s) => {
                s.live_kpa = stand.live_kpa;
                s.word = care::step(rig, &s.step).map_or(String::new(), |x| x.word.into());
                s.was_new = was_new;
            }
            RigEntry::Cared(c) => {
                c.word = care::item(rig, &c.item).map_or(String::new(), |x| x.word.into());
                c.was_new = was_new;
            }
            RigEntry::Inspected(_) | RigEntry::TipFlow(_) | RigEntry::Note(_) | RigEntry::Strike(_) => {}
        }
        self
    }

    /// As it is stored.
    ///
    /// **Errors:** none that a checked entry can cause.
    pub fn payload(&self) -> Result<Value, serde_json::Error> {
        match self {
            RigEntry::Inspected(x) => serde_json::to_value(x),
            RigEntry::Cleaned(x) | RigEntry::Note(x) => serde_json::to_value(x),
            RigEntry::Fitted(x) => serde_json::to_value(x),
            RigEntry::TipFlow(x) => serde_json::to_value(x),
            RigEntry::ShutStep(x) => serde_json::to_value(x),
            RigEntry::Cared(x) => serde_json::to_value(x),
            RigEntry::Strike(x) => serde_json::to_value(x),
        }
    }

    /// The rig after it.
    pub fn apply(&self, mut rig: Rig) -> Rig {
        rig.unflushed &= !self.flushes();
        if let RigEntry::Fitted(f) = self {
            rig.nozzle_mm = f.nozzle_mm.or(rig.nozzle_mm);
            let code = f.tip_code.as_deref().map(str::trim).filter(|c| !c.is_empty()).map(String::from);
            rig.tip_code = code.or(rig.tip_code);
            // What is fitted now is no longer the piece it was put together with.
            rig.pieces.retain(|place, _| !matches!(place, PieceKind::Nozzle | PieceKind::Tip));
        }
        rig
    }

    /// The rig with this entry struck: what it exchanged is back, while it is what stands there still.
    pub fn undo(&self, mut rig: Rig) -> Rig {
        if let RigEntry::Fitted(Fitted { before: Some(before), .. }) = self
            && self.apply(rig.clone()) == rig
        {
            (rig.nozzle_mm, rig.tip_code) = (before.nozzle_mm, before.tip_code.clone());
        }
        rig.unflushed |= self.was_first_flush();
        rig
    }

    /// In words.
    pub fn words(&self, prefs: Prefs) -> String {
        let with = |t: &Option<String>| t.as_deref().filter(|t| !t.trim().is_empty()).map_or(String::new(), |t| format!(": {t}"));
        match self {
            RigEntry::Inspected(i) if i.sound => format!("Inspected, sound{}", with(&i.text)),
            RigEntry::Inspected(i) => format!("Inspected, not sound{}", with(&i.text)),
            RigEntry::Cleaned(s) => format!("Cleaned{}", with(&s.text)),
            RigEntry::Fitted(f) => {
                let nozzle = f.nozzle_mm.map(|mm| format!("nozzle {}", show(mm, Quantity::Length, prefs).text));
                let tip = f.tip_code.as_deref().filter(|c| !c.trim().is_empty()).map(|c| format!("tip {c}"));
                format!("Fitted {}", [nozzle, tip].into_iter().flatten().collect::<Vec<_>>().join(", "))
            }
            RigEntry::TipFlow(f) => format!(
                "The tip let through {} at {}",
                show(f.flow_ml_min(), Quantity::Flow, prefs).text,
                show(f.pot_kpa, Quantity::Pressure, prefs).text
            ),
            RigEntry::ShutStep(s) => {
                let gauge = s.gauge_kpa.map_or(String::new(), |kpa| format!(" ({})", show(kpa, Quantity::Pressure, prefs).text));
                format!("{}{gauge}", s.word)
            }
            RigEntry::Cared(c) => c.word.clone(),
            RigEntry::Note(s) => s.text.clone().unwrap_or_default(),
            RigEntry::Strike(s) => format!("Struck: {}", s.reason),
        }
    }
}
