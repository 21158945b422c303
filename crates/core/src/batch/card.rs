//! The batch card: what is printed, signed and stored. It carries the head hash and the version of core.

use super::document::{CardDocument, document};
use super::log::LogLine;
use super::record::{Deviation, Record, Signature};
use super::view::BatchView;
use crate::CORE_VERSION;
use crate::schedule::{RecoatWindow, window_of};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

/// The card of a batch. Stored as it was when the work was accepted.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct Card {
    pub batch: Uuid,
    pub core_version: String,
    pub head_seq: i64,
    pub head_hash: String,
    /// Everything as it is shown: levels, pours, passes, films.
    pub view: BatchView,
    pub deviations: Vec<Deviation>,
    pub signed: Option<Signature>,
    pub accepted: Option<Signature>,
    /// When the next coat may go on.
    pub recoat: Option<RecoatWindow>,
    /// The same as an open document, in base units.
    #[serde(default)]
    pub document: Option<CardDocument>,
    /// The whole log, oldest first, struck lines included.
    pub log: Vec<LogLine>,
}

/// Makes the card of a record.
pub fn card(record: &Record, view: BatchView) -> Card {
    let mut log = view.log.clone();
    log.reverse();
    Card {
        batch: view.id,
        core_version: CORE_VERSION.into(),
        head_seq: record.head_seq,
        head_hash: record.head_hash.clone(),
        deviations: view.close.deviations.clone(),
        signed: record.signature.clone(),
        accepted: record.acceptance.clone(),
        recoat: window_of(record),
        document: document(view.id, record),
        log,
        view,
    }
}
