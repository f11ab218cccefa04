//! What came of it, as a table.

use anyhow::{Context, Result};

use super::asked::Asked;
use super::moved::Moved;
use crate::bench::write_down;

/// A figure of the short history, and the same of the long one.
pub struct Both<T> {
    pub short: T,
    pub long: T,
}

/// What was measured of both.
pub struct Measured {
    pub samples: Both<usize>,
    /// How long filling took, in seconds.
    pub filled: Both<f64>,
    /// From the start of a server to its first answer, in ms.
    pub started: Both<f64>,
    pub moved: Both<Moved>,
    /// Each question with the time of each answer, in ms.
    pub answered: Vec<(&'static Asked, Both<Vec<f64>>)>,
}

pub fn median(times: &[f64]) -> Result<f64> {
    let mut sorted = times.to_vec();
    sorted.sort_by(f64::total_cmp);
    sorted.get(sorted.len() / 2).copied().context("nothing was measured")
}

/// Prints the figures and writes them down.
pub fn write(measured: &Measured) -> Result<()> {
    let Measured { samples, filled, started, moved, answered } = measured;
    let mut figures = format!(
        "Median times in ms, both asked by turns:\n\n| | {} samples | {} samples | ratio |\n|---|---|---|---|\n",
        samples.short, samples.long
    );
    let mut line = |what: &str, short: f64, long: f64| {
        figures += &format!("| {what} | {short:.1} | {long:.1} | {:.2} |\n", long / short);
    };
    for (asked, times) in answered {
        line(asked.what, median(&times.short)?, median(&times.long)?);
    }
    line("from the start of a server to its first answer", started.short, started.long);
    let a_million = |seconds: f64, samples: usize| seconds / samples as f64 * 1e6;
    figures += "\n| seconds, and seconds a million samples | short | long |\n|---|---|---|\n";
    let mut line = |what: &str, short: f64, long: f64| {
        figures += &format!(
            "| {what} | {short:.1}, {:.0} | {long:.0}, {:.0} |\n",
            a_million(short, samples.short),
            a_million(long, samples.long)
        );
    };
    line("filling, every sample judged", filled.short, filled.long);
    line("`nuvek backup`", moved.short.out, moved.long.out);
    line("`nuvek restore`, every row compared and the trail checked", moved.short.back, moved.long.back);
    figures += &format!("\nThe archive of the long one has {:.0} MB.\n", moved.long.bytes as f64 / 1e6);
    write_down("history", &figures)
}
