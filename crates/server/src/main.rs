//! serve · migrate · demo · openapi · check-log · rebuild · add-person · default-settings

use clap::{Parser, Subcommand};
use level_keel_core::people::Role;
use level_keel_core::worded::VariantArray;
use level_keel_core::worded::Worded;
use level_keel_server::{books, checkpoints, demo, people, routes, serve, serving_role, settings::Settings};

/// A view is thousands of short texts: an allocator made for many small pieces. Its own share was not measured apart.
#[global_allocator]
static ALLOCATOR: mimalloc::MiMalloc = mimalloc::MiMalloc;

#[derive(Parser)]
#[command(version, about = "Level Keel: proportioning, pressures, pot life and film, kept as a log")]
struct Cli {
    #[command(subcommand)]
    command: Command,
}

#[derive(Subcommand)]
enum Command {
    /// Serve the application (migrates first).
    Serve,
    /// Bring the database to this version.
    Migrate,
    /// Load the demo into an empty database, or bring its shift up to now.
    Demo,
    /// Print the OpenAPI document.
    Openapi,
    /// Verify hashes and sequence of every book, and its row against a fresh fold.
    CheckLog,
    /// Rebuild every projection row from its log.
    Rebuild,
    /// Add a person, with the PIN from the variable PIN.
    AddPerson {
        /// Their name.
        name: String,
        /// applicator, lead, inspector or owner.
        role: String,
    },
    /// Print the default settings file.
    DefaultSettings,
}

#[actix_web::main]
async fn main() -> std::process::ExitCode {
    tracing_subscriber::fmt()
        .with_env_filter(tracing_subscriber::EnvFilter::try_from_env("LEVEL_KEEL_LOG").unwrap_or_else(|_| "warn".into()))
        .with_writer(std::io::stderr)
        .init();
    match run(Cli::parse().command).await {
        Ok(()) => std::process::ExitCode::SUCCESS,
        Err(text) => {
            eprintln!("level-keel: {text}");
            std::process::ExitCode::FAILURE
        }
    }
}

async fn run(command: Command) -> Result<(), String> {
    let env: Vec<_> = std::env::vars().filter(|(k, _)| k != "LEVEL_KEEL_LOG").collect();
    let file = match std::env::var("LEVEL_KEEL_CONFIG") {
        Ok(path) => Some(std::fs::read_to_string(&path).map_err(|e| format!("{path}: {e}"))?),
        Err(_) => None,
    };
    let text = |e: &dyn std::fmt::Display| e.to_string();
    let settings = Settings::load(file.as_deref(), env).map_err(|e| text(&e))?;
    match command {
        Command::Openapi => println!("{}", serde_json::to_string_pretty(&routes::openapi()).map_err(|e| text(&e))?),
        Command::DefaultSettings => print!("{}", include_str!("../default-settings.toml")),
        Command::Serve => serve::serve(settings).await.map_err(|e| text(&e))?,
        Command::Migrate => {
            let db = serve::connect(&settings).await.map_err(|e| text(&e))?;
            if !settings.serving_role.is_empty() {
                serving_role::grant(&db, &settings.serving_role).await.map_err(|e| text(&e))?;
            }
        }
        Command::Demo => {
            let state = serve::state(settings).await.map_err(|e| text(&e))?;
            demo::bring_up(&state).await.map_err(|e| format!("{e:?}"))?;
        }
        Command::CheckLog => {
            let db = serve::connect(&settings).await.map_err(|e| text(&e))?;
            let mut checked = books::check_log(&db).await.map_err(|e| format!("{e:?}"))?;
            if !settings.checkpoint_dir.is_empty() {
                let folder = std::path::Path::new(&settings.checkpoint_dir);
                let verified = checkpoints::verify(&db, folder).await.map_err(|e| format!("{e:?}"))?;
                let (many, later) = (verified.checkpoints, verified.later);
                println!("{many} checkpoints; {later} entries came after the newest, which says nothing of them");
                verified.changes.iter().for_each(|change| println!("{change}"));
                checked.faults.extend(verified.faults);
            }
            println!("{} books, {} entries, {} faults", checked.books, checked.entries, checked.faults.len());
            if !checked.faults.is_empty() {
                return Err(checked.faults.join("\n"));
            }
        }
        Command::Rebuild => {
            let db = serve::connect(&settings).await.map_err(|e| text(&e))?;
            println!("{} books rebuilt", books::rebuild(&db).await.map_err(|e| format!("{e:?}"))?);
        }
        Command::AddPerson { name, role } => {
            let state = serve::state(settings).await.map_err(|e| text(&e))?;
            let role =
                Role::VARIANTS.iter().copied().find(|r| r.word() == role).ok_or("role: applicator, lead, inspector or owner")?;
            let id = uuid::Uuid::now_v7();
            let pin = std::env::var("PIN").map_err(|_| "set PIN to the person's PIN")?;
            let added = people::Added { id, name: &name, role, pin: &pin, pin_digits: people::pin_digits(&state) };
            people::add(&state.db, &added, state.clock.now()).await.map_err(|e| text(&e))?;
            println!("{name} may sign in.");
        }
    }
    Ok(())
}
