//! Pieces: kept once, fitted to rigs. A changed piece changes every rig it is fitted to, or none.

use super::{as_given, texts};
use crate::atomizing::table;
use crate::auth::Person;
use crate::books::Writing;
use crate::export::Table;
use crate::problem::{Answer, Problem};
use crate::state::State;
use actix_web::{HttpResponse, get, post, put, web};
use jiff_sqlx::ToSqlx;
use level_keel_core::atomizing::classes::GunClass;
use level_keel_core::atomizing::ladder::LadderSchool;
use level_keel_core::people::{Duty, has_duty};
use level_keel_core::quantity::Prefs;
use level_keel_core::refusal::Refusal;
use level_keel_core::rig_book::Changed;
use level_keel_core::rigs::pieces::{AskedAs, Asks, Piece, PieceKind, assemble};
use level_keel_core::rigs::{Rig, RigKind};
use level_keel_core::wire::read;
use level_keel_core::worded::VariantArray;
use level_keel_core::worded::Worded;
use serde::{Deserialize, Serialize};
use serde_json::{Value, json};
use sqlx::PgConnection;
use std::collections::BTreeMap;
use utoipa::ToSchema;
use uuid::Uuid;

/// A piece as it is listed.
#[derive(Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct PieceView {
    pub id: Uuid,
    pub piece: Piece,
    /// Each quantity as a text to edit, by field.
    pub texts: BTreeMap<String, String>,
    /// Its figures in words.
    pub facts: String,
    /// Rigs it is fitted to.
    pub rigs: Vec<String>,
    pub retired: bool,
}

/// A piece as typed.
#[derive(Debug, Deserialize, ToSchema)]
pub struct TypedPiece {
    /// Made by the browser, for a new one.
    #[serde(default)]
    pub id: Option<Uuid>,
    /// `kind`, `name`, and its figures beside them; quantities as numbers or texts.
    #[schema(value_type = crate::openapi::PieceForm)]
    pub piece: Value,
    /// Not used any more.
    #[serde(default)]
    pub retired: bool,
}

/// What a form asks for: the places of each kind of rig, the figures of each kind of piece.
#[derive(Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct RigForms {
    pub rigs: Vec<RigPlaces>,
    pub pieces: Vec<PieceAsks>,
}

/// The places of a kind of rig.
#[derive(Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct RigPlaces {
    pub kind: RigKind,
    pub word: String,
    pub places: Vec<PieceKind>,
}

/// The figures of a kind of piece.
#[derive(Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct PieceAsks {
    pub kind: PieceKind,
    pub word: String,
    pub asks: Vec<Asks>,
}

/// What the forms of rigs and pieces ask for.
#[utoipa::path(operation_id = "rigs_places", tag = "rigs", responses((status = 200, body = RigForms)))]
#[get("/rig-places")]
pub async fn places(_person: Person) -> Answer<RigForms> {
    let rig = |kind: RigKind| RigPlaces { kind, word: kind.word().into(), places: kind.pieces() };
    let piece = |kind: PieceKind| PieceAsks { kind, word: kind.word().into(), asks: kind.asks() };
    Ok(web::Json(RigForms {
        rigs: RigKind::VARIANTS.iter().copied().map(rig).collect(),
        pieces: PieceKind::ALONG_THE_LINE.into_iter().map(piece).collect(),
    }))
}

fn facts(piece: &Piece, texts: &BTreeMap<String, String>) -> String {
    let one = |a: &Asks| match piece.figures.get(a.field)? {
        Value::Bool(true) => Some(a.label.to_lowercase()),
        Value::Bool(false) | Value::Null => None,
        v => {
            let word = match a.as_a {
                AskedAs::Class => read::<GunClass>(v.clone()).ok().map(|c| c.word().to_string()),
                AskedAs::Ladder => read::<LadderSchool>(v.clone()).ok().map(|l| l.word().to_string()),
                _ => texts.get(a.field).cloned().or(v.as_str().map(String::from)),
            };
            word.filter(|w| !w.is_empty()).map(|w| format!("{}{w}", a.said))
        }
    };
    piece.kind.asks().iter().filter_map(one).collect::<Vec<_>>().join(", ")
}

/// The pieces of the shop, by kind and name.
#[utoipa::path(operation_id = "pieces_list", tag = "rigs", responses((status = 200, body = [PieceView])))]
#[get("/pieces")]
pub async fn list(state: web::Data<State>, person: Person) -> Answer<Vec<PieceView>> {
    Ok(web::Json(all(&state, person.prefs).await?))
}

async fn all(state: &State, prefs: Prefs) -> Result<Vec<PieceView>, Problem> {
    let rows = sqlx::query!(
        r#"select p.id, p.kind, p.name, p.figures, p.retired,
             (select coalesce(array_agg(r.name order by r.name), '{}') from rig r where r.body -> 'pieces' ->> p.kind = p.id::text) as "rigs!"
           from piece p order by p.retired, p.kind, lower(p.name)"#
    )
    .fetch_all(&state.db)
    .await?;
    rows.into_iter()
        .map(|r| {
            let piece: Piece = read(json!({ "kind": r.kind, "name": r.name, "figures": r.figures }))?;
            let texts = texts(&Value::Object(piece.figures.clone()), prefs);
            Ok(PieceView { id: r.id, facts: facts(&piece, &texts), texts, piece, rigs: r.rigs, retired: r.retired })
        })
        .collect()
}

/// Reads a piece as typed: its figures lie beside kind and name.
fn parse(mut value: Value, tips: &[level_keel_core::atomizing::tips::TipRow], prefs: Prefs) -> Result<Piece, Problem> {
    as_given(&mut value, prefs)?;
    let Value::Object(mut map) = value else {
        return Err(Refusal::bad_input("not-understood", "piece", "This is not a piece.").into());
    };
    let kind: PieceKind = read(map.remove("kind").unwrap_or(Value::Null)).map_err(|r| r.at("kind"))?;
    let name: String = read(map.remove("name").unwrap_or(Value::Null)).map_err(|r| r.at("name"))?;
    let piece = Piece { kind, name, figures: map }.validate(prefs)?;
    if let Some(code) = piece.figures.get("tip_code").and_then(Value::as_str) {
        level_keel_core::atomizing::tips::decode(code, tips)?;
    }
    Ok(piece)
}

fn taken() -> Refusal {
    Refusal::bad_input("taken", "name", "There is a piece of this kind and name.")
}

/// A new piece.
#[utoipa::path(operation_id = "pieces_create", tag = "rigs", request_body = TypedPiece, responses((status = 200, body = Uuid), (status = 403), (status = 422)))]
#[post("/pieces")]
pub async fn create(state: web::Data<State>, person: Person, body: web::Json<TypedPiece>) -> Answer<Uuid> {
    has_duty(person.role, Duty::Sheets)?;
    let body = body.into_inner();
    let tips = table(&state.db).await?;
    let piece = parse(body.piece, &tips, person.prefs)?;
    let id = body.id.unwrap_or_else(Uuid::now_v7);
    let mut tx = state.db.begin().await?;
    put_piece(&mut tx, id, &piece, state.clock.now()).await?;
    tx.commit().await?;
    Ok(web::Json(id))
}

/// Makes the row of a piece; the same id with the same name is one piece.
pub async fn put_piece(tx: &mut PgConnection, id: Uuid, piece: &Piece, now: jiff::Timestamp) -> Result<(), Problem> {
    let made = sqlx::query!(
        "insert into piece (id, kind, name, figures, created) values ($1, $2, $3, $4, $5) on conflict do nothing returning id",
        id,
        piece.kind.name(),
        piece.name,
        Value::Object(piece.figures.clone()),
        now.to_sqlx() as _,
    )
    .fetch_optional(&mut *tx)
    .await?;
    if made.is_some() {
        return Ok(());
    }
    let known = sqlx::query!("select kind, name, figures from piece where id = $1", id).fetch_optional(tx).await?;
    match known {
        Some(k) if k.kind == piece.kind.name() && k.name == piece.name && k.figures == Value::Object(piece.figures.clone()) => {
            Ok(())
        }
        Some(_) => Err(Refusal::bad_input("id-taken", "id", "Another piece has this id. Begin it afresh.").into()),
        None => Err(taken().into()),
    }
}

/// Changes a piece, and with it every rig it is fitted to; batches keep their rig as they had it.
#[utoipa::path(operation_id = "pieces_change", tag = "rigs", params(("id" = Uuid, Path)), request_body = TypedPiece, responses((status = 200, body = Uuid), (status = 403), (status = 404), (status = 422)))]
#[put("/pieces/{id}")]
pub async fn change(state: web::Data<State>, person: Person, id: web::Path<Uuid>, body: web::Json<TypedPiece>) -> Answer<Uuid> {
    has_duty(person.role, Duty::Sheets)?;
    let body = body.into_inner();
    let mut tx = state.db.begin().await?;
    let tips = table(&mut *tx).await?;
    let piece = parse(body.piece, &tips, person.prefs)?;
    let kind = sqlx::query_scalar!("select kind from piece where id = $1 for update", *id)
        .fetch_optional(&mut *tx)
        .await?
        .ok_or(Problem::NotFound("piece"))?;
    if kind != piece.kind.name() {
        return Err(Refusal::bad_input("kind-stays", "kind", "A piece stays what it is. Keep another one instead.").into());
    }
    let other = sqlx::query_scalar!(
        "select id from piece where kind = $3 and lower(name) = lower($1) and id <> $2",
        piece.name,
        *id,
        kind
    )
    .fetch_optional(&mut *tx)
    .await?;
    if other.is_some() {
        return Err(taken().into());
    }
    sqlx::query!(
        "update piece set name = $2, figures = $3, retired = $4 where id = $1",
        *id,
        piece.name,
        Value::Object(piece.figures.clone()),
        body.retired
    )
    .execute(&mut *tx)
    .await?;
    let rigs = sqlx::query!(
        "select id, name, body, retired from rig where body -> 'pieces' ->> $2 = $1::uuid::text order by id for update",
        *id,
        kind
    )
    .fetch_all(&mut *tx)
    .await?;
    let writing = Writing { inside: true, ..Writing::of(&state, &person, state.clock.now()) };
    for row in rigs {
        let rig: Rig = serde_json::from_value(row.body.clone())?;
        let Value::Object(mut map) = row.body else { continue };
        assemble(&mut map, rig.kind, std::slice::from_ref(&piece))?;
        let changed = read::<Rig>(Value::Object(map))?
            .validate(&tips, person.prefs)
            .map_err(|r| Refusal { text: format!("On {}: {}", row.name, r.text), ..r })?;
        if changed != rig {
            let what = Changed { rig: Box::new(changed), before: Some(Box::new(rig)), retired: row.retired };
            super::book::changed(&writing, &mut tx, row.id, what).await?;
        }
    }
    tx.commit().await?;
    Ok(web::Json(*id))
}

/// The pieces a rig is put together from, by place.
///
/// **Errors:** a refusal naming the place, where the piece is not there, is another kind, or is not used any more.
pub async fn fitted(tx: &mut PgConnection, wanted: &BTreeMap<String, Uuid>) -> Result<Vec<Piece>, Problem> {
    let mut all = Vec::new();
    for (place, id) in wanted {
        let row =
            sqlx::query!("select kind, name, figures, retired from piece where id = $1", *id).fetch_optional(&mut *tx).await?;
        let field = format!("pieces.{place}");
        match row {
            Some(row) if row.kind == *place && !row.retired => {
                all.push(read(json!({ "kind": row.kind, "name": row.name, "figures": row.figures }))?);
            }
            Some(row) if row.kind == *place => {
                return Err(Refusal::bad_input("retired", &field, "This piece is not used any more.").into());
            }
            _ => return Err(Refusal::bad_input("unknown-piece", &field, "There is no such piece for this place.").into()),
        }
    }
    Ok(all)
}

/// The pieces as a table.
#[utoipa::path(operation_id = "pieces_export", tag = "rigs", responses((status = 200, description = "CSV", content_type = "text/csv")))]
#[get("/pieces/export")]
pub async fn export(state: web::Data<State>, person: Person) -> Result<HttpResponse, Problem> {
    let mut table = Table::new(&["kind", "name", "figures", "rigs", "used"])?;
    for p in all(&state, person.prefs).await? {
        let used = if p.retired { "no" } else { "yes" };
        table.row([p.piece.kind.word(), &p.piece.name, &p.facts, &p.rigs.join("; "), used])?;
    }
    table.download("pieces.csv")
}
