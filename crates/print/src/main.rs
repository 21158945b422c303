//! `level-keel-print < job.json > card.pdf`: reads a job, writes PDF/A-3b. What went wrong goes to standard error.

use level_keel_print::{Job, print};
use std::io::{Read, Write};
use std::process::ExitCode;

fn run() -> Result<(), String> {
    let mut text = Vec::new();
    std::io::stdin().read_to_end(&mut text).map_err(|e| e.to_string())?;
    let job: Job = serde_json::from_slice(&text).map_err(|e| format!("this is no job: {e}"))?;
    let pdf = print(&job).map_err(|e| e.to_string())?;
    std::io::stdout().write_all(&pdf).map_err(|e| e.to_string())
}

fn main() -> ExitCode {
    match run() {
        Ok(()) => ExitCode::SUCCESS,
        Err(why) => {
            eprintln!("level-keel-print: {why}");
            ExitCode::FAILURE
        }
    }
}
