//! A list sorted by one of its columns, a page at a time: each page begins where the one before ended, so that the last page of a
//! hundred thousand rows comes as fast as the first.

use jiff::Timestamp;
use jiff::civil::Date;
use level_keel_core::refusal::Refusal;
use sqlx::{Postgres, QueryBuilder};
use uuid::Uuid;

/// A column a list may be sorted by.
#[derive(Debug, Clone, Copy)]
pub struct Column {
    /// Its name outside.
    pub name: &'static str,
    /// What it is in the statement; never nothing.
    pub sql: &'static str,
    /// The type its text is read back as.
    pub key: Key,
}

/// Types of a column, as their texts are read back.
#[derive(Debug, Clone, Copy)]
pub enum Key {
    /// Words.
    Text,
    /// A whole number.
    Whole,
    /// A measure.
    Float,
    /// A day, the last of all being `infinity`.
    Day,
    /// An instant.
    Instant,
}

impl Key {
    const fn sql(self) -> &'static str {
        match self {
            Self::Text => "text",
            Self::Whole => "bigint",
            Self::Float => "float8",
            Self::Day => "date",
            Self::Instant => "timestamptz",
        }
    }

    fn reads(self, text: &str) -> bool {
        match self {
            Self::Text => true,
            Self::Whole => text.parse::<i64>().is_ok(),
            Self::Float => text.parse::<f64>().is_ok_and(f64::is_finite),
            Self::Day => text == "infinity" || text.parse::<Date>().is_ok(),
            Self::Instant => text.replacen(' ', "T", 1).parse::<Timestamp>().is_ok(),
        }
    }
}

/// The column asked for, and from which end.
#[derive(Debug, Clone, Copy)]
pub struct Sort {
    column: Column,
    down: bool,
    /// The id of a row in the statement.
    id: &'static str,
}

/// `text` is a name with a minus before it where the list runs from the end; `refused` is said of a name that is none.
pub fn asked(text: &str, columns: &[Column], id: &'static str, refused: &str) -> Result<Sort, Refusal> {
    let text = text.trim();
    let (down, name) = text.strip_prefix('-').map_or((false, text), |name| (true, name));
    let found = columns.iter().find(|c| c.name == name);
    found.map(|c| Sort { column: *c, down, id }).ok_or_else(|| Refusal::bad_input("unknown-sort", "sort", refused))
}

impl Sort {
    /// What a row is sorted by, as text, to go on from.
    pub fn push_key(&self, q: &mut QueryBuilder<Postgres>) {
        q.push(self.column.sql).push("::text");
    }

    /// Only the rows after the page that ended at `after`; all of them where that is empty.
    pub fn push_after(&self, q: &mut QueryBuilder<Postgres>, after: &str) -> Result<(), Refusal> {
        if after.is_empty() {
            return Ok(());
        }
        let (key, id) = after.rsplit_once('~').ok_or_else(lost)?;
        let id = Uuid::parse_str(id).map_err(|_| lost())?;
        if !self.column.key.reads(key) {
            return Err(lost());
        }
        let way = if self.down { ") < (" } else { ") > (" };
        q.push(" and (").push(self.column.sql).push(", ").push(self.id).push(way);
        q.push_bind(key.to_string()).push("::").push(self.column.key.sql()).push(", ").push_bind(id).push(")");
        Ok(())
    }

    /// The order.
    pub fn push_order(&self, q: &mut QueryBuilder<Postgres>) {
        let way = if self.down { " desc" } else { "" };
        q.push(" order by ").push(self.column.sql).push(way).push(", ").push(self.id).push(way);
    }
}

/// An `after` that no page ended at.
pub fn lost() -> Refusal {
    Refusal::bad_input("not-understood", "after", "This is no page of the list.")
}

/// Where the page after a row begins.
pub fn next(key: &str, id: Uuid) -> String {
    format!("{key}~{id}")
}
