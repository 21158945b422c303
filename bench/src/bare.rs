//! The bare thing each figure stands beside: the same row inserted with nothing around it, the same SQL answered raw.

use actix_web::{App, HttpRequest, HttpResponse, HttpServer, web};
use level_keel_core::mixing::LEARN_NEWEST;
use level_keel_core::people::Role;
use level_keel_core::quantity::Prefs;
use level_keel_harness::ReadSql;
use level_keel_server::auth::Person;
use sqlx::{PgPool, Row};
use std::time::Instant;
use uuid::Uuid;

/// Rows a second: insert the like of an entry and notify, in one transaction each, by so many hands at once.
pub async fn insert_and_notify(db: &PgPool, hands: usize, each: usize) -> f64 {
    sqlx::query("create table if not exists bare (book_id uuid, seq bigint, id uuid primary key, kind text, payload text, payload_json jsonb, who uuid, happened timestamptz, arrived timestamptz, request text, previous text, hash text)")
        .execute(db)
        .await
        .expect("a table");
    let start = Instant::now();
    let tasks: Vec<_> = (0..hands)
        .map(|_| {
            let db = db.clone();
            tokio::spawn(async move {
                let book = Uuid::now_v7();
                for n in 0..each {
                    let payload = format!("{{\"text\":\"note {n} of the load\"}}");
                    let hash = format!("{n:064}");
                    let mut tx = db.begin().await.expect("a transaction");
                    sqlx::query("insert into bare values ($1, $2, $3, 'note', $4, $4::jsonb, $1, now(), now(), $5, $5, $5)")
                        .bind(book)
                        .bind(n as i64)
                        .bind(Uuid::now_v7())
                        .bind(payload)
                        .bind(hash)
                        .execute(&mut *tx)
                        .await
                        .expect("a row");
                    sqlx::query("select pg_notify('bare', $1)").bind(book.to_string()).execute(&mut *tx).await.expect("a word");
                    tx.commit().await.expect("it stays");
                }
            })
        })
        .collect();
    for task in tasks {
        task.await.expect("a hand");
    }
    (hands * each) as f64 / start.elapsed().as_secs_f64()
}

/// A person to write as.
pub async fn somebody(db: &PgPool) -> Person {
    let row = sqlx::query("select id, name from person where name = 'Ansa Reef'").fetch_one(db).await.expect("a person");
    Person {
        id: row.get("id"),
        name: row.get("name"),
        role: Role::Applicator,
        prefs: Prefs::METRIC,
        session: Uuid::nil(),
        works_alone: false,
    }
}

/// Many finished batches, copies of one, for the length of a list.
pub async fn long_list(db: &PgPool, many: i64) {
    let run = async |sql: &str| sqlx::query(sqlx::AssertSqlSafe(sql.to_string())).bind(many).execute(db).await.expect("rows");
    run("insert into book (id, kind, created) select gen_random_uuid(), 'rig', now() from generate_series(1, $1)").await;
    run("insert into part (id, name, label, created) select gen_random_uuid(), 'Copy part ' || n, 'Copy', now() from generate_series(1, $1 / 10) n").await;
    run("insert into batch (id, number, sheet_version_id, part_id, coat_id, label, product, state, begun, last_happened, ended, rig_id,
           film_pct, ratio_off_pct, use_pct, work_s, first_time)
         select k.id, 100000 + $1 - k.n, b.sheet_version_id, p.id, b.coat_id, p.name || ' · primer', b.product, 'accepted',
           b.begun - k.n * interval '1 hour', b.last_happened - k.n * interval '1 hour',
           b.ended - k.n * interval '1 hour', b.rig_id, 95 + k.n % 10, k.n % 5 - 2, 90 + k.n % 20, 3600 + k.n % 600, k.n % 7 > 0
         from (select id, row_number() over (order by id) as n from book where kind = 'rig' and not exists (select 1 from rig r where r.id = book.id)) k
           join (select id, name, row_number() over (order by id) as n from part where name like 'Copy part%') p on p.n = 1 + k.n % ($1 / 10),
           (select * from batch where state = 'accepted' order by number limit 1) b")
    .await;
    for more in [
        "insert into lot_use (batch_id, lot_id) select b.id, l.id from batch b, (select id from lot order by code limit 1) l where b.number >= 100000 and b.number % 500 = 0 on conflict do nothing",
        // A lot that went into every tenth, people on each, a scale that weighed each.
        "insert into lot_use (batch_id, lot_id) select b.id, l.id from batch b, (select id from lot where code = 'P-2207') l where b.number >= 100000 and b.number % 10 = 0 on conflict do nothing",
        "insert into batch_person (batch_id, person_id) select b.id, p.id from batch b, person p where b.number >= 100000 and p.name in ('Ansa Reef', 'Brok Tarn') on conflict do nothing",
        "insert into batch_instrument (batch_id, instrument_id, first_at, last_at) select b.id, i.id, b.begun, b.ended from batch b, (select id from instrument where name = 'Bench scale' limit 1) i where b.number >= 100000 on conflict do nothing",
        "analyze",
    ] {
        sqlx::query(more).execute(db).await.expect("what hangs on them");
    }
}

/// The very SQL of our own handler, and the session it is asked with.
struct Asked {
    sql: ReadSql,
    token: String,
}

impl Asked {
    async fn of(db: &PgPool) -> Asked {
        let token = sqlx::query_scalar("select token_sha256 from session limit 1").fetch_one(db).await.expect("a session");
        Asked { sql: ReadSql::prepared(), token }
    }
}

/// A handler that asks the database the same and answers bytes that lie ready.
pub struct Handler {
    pub address: String,
    stop: actix_web::dev::ServerHandle,
}

impl Handler {
    /// `body` is what our own handler answers: both send the same bytes.
    pub async fn start(db: PgPool, body: String) -> Handler {
        let listener = std::net::TcpListener::bind("127.0.0.1:0").expect("a free port");
        let address = format!("http://{}", listener.local_addr().expect("an address"));
        let asked = web::Data::new(Asked::of(&db).await);
        let server = HttpServer::new(move || {
            App::new()
                .app_data(web::Data::new(db.clone()))
                .app_data(web::Data::new(body.clone()))
                .app_data(asked.clone())
                .route("/bare/{id}", web::get().to(answer))
        })
        .workers(2)
        .listen(listener)
        .expect("it listens")
        .run();
        let stop = server.handle();
        tokio::spawn(server);
        Handler { address, stop }
    }

    pub async fn stop(self) {
        self.stop.stop(false).await;
    }
}

async fn answer(
    db: web::Data<PgPool>,
    body: web::Data<String>,
    asked: web::Data<Asked>,
    req: HttpRequest,
    id: web::Path<Uuid>,
) -> HttpResponse {
    let _cookie = req.cookie("level_keel_session");
    let sql = |text: &str| sqlx::query(sqlx::AssertSqlSafe(text.to_string()));
    let db = db.get_ref();
    let now = jiff::Timestamp::now();
    let session = sql(&asked.sql.session).bind(&asked.token).bind(jiff_sqlx::Timestamp::from(now));
    session.fetch_optional(db).await.expect("a session");
    let mut one = db.acquire().await.expect("a connection");
    let most = sql(&asked.sql.beside).bind(vec![*id]).bind(LEARN_NEWEST as i64).bind(5_i64).bind(20_i64).bind(12_i64);
    // As a read at Mix asks: all but what only Set shows.
    let beside = most.bind(true).bind(true).bind(true).bind(true).bind(true).bind(false);
    beside.fetch_all(&mut *one).await.expect("what stands beside it");
    HttpResponse::Ok().content_type("application/json").body(body.to_string())
}
