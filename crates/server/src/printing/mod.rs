//! Paper: the print program is run for each document, with so much time and memory and no more. The server sets no type itself.

pub mod http;

use crate::problem::Problem;
use crate::settings::Settings;
use serde_json::Value;
use std::path::PathBuf;
use std::process::Stdio;
use std::time::Duration;
use tokio::io::{AsyncReadExt, AsyncWriteExt};
use tokio::process::{Child, Command};
use tokio::sync::Semaphore;

/// Documents set at the same time; more wait for their turn.
static TURNS: Semaphore = Semaphore::const_new(2);
/// Bytes of a document at most.
const MOST_BYTES: u64 = 32 * 1024 * 1024;
/// Bytes of what the program says went wrong.
const MOST_SAID: u64 = 4096;

/// The program: as set, or the one that lies beside the server's own.
fn program(settings: &Settings) -> PathBuf {
    if !settings.print_program.is_empty() {
        return PathBuf::from(&settings.print_program);
    }
    let own = std::env::current_exe().unwrap_or_default();
    own.with_file_name("level-keel-print")
}

/// A document for a job; the program gets the job on its input and nothing else: no file, no variable, no network address.
///
/// **Errors:** a problem with a code of its own where the program is not there, takes too long, fails or says too much. What was to be
/// printed stays as it is: page, JSON and CSV do not go by the program.
pub async fn print(settings: &Settings, job: &Value) -> Result<Vec<u8>, Problem> {
    let within = Duration::from_secs_f64(settings.print_most_s);
    let _turn = TURNS.acquire().await.map_err(|e| Problem::Fault(e.to_string()))?;
    let bytes = settings.print_most_mb.saturating_mul(1024 * 1024);
    let mut child = Command::new("prlimit")
        .arg(format!("--as={bytes}"))
        .arg("--")
        .arg(program(settings))
        .env_clear()
        .current_dir("/")
        .stdin(Stdio::piped())
        .stdout(Stdio::piped())
        .stderr(Stdio::piped())
        .kill_on_drop(true)
        .spawn()
        .map_err(|e| Problem::Printer("printer-missing", format!("The print program cannot be started: {e}.")))?;
    let told = tokio::time::timeout(within, answer(&mut child, job.to_string())).await;
    match told {
        Ok(answer) => answer,
        Err(_) => {
            // It is ended, not waited for: whatever holds it up.
            child.start_kill().ok();
            let text = format!("The print program did not answer within {} s and was ended.", settings.print_most_s);
            Err(Problem::Printer("printer-hangs", text))
        }
    }
}

async fn answer(child: &mut Child, job: String) -> Result<Vec<u8>, Problem> {
    let broken = |e: std::io::Error| Problem::Printer("printer-failed", format!("The print program broke off: {e}."));
    let (Some(mut input), Some(output), Some(error)) = (child.stdin.take(), child.stdout.take(), child.stderr.take()) else {
        return Err(Problem::Fault("the print program has no pipes".into()));
    };
    let told = async {
        // One that does not read its job has failed, and says why; a broken pipe is not the reason.
        input.write_all(job.as_bytes()).await.ok();
        drop(input);
    };
    let (mut document, mut why) = (Vec::new(), Vec::new());
    let (mut output, mut error) = (output.take(MOST_BYTES + 1), error.take(MOST_SAID));
    let ((), read, said) = tokio::join!(told, output.read_to_end(&mut document), error.read_to_end(&mut why));
    read.and(said).map_err(broken)?;
    if document.len() as u64 > MOST_BYTES {
        child.start_kill().ok();
        return Err(Problem::Printer("printer-failed", "The print program says more than a document holds.".into()));
    }
    let ended = child.wait().await.map_err(broken)?;
    if !ended.success() || !document.starts_with(b"%PDF-") {
        tracing::warn!(said = %String::from_utf8_lossy(&why), %ended, "print program");
        return Err(Problem::Printer("printer-failed", "The print program could not set this document.".into()));
    }
    Ok(document)
}
