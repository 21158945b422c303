//! The texture of a waterborne film as sprayed, compared with abrasive papers laid beside it.

/// Grits from here on level by themselves; coarser do not. Common practice in the trade.
const LEVELS_FROM: f64 = 100.0;
/// So long it is let lie before it is judged, where a sheet says nothing: it levels late. From memory.
pub const WAIT_S: f64 = 600.0;

/// What a texture says that looks like a paper of this grit, judged so long after it was sprayed.
///
/// **Rule:** coarse grits are too rough, the hundreds will level; a film looked at too early is looked at again. **Units:**
/// grit number, seconds. **Source:** common practice in the trade; the wait from memory.
///
/// ```
/// use level_keel_core::atomizing::texture::judge;
/// assert!(judge(60.0, Some(900.0)).contains("too rough"));
/// assert!(judge(150.0, Some(900.0)).contains("will level"));
/// assert!(judge(60.0, Some(60.0)).contains("Look again"));
/// ```
pub fn judge(grit: f64, after_s: Option<f64>) -> &'static str {
    match after_s {
        _ if grit >= LEVELS_FROM => "As a paper of the hundreds: it will level.",
        None => "Say how long after spraying it was looked at: a waterborne film levels late.",
        Some(s) if s < WAIT_S => "Look again in ten minutes: it levels late, and nothing is turned before.",
        Some(_) => "As a coarse paper, too rough: a little more air, less fluid, or a finer nozzle.",
    }
}
