//! Causes ranked by what speaks for and against each, and the observation that parts the two that lead.

use super::{Cause, LOOKS, Look, LookRow, Sign, SignFrom, Symptom, Weight, causes_of};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

/// What a record says of a sign.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[derive(strum::IntoStaticStr, strum::VariantArray)]
#[serde(rename_all = "snake_case")]
#[schema(as = EvidenceSide)]
pub enum Side {
    /// It is there.
    #[strum(serialize = "for")]
    For,
    /// It is not.
    #[strum(serialize = "against")]
    Against,
    /// Nobody recorded it, or what was recorded cannot tell.
    #[strum(serialize = "not recorded")]
    NotRecorded,
}

impl crate::worded::Worded for Side {}

/// A sign as a record answers it.
#[derive(Debug, Clone, PartialEq)]
pub struct Heard {
    /// Which.
    pub sign: Sign,
    /// What it says.
    pub side: Side,
    /// The figure, in words.
    pub text: String,
    /// The entry it stands in.
    pub entry: Option<Uuid>,
}

/// A look that somebody took.
#[derive(Debug, Clone, PartialEq)]
pub struct Answered {
    /// Which.
    pub look: Look,
    /// What was asked is so.
    pub yes: bool,
    /// What was seen, in words.
    pub text: String,
    /// The entry.
    pub entry: Uuid,
}

/// One piece of evidence.
#[derive(Debug, Clone, PartialEq)]
pub struct Evidence {
    /// Where it was read.
    pub from: SignFrom,
    /// What it says of the cause.
    pub side: Side,
    /// How much.
    pub weight: Weight,
    /// In words.
    pub text: String,
    /// The entry it stands in.
    pub entry: Option<Uuid>,
}

/// How far the evidence carries. It never says *certain*.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[derive(strum::IntoStaticStr, strum::VariantArray)]
#[serde(rename_all = "snake_case")]
pub enum Strength {
    /// A telling sign is there, and none against it.
    #[strum(serialize = "strong evidence")]
    Strong,
    /// More for than against.
    #[strum(serialize = "some evidence")]
    Some,
    /// Nothing speaks for it.
    #[strum(serialize = "nothing for it")]
    Open,
    /// More against than for.
    #[strum(serialize = "evidence against")]
    Against,
}

impl crate::worded::Worded for Strength {}

/// What the shop found before, for this symptom.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct Found {
    /// So often this cause …
    pub count: u32,
    /// … of so many that were settled.
    pub of: u32,
}

/// A cause with what speaks of it.
#[derive(Debug, Clone, PartialEq)]
pub struct Ranked {
    /// Which.
    pub cause: Cause,
    /// What speaks for it less what speaks against it.
    pub score: f64,
    /// What that carries.
    pub strength: Strength,
    /// Each piece, what says most first.
    pub evidence: Vec<Evidence>,
    /// What the shop found before, where that was weighed in.
    pub shop: Option<Found>,
}

/// From a score of this on a telling sign is there and nothing much against it.
pub const STRONG: f64 = 2.0;
/// Outcomes of one symptom from which on they are weighed in; from memory.
pub const LEAST_SETTLED: u32 = 5;
/// What the shop's own outcomes move a cause by, at the most: never as much as one telling sign.
const SHOP_MOST: f64 = 1.0;

fn of_signs(signs: &[(Sign, Weight)], heard: &[Heard]) -> Vec<Evidence> {
    let one = |(sign, weight): &(Sign, Weight)| {
        let heard = heard.iter().find(|h| h.sign == *sign)?;
        Some(Evidence { from: sign.from(), side: heard.side, weight: *weight, text: heard.text.clone(), entry: heard.entry })
    };
    signs.iter().filter_map(one).collect()
}

fn of_looks(cause: Cause, answered: &[Answered]) -> Vec<Evidence> {
    let one = |a: &Answered| {
        let row = LookRow::of(a.look);
        let side = match (row.yes.contains(&cause), row.no.contains(&cause), a.yes) {
            (true, _, true) => Side::For,
            (true, _, false) | (false, true, true) => Side::Against,
            (false, true, false) | (false, false, _) => return None,
        };
        let said = if a.text.is_empty() { String::new() } else { format!(" {}", a.text) };
        let text = format!("{} {}.{said}", row.question, if a.yes { "Yes" } else { "No" });
        Some(Evidence { from: SignFrom::Looked, side, weight: Weight::Fair, text, entry: Some(a.entry) })
    };
    answered.iter().filter_map(one).collect()
}

/// Looked at and not so speaks as loud against a cause as looked at and so speaks for it: somebody went and saw.
fn counts(e: &Evidence) -> f64 {
    match (e.side, e.from) {
        (Side::For, _) => e.weight.speaks_for(),
        (Side::Against, SignFrom::Looked) => -e.weight.speaks_for(),
        (Side::Against, _) => -e.weight.speaks_against(),
        (Side::NotRecorded, _) => 0.0,
    }
}

/// What the shop's own outcomes add to a cause.
///
/// **Formula:** `ln((n + 1) · k / (N + k))`, at the most one either way, from five outcomes on: n of N were this cause, k causes stand
/// in question. **Source:** a share with one added to each (Laplace); its bound is ours.
///
/// ```
/// use level_keel_core::diagnosis::{Cause, Symptom, rank};
/// let settled = [(Cause::WetAir, 6)];
/// let ranked = rank(Symptom::FishEyes, &[], &[], &settled);
/// assert_eq!(ranked[0].cause, Cause::WetAir);
/// assert!((ranked[0].score - (7.0_f64 * 3.0 / 9.0).ln()).abs() < 1e-12);
/// ```
fn by_the_shop(cause: Cause, settled: &[(Cause, u32)], causes: usize) -> (f64, Option<Found>) {
    let of: u32 = settled.iter().map(|(_, n)| n).sum();
    if of < LEAST_SETTLED {
        return (0.0, None);
    }
    let count = settled.iter().filter(|(c, _)| *c == cause).map(|(_, n)| n).sum();
    let k = causes as f64;
    let weight = ((f64::from(count) + 1.0) * k / (f64::from(of) + k)).ln();
    (weight.clamp(-SHOP_MOST, SHOP_MOST), Some(Found { count, of }))
}

/// Every cause of a symptom, the likeliest first.
///
/// **Rule:** what speaks for a cause less what speaks against it, by the weights of its row; what nobody recorded counts nothing. *Strong*
/// is said only where a telling sign is there, none telling is against it and the whole is two or more. **Source:** ours.
pub fn rank(symptom: Symptom, heard: &[Heard], answered: &[Answered], settled: &[(Cause, u32)]) -> Vec<Ranked> {
    let rows = causes_of(symptom);
    let mut all: Vec<Ranked> = rows
        .iter()
        .map(|row| {
            let mut evidence = of_signs(row.signs, heard);
            evidence.extend(of_looks(row.cause, answered));
            evidence.sort_by(|a, b| (a.side, b.weight).cmp(&(b.side, a.weight)));
            let recorded: f64 = evidence.iter().map(counts).sum();
            let telling = |side| evidence.iter().any(|e| e.side == side && e.weight == Weight::Telling);
            let strength = match () {
                () if telling(Side::For) && !telling(Side::Against) && recorded >= STRONG => Strength::Strong,
                () if recorded > 0.0 => Strength::Some,
                () if recorded < 0.0 => Strength::Against,
                () => Strength::Open,
            };
            let (shop_weight, shop) = by_the_shop(row.cause, settled, rows.len());
            Ranked { cause: row.cause, score: recorded + shop_weight, strength, evidence, shop }
        })
        .collect();
    // Of two that stand alike the trade's own order rules: the sort is stable.
    all.sort_by(|a, b| b.score.total_cmp(&a.score));
    all
}

/// The observation that parts the two causes that lead best; none once nothing that was not asked parts them.
pub fn next_look(symptom: Symptom, ranked: &[Ranked], answered: &[Answered]) -> Option<(&'static LookRow, [Cause; 2])> {
    let [first, second, ..] = ranked else { return None };
    let open = |row: &&LookRow| row.asks(symptom) && !answered.iter().any(|a| a.look == row.look);
    let parts = |row: &LookRow| row.parts(first.cause, second.cause);
    let best = LOOKS.iter().filter(open).map(parts).max().filter(|best| *best > 0)?;
    let row = LOOKS.iter().filter(open).find(|row| parts(row) == best)?;
    Some((row, [first.cause, second.cause]))
}
