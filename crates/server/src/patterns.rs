//! What is typed, as a pattern of the database.

/// A pattern that finds a word anywhere; the signs of patterns are taken as they are.
pub fn anywhere(word: &str) -> String {
    let plain = word.trim().replace('\\', "\\\\").replace('%', "\\%").replace('_', "\\_");
    format!("%{plain}%")
}
