//! A short name for a product, where there is little room.

use crate::limits;

/// A short label proposed for a full name: whole words while they fit, and always the first number of the name, because
/// it alone tells one part from its neighbour.
///
/// ```
/// use level_keel_core::sheets::propose_label;
/// assert_eq!(propose_label("Channel-marker buoy 7 (north)"), "Channel-mark 7");
/// assert_eq!(propose_label("Lock gate north-west 12"), "Lock gate 12");
/// assert_eq!(propose_label("Flume 14"), "Flume 14");
/// ```
pub fn propose_label(name: &str) -> String {
    let words: Vec<&str> = name.split_whitespace().collect();
    let whole = fitting(&words, limits::LABEL_CHARS);
    // The number without the brackets that may stand about it.
    let number = words.iter().map(|w| w.trim_matches(|c: char| !c.is_alphanumeric()));
    let Some(number) = number.into_iter().find(|w| w.starts_with(|c: char| c.is_ascii_digit())) else { return whole };
    if whole.split(' ').any(|w| w.contains(number)) || number.chars().count() + 2 > limits::LABEL_CHARS {
        return whole;
    }
    let before = words.iter().take_while(|w| !w.contains(number)).copied().collect::<Vec<_>>();
    format!("{} {number}", fitting(&before, limits::LABEL_CHARS - number.chars().count() - 1)).trim().to_string()
}

/// Whole words while they fit; a first word that does not is cut.
fn fitting(words: &[&str], most: usize) -> String {
    let mut label = String::new();
    for word in words {
        let longer = if label.is_empty() { word.to_string() } else { format!("{label} {word}") };
        if longer.chars().count() > most {
            break;
        }
        label = longer;
    }
    if label.is_empty() { words.join(" ").chars().take(most).collect::<String>().trim_end().to_string() } else { label }
}
