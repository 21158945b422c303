//! What the variants of an enum are called on screens, on the card and in the log.

pub use strum::VariantArray;

/// Each variant has a word of the trade: it stands beside the variant as `#[strum(serialize = "…")]`.
///
/// ```
/// use level_keel_core::{mixing::Component, worded::Worded};
/// assert_eq!(Component::Hardener.word(), "hardener");
/// ```
pub trait Worded: Into<&'static str> {
    /// The word; not the name on the wire.
    fn word(self) -> &'static str {
        self.into()
    }
}

/// A word as a sentence begins with it.
///
/// ```
/// assert_eq!(level_keel_core::worded::capital("sprayed"), "Sprayed");
/// ```
pub fn capital(word: &str) -> String {
    let mut letters = word.chars();
    letters.next().map_or(String::new(), |first| first.to_uppercase().chain(letters).collect())
}
