//! What a document says, made fit for paper: instants in the time of the shop, and no character the typeface lacks.

use jiff::Timestamp;
use jiff::tz::TimeZone;
use serde_json::Value;
use std::sync::LazyLock;
use typst::foundations::Bytes;
use typst::text::Font;

/// What stands where the typeface has no sign. PDF/A takes no missing ones; the attached data keep what was written.
const LACKING: char = '?';

static WORDS: LazyLock<Option<Font>> = LazyLock::new(|| Font::new(Bytes::new(super::FONTS[0]), 0));

fn is_there(sign: char) -> bool {
    // A space of any width, and a line's end, is set and not drawn.
    sign.is_whitespace() || WORDS.as_ref().is_some_and(|font| font.info().coverage.contains(u32::from(sign)))
}

/// Changes every text of a document in place.
pub fn readable(value: &mut Value, zone: &TimeZone) {
    match value {
        Value::String(text) => {
            if let Some(at) = instant(text) {
                *text = at.to_zoned(zone.clone()).strftime("%Y-%m-%d %H:%M").to_string();
            } else if !text.chars().all(is_there) {
                *text = text.chars().map(|sign| if is_there(sign) { sign } else { LACKING }).collect();
            }
        }
        Value::Array(all) => all.iter_mut().for_each(|one| readable(one, zone)),
        Value::Object(map) => map.values_mut().for_each(|one| readable(one, zone)),
        Value::Null | Value::Bool(_) | Value::Number(_) => {}
    }
}

/// An instant as the wire writes it, and nothing that only begins like one.
fn instant(text: &str) -> Option<Timestamp> {
    let like_one = text.len() >= 20 && text.ends_with('Z') && text.as_bytes().get(10) == Some(&b'T');
    like_one.then(|| text.parse().ok()).flatten()
}
