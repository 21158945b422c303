//! Starting and stopping: connect, migrate, bind, serve.

use crate::clock::{Clock, Host};
use crate::conditions::{self, Probes};
use crate::film_gauges::{self, Gauges};
use crate::house::{FirstCode, ShopKept};
use crate::live::Live;
use crate::patterns::{PATIENCE, planned};
use crate::pulse::{Pulse, is_away};
use crate::scales::{self, Scales};
use crate::settings::Settings;
use crate::shop::door::nobody_here;
use crate::state::{State, VERSION};
use crate::{auth, away, books, checkpoints, clock_watch, demo, edge, routes, serving_role};
use actix_web::dev::Server;
pub use actix_web::dev::ServerHandle;
use actix_web::middleware::{Compress, from_fn};
use actix_web::{App, HttpServer, web};
use sqlx::PgPool;
use sqlx::postgres::{PgConnectOptions, PgPoolOptions};
use std::net::TcpListener;
use std::str::FromStr;
use tracing_actix_web::TracingLogger;
use utoipa_actix_web::AppExt;

/// How often that is waited for the database when the server starts.
const TRIES: u32 = 10;

/// Ports tried after the first.
const PORTS: u16 = 20;

/// Why the server did not start.
#[derive(Debug, thiserror::Error)]
pub enum StartError {
    /// No database.
    #[error("the database does not answer: {0}")]
    Database(#[from] sqlx::Error),
    /// The database could not be brought to this version.
    #[error("the database could not be migrated: {0}")]
    Migrate(#[from] sqlx::migrate::MigrateError),
    /// The tables are of another version, and this role may not change them.
    #[error(transparent)]
    Version(#[from] serving_role::NotServed),
    /// No port, or the server broke.
    #[error("cannot listen on {host}:{port}: {error}")]
    Listen {
        /// Host asked for.
        host: String,
        /// Port asked for.
        port: u16,
        /// Why.
        error: std::io::Error,
    },
    /// The rows of an older version could not be rebuilt from their logs.
    #[error("rows could not be rebuilt from the log: {0}")]
    Rebuild(String),
    /// A scale of the settings cannot be read.
    #[error("a scale of the settings: {0}")]
    Scale(String),
    /// The demo could not be brought up.
    #[error("the demo could not be loaded: {0}")]
    Demo(String),
    /// The server broke.
    #[error("the server stopped: {0}")]
    Io(#[from] std::io::Error),
}

/// Connects, and brings the database to this version where the role may; elsewhere it must be there already.
pub async fn connect(settings: &Settings) -> Result<PgPool, StartError> {
    let db = pool(&settings.database_url).await?;
    match serving_role::may_migrate(&db).await? {
        true => bring_up_to_date(&db).await?,
        false => serving_role::is_up_to_date(&db).await?,
    }
    Ok(db)
}

/// Connections that plan each of our statements once: they are few, by key, and planning one anew with every entry
/// costs more than running it; compiling one to machine code costs a hundred times more (docs/performance.md).
pub async fn pool(database_url: &str) -> Result<PgPool, sqlx::Error> {
    let options = PgConnectOptions::from_str(database_url)?.options([("plan_cache_mode", "force_generic_plan"), ("jit", "off")]);
    let pool = PgPoolOptions::new().max_connections(16).acquire_timeout(PATIENCE).connect_lazy_with(options);
    // A database that is only just coming up, as after a start of the machine, is waited for.
    let mut tries = TRIES;
    loop {
        match pool.acquire().await {
            Ok(_) => return Ok(pool),
            Err(e) if tries == 0 || !is_away(&e) => return Err(e),
            Err(_) => tries -= 1,
        }
    }
}

/// Migrates, then fills from the log what an older version did not keep.
pub async fn bring_up_to_date(db: &PgPool) -> Result<(), StartError> {
    sqlx::migrate!("./migrations").run(db).await?;
    books::rebuild_older(db).await.map_err(|e| StartError::Rebuild(format!("{e:?}")))
}

/// The state of a server on the settings' own database and clock.
pub async fn state(settings: Settings) -> Result<State, StartError> {
    let db = connect(&settings).await?;
    // A demo at another rate has a time of its own.
    let clock = match settings.clock_rate {
        1.0 => clock_watch::resume(&db, Host::Machine).await?,
        rate => Clock::at(jiff::Timestamp::now(), rate),
    };
    let shop = ShopKept::read(&db, &settings).await?;
    Ok(State {
        searches: planned(&db),
        pulse: Pulse::of(&db),
        db,
        clock,
        shop,
        first_code: FirstCode::new(),
        live: Live::default(),
        settings,
        books: books::Caches::default(),
        probes: Probes::default(),
        scales: Scales::default(),
        gauges: Gauges::default(),
        version: VERSION.into(),
    })
}

/// Binds the first free port.
fn bind(settings: &Settings) -> Result<TcpListener, StartError> {
    let last = if settings.port_search { settings.port.saturating_add(PORTS) } else { settings.port };
    let mut result = Err(std::io::Error::other("no port tried"));
    for port in settings.port..=last {
        result = TcpListener::bind((settings.host.as_str(), port));
        if result.is_ok() {
            break;
        }
    }
    result.map_err(|error| StartError::Listen { host: settings.host.clone(), port: settings.port, error })
}

/// Builds the server on a listener; the caller awaits it.
pub fn server(state: State, listener: TcpListener, workers: usize) -> std::io::Result<Server> {
    let server = HttpServer::new(move || {
        let (assets, page) = (routes::assets(&state.settings.web_dir), routes::page(&state.settings.web_dir));
        App::new()
            .into_utoipa_app()
            .app_data(web::Data::new(state.clone()))
            .app_data(routes::json_config())
            .app_data(routes::path_config())
            .app_data(routes::query_config())
            .configure(routes::api)
            .into_app()
            .service(away::healthz)
            .service(assets)
            .service(page)
            .wrap(from_fn(checkpoints::after_changes))
            .wrap(from_fn(edge::signed_in))
            .wrap(from_fn(away::told_in_time))
            .wrap(from_fn(edge::small_stay_plain))
            .wrap(Compress::default())
            .wrap(from_fn(edge::plain_bodies))
            .wrap(from_fn(edge::same_origin))
            .wrap(from_fn(edge::bodies_in_time))
            .wrap(from_fn(edge::known_host))
            .wrap(edge::headers(&state))
            .wrap(TracingLogger::default())
    });
    Ok(server.workers(workers).shutdown_timeout(3).listen(listener)?.run())
}

/// Serves until told to stop. Prints the address when it answers.
pub async fn serve(settings: Settings) -> Result<(), StartError> {
    let state = state(settings).await?;
    if state.settings.demo {
        demo::bring_up(&state).await.map_err(|e| StartError::Demo(format!("{e:?}")))?;
    }
    let listener = bind(&state.settings)?;
    let address = listener.local_addr()?;
    let (live, db, searches) = (state.live.clone(), state.db.clone(), state.searches.clone());
    let (empty, code) = (nobody_here(&db).await?, state.first_code.clone());
    let listening = actix_web::rt::spawn(live.listen(db.clone()));
    let probing = conditions::listen(&state.settings.all_transmitters(), &state.probes, &db, &state.clock);
    let mut weighing = scales::listen(&state).await.map_err(StartError::Scale)?;
    weighing.extend(film_gauges::listen(&state.settings, &state.gauges).map_err(StartError::Scale)?);
    let feeding = books::temperature_feed::keep_feeding(state.clone());
    let tidying = auth::keep_tidy(state.clone());
    let watching = clock_watch::keep_watch(state.clone());
    let checking = actix_web::rt::spawn(checkpoints::keep_making(state.clone()));
    let server = server(state, listener, 2)?;
    println!("http://{address}");
    if empty {
        println!("{}", code.invitation());
    }
    server.await?;
    // Ended while the runtime still stands: a listener dropped after it has nowhere to say goodbye.
    listening.abort();
    let _ = listening.await;
    for task in probing.into_iter().chain(weighing).chain([feeding, watching, tidying, checking]) {
        task.abort();
        let _ = task.await;
    }
    searches.close().await;
    db.close().await;
    Ok(())
}
