//! A whole server on a free port, over a database of its own, with a clock a test may move.

mod gateway;
mod line;
mod read_sql;
mod snapshot;

pub use gateway::{Gateway, Lost};
pub use line::{Line, Standing};
pub use read_sql::ReadSql;

use level_keel_server::books::Caches;
use level_keel_server::checkpoints;
use level_keel_server::clock::Clock;
use level_keel_server::conditions::Probes;
use level_keel_server::demo;
use level_keel_server::film_gauges::Gauges;
use level_keel_server::house::{FirstCode, ShopKept};
use level_keel_server::live::Live;
use level_keel_server::patterns::{PATIENCE, planned};
use level_keel_server::pulse::Pulse;
use level_keel_server::scales::Scales;
use level_keel_server::serve::{self, ServerHandle};
use level_keel_server::settings::Settings;
use level_keel_server::state::{State, VERSION};
use snapshot::Snapshot;
use sqlx::PgPool;
use sqlx::postgres::{PgConnectOptions, PgPoolOptions};
use std::net::TcpListener;
use tokio::task::JoinHandle;

/// When a test's shop opens: the same morning whenever the tests run, so that no day's end falls into one of them.
pub const MORNING: &str = "2026-11-16T09:40:00Z";

/// Connections of one server.
const CONNECTIONS: u32 = 5;

/// A running shop.
pub struct Shop {
    /// `http://127.0.0.1:PORT`.
    pub address: String,
    /// Its clock.
    pub clock: Clock,
    /// Its state.
    pub state: State,
    stop: ServerHandle,
    task: JoinHandle<std::io::Result<()>>,
    listening: JoinHandle<()>,
    checking: JoinHandle<()>,
}

/// The print program as this build made it: beside the folder of the tests.
fn print_program() -> String {
    let own = std::env::current_exe().unwrap_or_default();
    let built = own.parent().and_then(std::path::Path::parent).unwrap_or(std::path::Path::new("."));
    built.join("level-keel-print").display().to_string()
}

impl Shop {
    /// Opens a shop with the demo's people, sheets and shift.
    pub async fn open(db: PgPool) -> Shop {
        Self::open_with(db, 1).await
    }

    /// As [`Shop::open`], with so many workers.
    pub async fn open_with(db: PgPool, workers: usize) -> Shop {
        let web_dir = concat!(env!("CARGO_MANIFEST_DIR"), "/../../web/dist").to_string();
        let settings = Settings { web_dir, demo: true, print_program: print_program(), ..Settings::default() };
        let state = Self::state(db, settings).await;
        let empty = sqlx::query_scalar::<_, i64>("select count(*) from person").fetch_one(&state.db).await.expect("a count") == 0;
        match Snapshot::taken().filter(|_| empty) {
            Some(snapshot) => {
                snapshot.put(&state.db).await.expect("the rows of the demo go in");
                state.shop.read_again(&state.db, &state.settings).await.expect("what the shop says of itself");
            }
            None => {
                Box::pin(demo::bring_up(&state)).await.expect("the demo loads into an empty database");
                if empty {
                    Snapshot::take(&state.db).await.expect("its rows are read");
                }
            }
        }
        Self::serve(state, "127.0.0.1:0", workers).await
    }

    /// Opens a shop whose demo is loaded at another instant than [`MORNING`].
    pub async fn loaded_at(db: PgPool, at: &str) -> Shop {
        let web_dir = concat!(env!("CARGO_MANIFEST_DIR"), "/../../web/dist").to_string();
        let state = Self::state(db, Settings { web_dir, demo: true, ..Settings::default() }).await;
        let state = State { clock: Clock::at(at.parse().expect("an instant"), 1.0), ..state };
        Box::pin(demo::bring_up(&state)).await.expect("the demo loads at any hour");
        Self::serve(state, "127.0.0.1:0", 1).await
    }

    /// Opens a shop in which nobody works yet.
    pub async fn empty(db: PgPool) -> Shop {
        let web_dir = concat!(env!("CARGO_MANIFEST_DIR"), "/../../web/dist").to_string();
        let state = Self::state(db, Settings { web_dir, ..Settings::default() }).await;
        Self::serve(state, "127.0.0.1:0", 1).await
    }

    async fn state(db: PgPool, settings: Settings) -> State {
        State {
            shop: ShopKept::read(&db, &settings).await.expect("what the shop says of itself"),
            searches: planned(&db),
            pulse: Pulse::of(&db),
            db,
            clock: Clock::at(MORNING.parse().expect("an instant"), 1.0),
            first_code: FirstCode::new(),
            live: Live::default(),
            settings,
            books: Caches::default(),
            probes: Probes::default(),
            scales: Scales::default(),
            gauges: Gauges::default(),
            version: VERSION.into(),
        }
    }

    /// A server with connections of its own: one opened by a worker dies with that worker's runtime, so two servers, or a
    /// test and a server it stops, must not share them.
    async fn serve(state: State, bind: &str, workers: usize) -> Shop {
        let options = PgPoolOptions::new().max_connections(CONNECTIONS).acquire_timeout(state.db.options().get_acquire_timeout());
        let db = options.connect_lazy_with((*state.db.connect_options()).clone());
        let state = State { searches: planned(&db), pulse: Pulse::of(&db), db, ..state };
        let listener = TcpListener::bind(bind).expect("a free port");
        let address = format!("http://{}", listener.local_addr().expect("a bound address"));
        let server = serve::server(state.clone(), listener, workers).expect("the server starts");
        let stop = server.handle();
        let listening = tokio::spawn(state.live.clone().listen(state.db.clone()));
        let clock = state.clock.clone();
        let checking = tokio::spawn(checkpoints::keep_making(state.clone()));
        Shop { address, clock, state, stop, task: tokio::spawn(server), listening, checking }
    }

    /// The crew goes through the lists of a batch, so that a test may look at what comes after.
    pub async fn make_ready(&self, book: &str) {
        let book = book.parse().expect("a book's id");
        Box::pin(demo::make_ready(&self.state, book)).await.expect("the lists can be gone through");
    }

    /// Stops and starts again at the same address over the same database, with other settings, telling another version.
    pub async fn again(self, settings: Settings, version: &str) -> Shop {
        let bind = self.address.trim_start_matches("http://").to_string();
        let settings = Settings { web_dir: self.state.settings.web_dir.clone(), ..settings };
        let state =
            State { settings, version: version.into(), live: Live::default(), books: Caches::default(), ..self.state.clone() };
        self.close().await;
        Self::serve(state, &bind, 1).await
    }

    /// A second server over the same database, with a memory of its own.
    pub async fn beside(shop: &Shop) -> Shop {
        let state = State { live: Live::default(), books: Caches::default(), ..shop.state.clone() };
        Self::serve(state, "127.0.0.1:0", 1).await
    }

    /// A second server over the same database, by a clock of its own.
    pub async fn by(shop: &Shop, clock: Clock) -> Shop {
        let state = State { clock, live: Live::default(), books: Caches::default(), ..shop.state.clone() };
        Self::serve(state, "127.0.0.1:0", 1).await
    }

    /// A second server over the same database, which it reaches by another port: by a line that can be cut.
    pub async fn over(shop: &Shop, port: u16) -> Shop {
        Self::under(shop, (*shop.state.db.connect_options()).clone().port(port)).await
    }

    /// A second server over the same database, which it reaches in another way: under another role, by another port.
    pub async fn under(shop: &Shop, options: PgConnectOptions) -> Shop {
        let db = PgPoolOptions::new().acquire_timeout(PATIENCE).connect_lazy_with(options);
        let state = State { db, live: Live::default(), books: Caches::default(), ..shop.state.clone() };
        Self::serve(state, "127.0.0.1:0", 1).await
    }

    /// Stops this server, its listener and its connections; another one over the same database goes on.
    pub async fn close(self) {
        self.listening.abort();
        self.checking.abort();
        let _ = self.checking.await;
        self.stop.stop(false).await;
        let _ = self.task.await;
        self.state.searches.close().await;
        self.state.db.close().await;
    }
}
