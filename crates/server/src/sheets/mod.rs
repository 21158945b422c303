//! Product sheets with immutable versions.

pub mod carry;
pub mod table;

use crate::auth::Person;
use crate::problem::{Answer, Problem};
use crate::state::State;
use actix_web::{get, post, put, web};
use jiff::Timestamp;
use jiff_sqlx::ToSqlx;
use level_keel_core::component::Component;
use level_keel_core::people::{Duty, has_duty};
use level_keel_core::quantity::{Prefs, QuantityKind, Shown, form_texts, resolve, show, understood};
use level_keel_core::refusal::Refusal;
use level_keel_core::sheet_form::{AtWork, ProductKind, SheetKind, at_work, propose, sheet_kinds};
use level_keel_core::sheets::{Sheet, ThinnerBasis};
use level_keel_core::wire::read;
use level_keel_core::worded::Worded;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use sqlx::PgConnection;
use std::collections::BTreeMap;
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

/// A sheet with its version.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct SheetRow {
    pub id: Uuid,
    pub version: Uuid,
    pub edition: i32,
    pub sheet: Sheet,
    /// Every quantity, shown in the reader's units, by field.
    pub shown: BTreeMap<String, Shown>,
    /// Every quantity as its form shows it: as it was typed, where that reads back as the very figure for this reader.
    pub texts: BTreeMap<String, String>,
    pub ratio: String,
    /// The kind it reads as: what its page asks first.
    pub kind: ProductKind,
    pub written: Timestamp,
    pub written_by: String,
}

/// A sheet in the list of sheets.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct SheetLine {
    pub id: Uuid,
    pub version: Uuid,
    pub edition: i32,
    pub name: String,
    pub label: String,
    pub ratio: String,
    pub pot_life: Option<String>,
    pub induction: Option<String>,
    pub wet: String,
    /// What the columns are sorted by: parts of A to one of B, seconds, micrometres.
    pub sorts: SheetSorts,
    /// Most thinner, and what it is a per cent of.
    pub thinner: Option<String>,
    /// Coats of it that may stand one over the other.
    pub coats_most: Option<f64>,
    /// What comes in cans: what may be received of it.
    pub components: Vec<ComponentName>,
    pub shelf_life_days: Option<i32>,
    pub written: Timestamp,
    pub written_by: String,
}

/// The figures of a line, bare.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct SheetSorts {
    pub a_per_b: Option<f64>,
    pub pot_life_s: Option<f64>,
    pub induction_s: Option<f64>,
    pub wet_um: f64,
}

/// A component by its name in a sheet.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct ComponentName {
    pub component: Component,
    pub name: String,
}

impl SheetLine {
    fn of(row: SheetRow, prefs: Prefs) -> SheetLine {
        let sheet = row.sheet;
        let say = |v: f64, kind| show(v, kind, prefs).text;
        let time = |s: f64| say(s, QuantityKind::Time);
        let mut of = vec![Component::Base];
        of.extend(sheet.has_hardener.then_some(Component::Hardener));
        of.push(Component::Thinner);
        of.extend(Component::ADDITIVES.into_iter().take(sheet.additives.len()));
        let basis = sheet.thinner_basis.unwrap_or(ThinnerBasis::OfBase).word();
        SheetLine {
            pot_life: sheet.pot_life_s.map(|s| match sheet.pot_life_at_c {
                Some(c) => format!("{} at {}", time(s), say(c, QuantityKind::Temperature)),
                None => time(s),
            }),
            induction: sheet.induction_s.map(time),
            wet: say(sheet.wet_um, QuantityKind::Film),
            sorts: SheetSorts {
                a_per_b: sheet.hardener().map(|h| 1.0 / h.b_per_a),
                pot_life_s: sheet.pot_life_s,
                induction_s: sheet.induction_s,
                wet_um: sheet.wet_um,
            },
            thinner: sheet.thinner_max_pct.map(|pct| format!("{basis}, at most {}", say(pct, QuantityKind::Thinner))),
            coats_most: sheet.coats_most_count,
            components: of.into_iter().map(|c| ComponentName { component: c, name: sheet.component_name(c) }).collect(),
            shelf_life_days: sheet.shelf_life_days,
            id: row.id,
            version: row.version,
            edition: row.edition,
            name: sheet.name,
            label: sheet.label,
            ratio: row.ratio,
            written: row.written,
            written_by: row.written_by,
        }
    }
}

/// A sheet as typed: quantities as numbers in the unit of the field's name, or texts.
#[derive(Debug, Deserialize, ToSchema)]
pub struct TypedSheet {
    /// The edition the editor saw; not for a new sheet.
    #[serde(default)]
    pub seen_edition: Option<i32>,
    /// The form.
    #[schema(value_type = crate::openapi::SheetTyped)]
    pub sheet: Value,
}

/// What a typed sheet means.
#[derive(Debug, Serialize, ToSchema)]
pub struct Understood {
    /// Every quantity as understood.
    pub shown: BTreeMap<String, Shown>,
    /// What is wrong with it, by field; empty when it could be stored.
    pub refusals: Vec<Refusal>,
    /// The ratio in words.
    pub ratio: String,
    /// What it comes to so far.
    pub at_work: AtWork,
}

/// `?dry_run=true` parses and judges, and stores nothing.
#[derive(Debug, Deserialize, IntoParams)]
pub struct DryRun {
    /// Store nothing.
    #[serde(default)]
    pub dry_run: bool,
}

/// A sheet with the texts it was typed as.
pub struct Typed {
    /// The sheet.
    pub sheet: Sheet,
    /// What was typed, by path.
    pub texts: BTreeMap<String, String>,
}

/// Parses a typed sheet into a valid one.
pub fn parse(mut value: Value, prefs: Prefs) -> Result<Typed, Vec<Refusal>> {
    let texts = resolve(&mut value, prefs)?;
    propose(&mut value);
    let sheet = read::<Sheet>(value).and_then(|s| s.validate(prefs)).map_err(|r| vec![r])?;
    Ok(Typed { sheet, texts })
}

/// Newest version of every sheet.
#[utoipa::path(operation_id = "sheets_list", tag = "sheets", responses((status = 200, body = [SheetLine])))]
#[get("/sheets")]
pub async fn list(state: web::Data<State>, person: Person) -> Answer<Vec<SheetLine>> {
    let rows = newest_of_all(&state, person.prefs).await?;
    Ok(web::Json(rows.into_iter().map(|row| SheetLine::of(row, person.prefs)).collect()))
}

async fn newest_of_all(state: &State, prefs: Prefs) -> Result<Vec<SheetRow>, Problem> {
    let rows = sqlx::query!(
        r#"select distinct on (v.sheet_id) v.sheet_id, v.id, v.edition, v.body, v.typed, v.written as "written: jiff_sqlx::Timestamp", p.name as by
           from sheet_version v join person p on p.id = v.written_by order by v.sheet_id, v.edition desc"#
    )
    .fetch_all(&state.db)
    .await?;
    let mut all = rows
        .into_iter()
        .map(|r| row((r.sheet_id, r.id), r.edition, (r.body, r.typed), r.written.to_jiff(), r.by, prefs))
        .collect::<Result<Vec<_>, _>>()?;
    all.sort_by_key(|row| row.sheet.name.to_lowercase());
    Ok(all)
}

fn row(
    (id, version): (Uuid, Uuid),
    edition: i32,
    (body, typed): (Value, Value),
    written: Timestamp,
    by: String,
    prefs: Prefs,
) -> Result<SheetRow, Problem> {
    let shown = understood(&body, prefs);
    let typed: BTreeMap<String, String> = serde_json::from_value(typed)?;
    let texts = form_texts(&body, &typed, prefs);
    let sheet: Sheet = serde_json::from_value(body)?;
    Ok(SheetRow {
        id,
        version,
        edition,
        ratio: sheet.ratio_words(prefs),
        kind: ProductKind::of(&sheet),
        sheet,
        shown,
        texts,
        written,
        written_by: by,
    })
}

/// Every version of a sheet, newest first.
#[utoipa::path(tag = "sheets", responses((status = 200, body = [SheetRow]), (status = 404)))]
#[get("/sheets/{id}")]
pub async fn versions(state: web::Data<State>, person: Person, id: web::Path<Uuid>) -> Answer<Vec<SheetRow>> {
    let rows = sqlx::query!(
        r#"select v.sheet_id, v.id, v.edition, v.body, v.typed, v.written as "written: jiff_sqlx::Timestamp", p.name as by
           from sheet_version v join person p on p.id = v.written_by where v.sheet_id = $1 order by v.edition desc"#,
        *id
    )
    .fetch_all(&state.db)
    .await?;
    if rows.is_empty() {
        return Err(Problem::NotFound("sheet"));
    }
    let all =
        rows.into_iter().map(|r| row((r.sheet_id, r.id), r.edition, (r.body, r.typed), r.written.to_jiff(), r.by, person.prefs));
    Ok(web::Json(all.collect::<Result<_, _>>()?))
}

/// Reads a typed sheet while it is typed: what it means, what is wrong. Stores nothing.
#[utoipa::path(tag = "sheets", request_body = TypedSheet, responses((status = 200, body = Understood)))]
#[post("/sheets/understand")]
pub async fn understand(person: Person, body: web::Json<TypedSheet>) -> Answer<Understood> {
    let value = body.into_inner().sheet;
    let mut numbers = value.clone();
    // Fields that do parse are shown even while others do not yet.
    let _ = resolve(&mut numbers, person.prefs);
    propose(&mut numbers);
    let parsed = parse(value, person.prefs);
    let ratio = parsed.as_ref().map(|t| t.sheet.ratio_words(person.prefs)).unwrap_or_default();
    let at_work = at_work(&numbers, person.prefs);
    Ok(web::Json(Understood {
        shown: understood(&numbers, person.prefs),
        refusals: parsed.err().unwrap_or_default(),
        ratio,
        at_work,
    }))
}

/// Kinds of product: what a new sheet of each asks first.
#[utoipa::path(operation_id = "sheets_kinds", tag = "sheets", responses((status = 200, body = [SheetKind])))]
#[get("/sheets/kinds")]
pub async fn kinds(_person: Person) -> Answer<Vec<SheetKind>> {
    Ok(web::Json(sheet_kinds()))
}

/// Creates a sheet.
#[utoipa::path(operation_id = "sheets_create", tag = "sheets", request_body = TypedSheet, responses((status = 200, body = SheetRow), (status = 422), (status = 403)))]
#[post("/sheets")]
pub async fn create(state: web::Data<State>, person: Person, body: web::Json<TypedSheet>) -> Answer<SheetRow> {
    has_duty(person.role, Duty::Sheets)?;
    let typed = parse(body.into_inner().sheet, person.prefs)?;
    let now = state.clock.now();
    let mut tx = state.db.begin().await?;
    let id = Uuid::now_v7();
    sqlx::query!("insert into sheet (id, created) values ($1, $2)", id, now.to_sqlx() as _).execute(&mut *tx).await?;
    let version = write(&mut tx, id, 1, &typed, person.id, now).await?;
    tx.commit().await?;
    let stored = (serde_json::to_value(&typed.sheet)?, serde_json::to_value(&typed.texts)?);
    Ok(web::Json(row((id, version), 1, stored, now, person.name, person.prefs)?))
}

/// Edits a sheet: a new version. Batches begun keep the one they pinned.
#[utoipa::path(tag = "sheets", request_body = TypedSheet, responses((status = 200, body = SheetRow), (status = 409), (status = 422)))]
#[put("/sheets/{id}")]
pub async fn edit(state: web::Data<State>, person: Person, id: web::Path<Uuid>, body: web::Json<TypedSheet>) -> Answer<SheetRow> {
    has_duty(person.role, Duty::Sheets)?;
    let TypedSheet { seen_edition, sheet } = body.into_inner();
    let typed = parse(sheet, person.prefs)?;
    let now = state.clock.now();
    let mut tx = state.db.begin().await?;
    sqlx::query!("select id from sheet where id = $1 for update", *id)
        .fetch_optional(&mut *tx)
        .await?
        .ok_or(Problem::NotFound("sheet"))?;
    let newest =
        sqlx::query_scalar!("select max(edition) from sheet_version where sheet_id = $1", *id).fetch_one(&mut *tx).await?;
    let newest = newest.unwrap_or(0);
    if seen_edition != Some(newest) {
        return Err(Refusal::conflict("seen-older", "Someone edited this sheet since you opened it. Open it again.").into());
    }
    let last = sqlx::query!(
        r#"select v.id, v.body, v.typed, v.written as "written: jiff_sqlx::Timestamp", p.name as by
           from sheet_version v join person p on p.id = v.written_by where v.sheet_id = $1 and v.edition = $2"#,
        *id,
        newest
    )
    .fetch_one(&mut *tx)
    .await?;
    // Saved unchanged it is the version it was: no edition that says nothing.
    if serde_json::from_value::<Sheet>(last.body.clone())? == typed.sheet {
        let stored = (last.body, last.typed);
        return Ok(web::Json(row((*id, last.id), newest, stored, last.written.to_jiff(), last.by, person.prefs)?));
    }
    let version = write(&mut tx, *id, newest + 1, &typed, person.id, now).await?;
    tx.commit().await?;
    let stored = (serde_json::to_value(&typed.sheet)?, serde_json::to_value(&typed.texts)?);
    Ok(web::Json(row((*id, version), newest + 1, stored, now, person.name, person.prefs)?))
}

/// Writes a version.
pub async fn write(
    tx: &mut PgConnection,
    id: Uuid,
    edition: i32,
    typed: &Typed,
    by: Uuid,
    now: Timestamp,
) -> Result<Uuid, Problem> {
    let version = Uuid::now_v7();
    sqlx::query!(
        "insert into sheet_version (id, sheet_id, edition, name, body, written_by, written, typed) values ($1, $2, $3, $4, $5, $6, $7, $8)",
        version,
        id,
        edition,
        typed.sheet.name,
        serde_json::to_value(&typed.sheet)?,
        by,
        now.to_sqlx() as _,
        serde_json::to_value(&typed.texts)?,
    )
    .execute(tx)
    .await?;
    Ok(version)
}

/// The newest version of a sheet.
pub async fn newest(tx: &mut PgConnection, id: Uuid) -> Result<(Uuid, i32, Sheet), Problem> {
    let row = sqlx::query!("select id, edition, body from sheet_version where sheet_id = $1 order by edition desc limit 1", id)
        .fetch_optional(tx)
        .await?
        .ok_or_else(|| Refusal::bad_input("unknown-sheet", "sheet", "There is no such sheet."))?;
    Ok((row.id, row.edition, serde_json::from_value(row.body)?))
}
