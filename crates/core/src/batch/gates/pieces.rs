//! Pieces: every piece is done on every side, where the part is counted in pieces.

use super::{Act, Answer, Found, Gate, Judging, Looks, ON_HOLD, no_line, no_next, over};
use crate::batch::gates::GateName;

pub(super) const GATE: Gate = Gate {
    station: 5,
    acts: &[Act::Sign],
    judge: Looks::AtBatch(|j| vec![judge(j)]),
    combined_past: ON_HOLD,
    next: no_next,
    line: no_line,
};

/// Judged once every pot is closed: until then more may be done.
fn judge(j: &Judging<'_>) -> Answer {
    let Some(pieces) = j.case.aim().and_then(|aim| aim.pieces) else { return Answer::NotNeeded };
    if !over(j.case) {
        return Answer::NotReached(GateName::Pieces, "Pieces are counted while the work goes on.".into());
    }
    let left = |side: u32| pieces.piece_count - j.case.pieces_done(side);
    let short: Vec<String> = (1..=pieces.side_count as u32)
        .filter(|side| left(*side) > 0.0)
        .map(|side| format!("{} on side {side}", left(side)))
        .collect();
    if short.is_empty() {
        return Answer::Go;
    }
    let text = format!("Not every piece is done: {} of {}. Do them, or count them.", short.join(", "), pieces.piece_count);
    let badness = (1..=pieces.side_count as u32).map(left).sum();
    Found { badness, reached: false, ..Found::hold(GateName::Pieces, "not-all", text) }.answer(j.case, None)
}
