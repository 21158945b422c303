//! Roles, who writes, and what each role may do outside the books of batches.

use crate::quantity::Prefs;
use crate::refusal::Refusal;
use crate::worded::Worded;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

/// What a person is in the shop.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize, ToSchema)]
#[derive(strum::IntoStaticStr, strum::VariantArray)]
#[serde(rename_all = "snake_case")]
pub enum Role {
    /// Does the work.
    #[strum(serialize = "applicator")]
    Applicator,
    /// Releases work.
    #[strum(serialize = "lead")]
    Lead,
    /// Measures and accepts.
    #[strum(serialize = "inspector")]
    Inspector,
    /// Answers for the records.
    #[strum(serialize = "owner")]
    Owner,
}

impl Worded for Role {}

/// Who writes.
#[derive(Debug, Clone, PartialEq)]
pub struct Writer {
    /// Id.
    pub id: Uuid,
    /// Role.
    pub role: Role,
    /// How they read numbers.
    pub prefs: Prefs,
    /// The shop is worked by one person: nobody else could accept their work.
    pub works_alone: bool,
}

/// What a person may do outside the books.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Duty {
    /// Create and edit sheets and instruments.
    Sheets,
    /// People, settings, exports of everything.
    House,
}

/// How far a permission reaches.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum May {
    /// Always.
    Yes,
    /// Only on a batch they worked on.
    OwnBatch,
    /// Only where they did not do the work alone, unless the shop is worked by one person.
    NotAlone,
    /// Only an entry of their own.
    OwnEntry,
    /// Never.
    No,
}

/// Whether a role has a duty outside the books.
pub fn has_duty(role: Role, duty: Duty) -> Result<(), Refusal> {
    let ok = match duty {
        Duty::Sheets => matches!(role, Role::Lead | Role::Owner),
        Duty::House => role == Role::Owner,
    };
    let whose = match duty {
        Duty::Sheets => "a lead or the owner",
        Duty::House => "the owner",
    };
    if ok { Ok(()) } else { Err(Refusal::forbidden("not-your-role", format!("Only {whose} may do this. Ask them to."))) }
}

/// Digits of a PIN at the least, where a shop has not said otherwise.
pub const PIN_DIGITS: usize = 6;
/// And at the least that a shop may say.
pub const PIN_DIGITS_LEAST: usize = 4;
/// Digits at the most.
const PIN_DIGITS_MOST: usize = 12;

/// A PIN: so many digits or more, and none of those that are tried first: all the same, up or down by one, a few digits over and over. **Source:** common practice.
///
/// ```
/// use level_keel_core::people::check_pin;
/// assert!(check_pin("583017", 6).is_ok() && check_pin("5830", 4).is_ok());
/// for first_tried in ["5830", "111111", "123456", "987654", "890123", "121212", "483483"] {
///     assert!(check_pin(first_tried, 6).is_err());
/// }
/// ```
pub fn check_pin(pin: &str, least: usize) -> Result<(), Refusal> {
    let least = least.clamp(PIN_DIGITS_LEAST, PIN_DIGITS_MOST);
    let weak = |text: String| Err(Refusal::bad_input("weak-pin", "pin", text));
    if !pin.bytes().all(|b| b.is_ascii_digit()) || !(least..=PIN_DIGITS_MOST).contains(&pin.len()) {
        return weak(format!("A PIN is {least} to {PIN_DIGITS_MOST} digits."));
    }
    if is_tried_first(pin.as_bytes()) {
        return weak("This PIN is among the first that are tried: no runs, and no digits over and over.".into());
    }
    Ok(())
}

fn is_tried_first(pin: &[u8]) -> bool {
    // 9 is followed by 0, and the other way round.
    let by = |step: u8| pin.windows(2).all(|w| (w[1] + 10 - w[0]) % 10 == step);
    let over_and_over = (1..=pin.len() / 2).any(|n| pin.iter().zip(&pin[n..]).all(|(a, b)| a == b));
    by(1) || by(9) || over_and_over
}

/// Wrong tries of one name before it is locked.
pub const TRIES: i32 = 5;
/// Wrong tries from one address before it is locked: a shop's tablets may share one.
pub const ADDRESS_TRIES: i32 = 20;
/// Seconds tries are counted together.
pub const TRIES_WITHIN_S: i64 = 60;
/// Locks after which they grow no longer.
const LONGEST_LOCK: i32 = 4;

/// How long a lock holds, by how many there were before it within a day: a minute, then twice as long each time, up to sixteen.
/// **Source:** common practice.
///
/// ```
/// use level_keel_core::people::lock_s;
/// assert_eq!([0, 1, 2, 3, 4, 50].map(lock_s), [60, 120, 240, 480, 960, 960]);
/// ```
pub fn lock_s(before: i32) -> i64 {
    60 << before.clamp(0, LONGEST_LOCK)
}
