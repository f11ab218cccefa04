//! What the load came to, in figures, written to docs/performance.md.

use std::fs;
use std::time::Duration;

use anyhow::{Context, Result, ensure};

use super::closed::Closed;
use super::done::Done;
use super::size::{BATCH, DEVICES, EVERY, TECHNICIANS};
use crate::bench::write_down;

/// Processor time so far, in ticks of the kernel.
struct Ticks {
    busy: u64,
    /// When a core was wanted here and worked for another machine on the same host.
    stolen: u64,
    all: u64,
    server: u64,
}

/// What the machine did while the load was on.
pub struct Usage {
    server: u32,
    before: Ticks,
}

pub struct Used {
    /// Share of both cores that worked at all.
    busy: f64,
    /// Share of both cores that was not to be had.
    stolen: f64,
    /// Share of both cores that the server used.
    server: f64,
    /// Highest resident memory of the server, in MB.
    memory: f64,
}

impl Usage {
    pub fn start(server: u32) -> Result<Self> {
        Ok(Self { server, before: ticks(server)? })
    }

    pub fn stop(self) -> Result<Used> {
        let now = ticks(self.server)?;
        let all = (now.all - self.before.all).max(1) as f64;
        let status = fs::read_to_string(format!("/proc/{}/status", self.server))?;
        let highest = status.lines().find_map(|line| line.strip_prefix("VmHWM:")).context("no VmHWM")?;
        let kilobytes: f64 = highest.trim().trim_end_matches(" kB").parse()?;
        Ok(Used {
            busy: (now.busy - self.before.busy) as f64 / all,
            stolen: (now.stolen - self.before.stolen) as f64 / all,
            server: (now.server - self.before.server) as f64 / all,
            memory: kilobytes * 1024.0 / 1e6,
        })
    }
}

fn ticks(server: u32) -> Result<Ticks> {
    let stat = fs::read_to_string("/proc/stat")?;
    let cpu = stat.lines().next().context("an empty /proc/stat")?;
    let cpu: Vec<u64> = cpu.split_whitespace().skip(1).take(8).map(str::parse).collect::<Result<_, _>>()?;
    ensure!(cpu.len() == 8, "a short /proc/stat");
    let all: u64 = cpu.iter().sum();
    // The name of a process may hold blanks; what follows its bracket does not.
    let own = fs::read_to_string(format!("/proc/{server}/stat"))?;
    let fields: Vec<&str> = own.rsplit_once(')').context("no stat")?.1.split_whitespace().collect();
    let time = |place: usize| fields.get(place).and_then(|text| text.parse::<u64>().ok()).unwrap_or_default();
    Ok(Ticks { busy: all - cpu[3] - cpu[4] - cpu[7], stolen: cpu[7], all, server: time(11) + time(12) })
}

struct Times {
    median: f64,
    p99: f64,
    largest: f64,
}

/// Milliseconds of those requests that were answered.
fn times(all: &[Done], by_device: bool) -> Times {
    let mut sorted: Vec<Duration> =
        all.iter().filter(|d| d.by_device == by_device && d.error.is_none()).map(|d| d.took).collect();
    sorted.sort();
    let at = |share: f64| {
        let place = ((sorted.len() as f64 * share).ceil() as usize).clamp(1, sorted.len().max(1)) - 1;
        sorted.get(place).map_or(f64::NAN, |took| took.as_secs_f64() * 1e3)
    };
    Times { median: at(0.5), p99: at(0.99), largest: at(1.0) }
}

/// Prints the figures and writes them into docs/performance.md, when that is here.
pub fn write(
    all: &[Done],
    used: &Used,
    seconds: u64,
    (offered, stored, lost): (usize, i64, i64),
    closed: &[Closed],
) -> Result<()> {
    let errors: Vec<&String> = all.iter().filter_map(|done| done.error.as_ref()).collect();
    let (person, device) = (times(all, false), times(all, true));
    let figures = format!(
        "{TECHNICIANS} technicians, each a sample of five pieces every {} s, and {DEVICES} devices, each {BATCH} samples \
         a second, for {seconds} s; the load comes from the same machine:\n\n\
         | | |\n|---|---|\n\
         | samples offered, stored, lost | {offered}, {stored}, {lost} |\n\
         | errors | {} |\n\
         | a technician's sample, from its moment to the answer | median {:.1} ms, 99th percentile {:.1} ms, largest {:.1} ms |\n\
         | {BATCH} samples of a device in one request | median {:.0} ms, 99th percentile {:.0} ms, largest {:.0} ms |\n\
         | highest resident memory of the server | {:.0} MB |\n\
         | processor time of both cores, all programs | {:.0} % |\n\
         | of that the server | {:.0} % |\n\
         | taken from both cores by other machines on the host | {:.0} % |\n",
        EVERY.as_secs(),
        errors.len(),
        person.median,
        person.p99,
        person.largest,
        device.median,
        device.p99,
        device.largest,
        used.memory,
        used.busy * 100.0,
        used.server * 100.0,
        used.stolen * 100.0,
    );
    let line = |of: &Closed| {
        let Closed { many, saves, median, bare } = of;
        format!("| {many} | {saves:.0} | {median:.1} ms | {bare:.0} | 1/{:.1} |\n", bare / saves)
    };
    let figures = format!(
        "{figures}\nOne sample after another, each technician at a characteristic of their own; beside it the barest insert \
         of one row, by pgbench on as many connections:\n\n\
         | technicians | samples a second | median | rows a second | ratio |\n|---|---|---|---|---|\n{}",
        closed.iter().map(line).collect::<String>()
    );
    write_down("load", &figures)?;
    for error in errors.iter().take(5) {
        println!("error: {error}");
    }
    Ok(())
}
