//! A proof of the ratio from an old paper card, typed in: it stands in the book of the rig it was caught with.

use crate::limits::{self, check_text};
use crate::mixing::said;
use crate::quantity::Prefs;
use crate::ratio_check::{LedgerFigure, LedgerProof, ProofKind, b_per_a_of};
use crate::refusal::Refusal;
use crate::sheets::Sheet;
use crate::verdict::Verdict;
use jiff::Timestamp;
use jiff::civil::Date;
use jiff::tz::TimeZone;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

/// Two catches as an old card has them.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct PaperProof {
    /// The product, by its sheet.
    pub sheet: Uuid,
    /// When it was caught.
    pub proved_at: Timestamp,
    /// Who caught it, as the card says.
    #[serde(default)]
    pub caught_by: Option<String>,
    /// A.
    pub a_g: f64,
    /// B.
    pub b_g: f64,
    /// Resolution of the scale it was weighed on.
    pub resolution_g: f64,
    /// Pressure on A.
    #[serde(default)]
    pub a_kpa: Option<f64>,
    /// Pressure on B.
    #[serde(default)]
    pub b_kpa: Option<f64>,
    /// The machine's catalyst setting.
    #[serde(default)]
    pub setting_count: Option<f64>,
    /// Temperature of the material.
    #[serde(default)]
    pub temp_c: Option<f64>,
    /// How long both ran.
    #[serde(default)]
    pub caught_watch_s: Option<f64>,
    /// Lot of A.
    #[serde(default)]
    pub lot_a: Option<String>,
    /// Lot of B.
    #[serde(default)]
    pub lot_b: Option<String>,
    /// Its ratio by the sheet of today; the server fills it in.
    #[serde(default)]
    #[schema(read_only)]
    pub figure: Option<LedgerFigure>,
}

impl PaperProof {
    /// Every figure inside the limits of sense, every text readable.
    ///
    /// **Errors:** a refusal naming the field.
    pub fn check(&self, prefs: Prefs) -> Result<(), Refusal> {
        limits::SCALE_RESOLUTION.check("resolution_g", self.resolution_g, prefs)?;
        for (field, g) in [("a_g", self.a_g), ("b_g", self.b_g)] {
            limits::STOCK.check(field, g, prefs)?;
            if g < self.resolution_g {
                return Err(Refusal::bad_input("nothing-caught", field, "This catch is empty on this scale."));
            }
        }
        limits::POT_PRESSURE.check_optional("a_kpa", self.a_kpa, prefs)?;
        limits::POT_PRESSURE.check_optional("b_kpa", self.b_kpa, prefs)?;
        limits::SETTING.check_optional("setting_count", self.setting_count, prefs)?;
        limits::TEMPERATURE.check_optional("temp_c", self.temp_c, prefs)?;
        limits::CATCH_TIME.check_optional("caught_watch_s", self.caught_watch_s, prefs)?;
        for (field, text) in [("caught_by", &self.caught_by), ("lot_a", &self.lot_a), ("lot_b", &self.lot_b)] {
            text.as_deref().filter(|t| !t.trim().is_empty()).map(|t| check_text(field, t, limits::NAME_CHARS)).transpose()?;
        }
        Ok(())
    }

    /// It is not of tomorrow, and not older than its rig.
    ///
    /// `since`: when the rig was first used, where that is written; else it counts from its first entry, `first`.
    /// **Errors:** a refusal at `proved_at`.
    pub fn dated(&self, since: Option<Date>, first: Timestamp, now: Timestamp, zone: &TimeZone) -> Result<(), Refusal> {
        if self.proved_at > now {
            return Err(Refusal::bad_input("not-yet", "proved_at", "This is not caught yet: its time is still to come."));
        }
        let day = self.proved_at.to_zoned(zone.clone()).date();
        match since {
            Some(since) if day < since => {
                let text = format!(
                    "It was caught on {day}, and this rig is in use since {since}. It is a proof of another rig, or the day is a slip."
                );
                Err(Refusal::bad_input("before-its-rig", "proved_at", text))
            }
            None if self.proved_at < first => {
                let first = first.to_zoned(zone.clone()).date();
                let text = format!(
                    "It was caught on {day}, and this rig stands here since {first}. Say with the rig since when it is in use, then type the card in."
                );
                Err(Refusal::bad_input("before-its-rig", "proved_at", text))
            }
            Some(_) | None => Ok(()),
        }
    }

    /// With its ratio by a sheet.
    #[must_use]
    pub fn by(mut self, sheet: &Sheet) -> PaperProof {
        let ratio = b_per_a_of(self.a_g, self.b_g, self.resolution_g).and_then(|b_per_a| said(sheet, b_per_a));
        self.figure = ratio.and_then(LedgerFigure::of);
        self
    }

    /// As the ledger keeps it.
    pub fn proof(&self, entry: Uuid, typed_by: &str) -> LedgerProof {
        let text = |t: &Option<String>| t.as_deref().map(str::trim).filter(|t| !t.is_empty()).map(String::from);
        LedgerProof {
            entry,
            kind: ProofKind::TwoCatches,
            at: self.proved_at,
            by: text(&self.caught_by).unwrap_or_else(|| typed_by.to_string()),
            number: None,
            lot_a: text(&self.lot_a),
            lot_b: text(&self.lot_b),
            a_kpa: self.a_kpa,
            b_kpa: self.b_kpa,
            setting_count: self.setting_count,
            temp_c: self.temp_c,
            instrument: None,
            resolution_g: Some(self.resolution_g),
            a_g: Some(self.a_g),
            b_g: Some(self.b_g),
            caught_watch_s: self.caught_watch_s,
            figure: self.figure,
            verdict: self.figure.map_or(Verdict::CannotTell, |f| f.tolerance().judge(f.measured())),
            sprayed_kg: None,
            bond: None,
            two_scales: false,
        }
    }
}

/// The control limits of a product on this rig are taken anew from its last eight catches.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct LimitsRenewed {
    /// The product, by its sheet.
    pub sheet: Uuid,
    /// Why.
    pub reason: String,
}
