//! Figures in one table.

use std::fmt;
use std::time::Duration;

/// Milliseconds.
#[derive(Clone, Copy)]
pub struct Millis(pub f64);

impl fmt::Display for Millis {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "{:.1} ms", self.0)
    }
}

/// Times taken.
#[derive(Default)]
pub struct Times(Vec<Duration>);

impl Times {
    pub fn add(&mut self, time: Duration) {
        self.0.push(time);
    }

    pub fn join(&mut self, other: Times) {
        self.0.extend(other.0);
    }

    /// The time that so many per cent stay within.
    pub fn at(&self, percent: usize) -> Millis {
        let mut sorted = self.0.clone();
        sorted.sort();
        let index = (sorted.len() * percent).div_ceil(100).saturating_sub(1);
        Millis(sorted.get(index).map_or(0.0, |d| d.as_secs_f64() * 1000.0))
    }
}

#[derive(Default)]
pub struct Report(Vec<[String; 4]>);

impl Report {
    pub fn line(&mut self, what: &str, figure: &str, aim: &str, met: bool) {
        let met = if met { "yes" } else { "NO" };
        self.0.push([what, figure, aim, met].map(String::from));
    }

    /// A rate beside the bare one.
    pub fn ratio(&mut self, what: &str, ours: f64, bare: f64, against: &str, least: f64) {
        let ratio = ours / bare;
        let figure = format!("{ours:.0}/s, {bare:.0}/s {against}: **{ratio:.2}**");
        self.line(what, &figure, &format!("≥ {least}"), ratio >= least);
    }

    pub fn print(&self) {
        println!("| what | figure | aim | met |\n|---|---|---|---|");
        for [what, figure, aim, met] in &self.0 {
            println!("| {what} | {figure} | {aim} | {met} |");
        }
    }
}
