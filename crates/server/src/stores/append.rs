//! One entry in the book of a lot, one transaction.

use super::lot::{load, project};
use super::places::{clash, ensure_place};
use super::{column, files};
use crate::auth::Person;
use crate::books::NewEntry;
use crate::books::chain::{Link, id_taken, open_book, request_hash, stored_before};
use crate::parts::ensure_lot;
use crate::problem::Problem;
use crate::sheets::newest;
use crate::state::State;
use level_keel_core::canonical::cut;
use level_keel_core::limits::{check_name, check_text};
use level_keel_core::mixing::Component;
use level_keel_core::pot_life::after;
use level_keel_core::quantity::{Shown, resolve, understood};
use level_keel_core::refusal::Refusal;
use level_keel_core::stores::check::{Around, CODE_CHARS, check};
use level_keel_core::stores::{LotEntry, LotKind, StoreClass, fold};
use level_keel_core::wire::read;
use serde::{Deserialize, Serialize};
use serde_json::{Value, json};
use sqlx::PgConnection;
use std::collections::BTreeMap;
use utoipa::ToSchema;
use uuid::Uuid;

/// What came of an entry in the stores.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct Stored {
    /// The lot.
    pub lot: Uuid,
    /// Stored; false for a dry run.
    pub stored: bool,
    /// It was stored before, by the same id and content.
    pub repeated: bool,
    /// Every quantity as understood, by field.
    pub understood: BTreeMap<String, Shown>,
    /// What is wrong with it (dry run only; else an error).
    pub refusals: Vec<Refusal>,
}

/// What names a lot that comes in.
#[derive(Debug, Deserialize)]
struct Coming {
    code: String,
    sheet: Uuid,
    component: Component,
}

/// Who writes.
pub struct Keeping<'a> {
    /// The server.
    pub state: &'a State,
    /// Who.
    pub person: &'a Person,
    /// Store nothing.
    pub dry_run: bool,
}

impl Keeping<'_> {
    /// A lot comes in: its row and book are made when they are new.
    pub async fn receive(&self, new: NewEntry) -> Result<Stored, Problem> {
        let mut tx = self.state.db.begin().await?;
        let result = self.receive_in(&mut tx, new).await;
        self.end(tx, result).await
    }

    async fn receive_in(&self, tx: &mut PgConnection, mut new: NewEntry) -> Result<Stored, Problem> {
        if let Value::Object(map) = &mut new.payload {
            let blank: Vec<String> =
                map.iter().filter(|(_, v)| v.as_str().is_some_and(|t| t.trim().is_empty())).map(|(k, _)| k.clone()).collect();
            blank.iter().for_each(|key| drop(map.remove(key)));
        }
        // Only what names the lot is read here; the whole is judged with the rest.
        let part: Value = ["code", "sheet", "component"]
            .iter()
            .filter_map(|k| Some(((*k).to_string(), new.payload.get(*k)?.clone())))
            .collect::<serde_json::Map<_, _>>()
            .into();
        let coming: Coming = read(part)?;
        let code = check_text("code", &coming.code, CODE_CHARS)?;
        let (_, _, sheet) = newest(tx, coming.sheet).await?;
        if coming.component == Component::Hardener && !sheet.has_hardener {
            return Err(Refusal::bad_input("no-hardener", "component", "This product has no second component.").into());
        }
        let lot = ensure_lot(tx, coming.sheet, &column(coming.component), &code, self.state.clock.now()).await?;
        let class = StoreClass::of(&sheet, coming.component);
        sqlx::query!("update lot set class = $2 where id = $1", lot, class.name()).execute(&mut *tx).await?;
        if let Value::Object(map) = &mut new.payload {
            map.insert("product".into(), json!(sheet.name));
            if map.get("shelf_life_days").is_none_or(Value::is_null) {
                map.insert("shelf_life_days".into(), json!(sheet.shelf_life_days));
            }
        }
        self.append_in(tx, lot, new).await
    }

    /// Any other entry in the book of a lot.
    pub async fn append(&self, lot: Uuid, new: NewEntry) -> Result<Stored, Problem> {
        let mut tx = self.state.db.begin().await?;
        let result = self.append_in(&mut tx, lot, new).await;
        self.end(tx, result).await
    }

    async fn end(&self, tx: sqlx::Transaction<'_, sqlx::Postgres>, result: Result<Stored, Problem>) -> Result<Stored, Problem> {
        let refusals = match result {
            Ok(stored) if stored.stored && !stored.repeated => {
                tx.commit().await?;
                return Ok(stored);
            }
            Err(Problem::Refused(r)) if self.dry_run => vec![r],
            Err(Problem::Fields(all)) if self.dry_run => all,
            other => {
                tx.rollback().await?;
                return other;
            }
        };
        tx.rollback().await?;
        Ok(Stored { lot: Uuid::nil(), stored: false, repeated: false, understood: BTreeMap::new(), refusals })
    }

    async fn append_in(&self, tx: &mut PgConnection, lot: Uuid, new: NewEntry) -> Result<Stored, Problem> {
        let row = sqlx::query!("select class from lot where id = $1 for no key update", lot).fetch_optional(&mut *tx).await?;
        let class = StoreClass::from_name(&row.ok_or(Problem::NotFound("lot"))?.class);
        let now = self.state.clock.now();
        open_book(tx, lot, "lot", now).await?;
        let request = request_hash(&new.kind, &new.payload);
        if stored_before(tx, lot, new.id, &request).await?.is_some() {
            return Ok(Stored { lot, stored: true, repeated: true, understood: BTreeMap::new(), refusals: Vec::new() });
        }
        let kind = LotKind::from_name(&new.kind)
            .ok_or_else(|| Refusal::bad_input("unknown-kind", "kind", "There is no such kind of entry."))?;
        if !new.ago_s.is_finite() {
            return Err(Refusal::bad_input("not-understood", "ago_s", "Seconds ago must be a number.").into());
        }
        let mut payload = new.payload;
        let typed = resolve(&mut payload, self.person.prefs)?;
        let place = self.place(tx, kind, &mut payload).await?;
        if let Some(sha) = payload.pointer("/paper/sha256").and_then(Value::as_str) {
            files::must_be_here(tx, sha, &files::PAPERS).await?;
        }
        if let (Value::Object(map), false) = (&mut payload, typed.is_empty()) {
            map.insert("typed".into(), serde_json::to_value(&typed)?);
        }
        let mut entries = load(tx, lot).await?;
        let before = fold(&entries);
        let clash = match place {
            Some(place) => clash(tx, place, lot, class).await?,
            None => None,
        };
        let around = Around { class: Some(class), clash, today: self.state.shop_day() };
        let happened = cut(after(now, -new.ago_s));
        let mut entry = LotEntry {
            id: new.id,
            seq: before.head_seq + 1,
            kind,
            version: kind.version(),
            payload,
            who: self.person.id,
            by: self.person.name.clone(),
            happened,
            hash: String::new(),
        };
        check(&before, &entry, &self.person.writer(), &around, now)?;
        let understood = understood(&entry.payload, self.person.prefs);
        if self.dry_run {
            return Ok(Stored { lot, stored: false, repeated: false, understood, refusals: Vec::new() });
        }
        let payload = entry.payload.clone();
        let link = Link {
            book: lot,
            seq: entry.seq,
            id: entry.id,
            kind: kind.name(),
            version: entry.version,
            payload: &payload,
            who: entry.who,
            happened,
            arrived: cut(now),
            request: &request,
            previous: &before.head_hash,
        };
        let forged = link.forge();
        entry.hash.clone_from(&forged.hash);
        entries.push(entry);
        project(tx, lot, &fold(&entries)).await?;
        if !link.store(tx, &forged).await? {
            return Err(id_taken().into());
        }
        Ok(Stored { lot, stored: true, repeated: false, understood, refusals: Vec::new() })
    }

    async fn place_by_id(&self, tx: &mut PgConnection, named: &Value) -> Result<(Uuid, String), Problem> {
        let unknown = || Refusal::bad_input("unknown-place", "place", "There is no such place. Send its name.");
        let id = named.get("id").and_then(Value::as_str).and_then(|t| Uuid::parse_str(t).ok()).ok_or_else(unknown)?;
        let row = sqlx::query!("select id, name from place where id = $1", id).fetch_optional(tx).await?.ok_or_else(unknown)?;
        Ok((row.id, row.name))
    }

    /// A place is sent by its name; it becomes a row at once, and both are kept.
    async fn place(&self, tx: &mut PgConnection, kind: LotKind, payload: &mut Value) -> Result<Option<Uuid>, Problem> {
        if !matches!(kind, LotKind::Received | LotKind::Moved) {
            return Ok(None);
        }
        let named = match payload.get("place") {
            None | Some(Value::Null) => None,
            Some(Value::String(name)) if name.trim().is_empty() => None,
            Some(Value::String(name)) => {
                // The same place however many blanks are typed in its name.
                let name = name.split_whitespace().collect::<Vec<_>>().join(" ");
                Some(ensure_place(tx, &check_name("place", &name)?, self.state.clock.now()).await?)
            }
            // Named by its row, it is that row and no other.
            Some(other) => Some(self.place_by_id(tx, other).await?),
        };
        let Some((id, name)) = named else {
            return match kind {
                LotKind::Moved => Err(Refusal::bad_input("missing", "place", "Where to?").into()),
                LotKind::Received
                | LotKind::Counted
                | LotKind::Quarantined
                | LotKind::Freed
                | LotKind::Damaged
                | LotKind::Certified
                | LotKind::Note
                | LotKind::Strike => Ok(None),
            };
        };
        payload["place"] = json!({ "id": id, "name": name });
        Ok(Some(id))
    }
}
