//! Keeping people: who is here, who is retired, PINs set anew; the owner's work.

use super::{Added, Named, add, pin_digits};
use crate::auth::{self, Person, hash_pin};
use crate::live;
use crate::problem::{Answer, Problem};
use crate::state::State;
use actix_web::{get, post, put, web};
use jiff::Timestamp;
use jiff_sqlx::ToSqlx;
use level_keel_core::people::{Duty, Role, check_pin, has_duty};
use level_keel_core::refusal::Refusal;
use level_keel_core::worded::Worded;
use serde::{Deserialize, Serialize};
use sqlx::PgConnection;
use utoipa::ToSchema;
use uuid::Uuid;

/// A person as the owner keeps them.
#[derive(Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct Kept {
    pub id: Uuid,
    pub name: String,
    pub role: Role,
    pub retired: bool,
    pub created: Timestamp,
    /// When they were last seen; missing: never signed in.
    pub last_seen: Option<Timestamp>,
}

/// A new person.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct NewPerson {
    pub name: String,
    pub role: Role,
    pub pin: String,
}

/// What changes of a person; what is left out stays.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Change {
    /// Another role.
    #[serde(default)]
    pub role: Option<Role>,
    /// Retired people cannot sign in; their name stays on what they wrote.
    #[serde(default)]
    pub retired: Option<bool>,
    /// A new PIN.
    #[serde(default)]
    pub pin: Option<String>,
}

/// Everyone, retired ones too. Owner only.
#[utoipa::path(operation_id = "people_kept", tag = "people", responses((status = 200, body = [Kept]), (status = 403)))]
#[get("/people/kept")]
pub async fn kept(state: web::Data<State>, person: Person) -> Answer<Vec<Kept>> {
    has_duty(person.role, Duty::House)?;
    let rows = sqlx::query!(
        r#"select p.id, p.name, p.role, p.retired, p.created as "created: jiff_sqlx::Timestamp",
             (select max(s.last_seen) from session s where s.person_id = p.id) as "seen: jiff_sqlx::Timestamp"
           from person p order by p.retired, lower(p.name)"#
    )
    .fetch_all(&state.db)
    .await?;
    let all = rows.into_iter().map(|r| {
        Ok(Kept {
            id: r.id,
            name: r.name,
            role: auth::word(&r.role)?,
            retired: r.retired,
            created: r.created.to_jiff(),
            last_seen: r.seen.map(|t| t.to_jiff()),
        })
    });
    Ok(web::Json(all.collect::<Result<_, Problem>>()?))
}

/// Adds a person. Owner only.
#[utoipa::path(operation_id = "people_create", tag = "people", responses((status = 200, body = Named), (status = 403), (status = 422)))]
#[post("/people")]
pub async fn create(state: web::Data<State>, person: Person, body: web::Json<NewPerson>) -> Answer<Named> {
    has_duty(person.role, Duty::House)?;
    let new = body.into_inner();
    let added = Added { id: Uuid::now_v7(), name: &new.name, role: new.role, pin: &new.pin, pin_digits: pin_digits(&state) };
    let id = add(&state.db, &added, state.clock.now()).await?;
    Ok(web::Json(Named { id, name: new.name.trim().into(), role: Some(new.role) }))
}

/// Changes a person's role or PIN, retires them or brings them back. Owner only; one owner always stays.
///
/// A new PIN and a retirement end every session of theirs.
#[utoipa::path(operation_id = "people_change", tag = "people", params(("id" = Uuid, Path)),
    responses((status = 204), (status = 403), (status = 404), (status = 409), (status = 422)))]
#[put("/people/{id}")]
pub async fn change(
    state: web::Data<State>,
    person: Person,
    id: web::Path<Uuid>,
    body: web::Json<Change>,
) -> Result<actix_web::HttpResponse, Problem> {
    has_duty(person.role, Duty::House)?;
    let change = body.into_inner();
    if let Some(pin) = &change.pin {
        check_pin(pin, pin_digits(&state))?;
    }
    let pin = change.pin.as_deref().map(hash_pin).transpose()?;
    let mut tx = state.db.begin().await?;
    let row = sqlx::query!("select role, retired from person where id = $1 for update", *id)
        .fetch_optional(&mut *tx)
        .await?
        .ok_or(Problem::NotFound("person"))?;
    let role = change.role.map_or(row.role, |r| r.word().into());
    let retired = change.retired.unwrap_or(row.retired);
    sqlx::query!(
        "update person set role = $2, retired = $3, pin_hash = coalesce($4, pin_hash) where id = $1",
        *id,
        role,
        retired,
        pin,
    )
    .execute(&mut *tx)
    .await?;
    if !owner_left(&mut tx).await? {
        return Err(Refusal::conflict("last-owner", "Someone must stay the owner. Make another person the owner first.").into());
    }
    if pin.is_some() || retired {
        let over = sqlx::query_scalar!(
            "update session set revoked = $2 where person_id = $1 and revoked is null returning id",
            *id,
            state.clock.now().to_sqlx() as _
        )
        .fetch_all(&mut *tx)
        .await?;
        live::ended(&mut *tx, &over).await?;
        sqlx::query!(
            "delete from sign_in_try where key = 'person:' || $1::text or key like 'tablet:' || $1 || ':%'",
            id.to_string()
        )
        .execute(&mut *tx)
        .await?;
    }
    tx.commit().await?;
    Ok(actix_web::HttpResponse::NoContent().finish())
}

async fn owner_left(tx: &mut PgConnection) -> Result<bool, Problem> {
    let owners = sqlx::query_scalar!("select count(*) from person where role = 'owner' and not retired").fetch_one(tx).await?;
    Ok(owners.unwrap_or(0) > 0)
}
