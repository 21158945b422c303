//! A book that the database keeps: the row its log decides, and what an entry is judged with beside it.

use super::{Cache, Writing};
use crate::problem::Problem;
use crate::state::State;
use level_keel_core::book::Ledger;
use serde_json::{Map, Value};
use sqlx::PgConnection;
use std::future::Future;
use uuid::Uuid;

/// Values of a row, by column.
pub type Columns = Map<String, Value>;

/// What the database needs to know of one sort of book, over and above what core says of it. The functions that write and read
/// are the same for all.
pub trait Kept: Ledger<Kind: Send + Sync, Said: Send + Sync, Beside: Send + Sync> + Send + Sync + 'static {
    /// The table that has a row for each book.
    const TABLE: &'static str;

    /// The row and the book are made by the first entry itself; else the row stands before anything is written of it.
    const BEGINS_ITSELF: bool = false;

    /// Where folded books of this sort are kept.
    fn cache(state: &State) -> &Cache<Self>;

    /// Locks the row a book hangs on, where it stands before the book.
    fn lock(tx: &mut PgConnection, book: Uuid) -> impl Future<Output = Result<(), Problem>> + Send;

    /// Adds to a payload what only the server knows, and reads what the entry is judged with beside the book.
    fn prepare(
        &self,
        w: &Writing<'_>,
        tx: &mut PgConnection,
        book: Uuid,
        kind: Self::Kind,
        payload: &mut Value,
    ) -> impl Future<Output = Result<Self::Beside, Problem>> + Send;

    /// What the log decides of the row; `None`: nothing yet.
    fn columns(&self) -> Result<Option<Columns>, Problem>;

    /// Keeps the small tables that hang on the row. `before` is the book without its last entry; `None`: all is made anew.
    fn derive(
        &self,
        tx: &mut PgConnection,
        book: Uuid,
        before: Option<&Self>,
    ) -> impl Future<Output = Result<(), Problem>> + Send;

    /// What of those small tables does not say what the log says, in words.
    fn underived(&self, db: &mut PgConnection, book: Uuid) -> impl Future<Output = Result<Vec<String>, Problem>> + Send;
}
