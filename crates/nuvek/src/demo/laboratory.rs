//! The laboratory's eight weeks: control runs before each early and late shift, with what became of
//! them.

use anyhow::{Context, Result};
use chrono::{DateTime, Duration, Utc};
use quality::analyte::{Assigned, CONTROL_LOT, NewAnalyte, NewLevel, REAGENT_LOT};
use quality::entry::{Accepted, Tags};
use quality::episode::{Answer, Decision};
use quality::sample::{Content, Readings};
use quality::signal::SignalState;
use rand::SeedableRng;
use rand_chacha::ChaCha8Rng;
use rand_distr::{Distribution, Normal};
use spc::multirule::{LabRule, Verdict};
use sqlx::PgPool;
use store::answers::{By, NewReview};
use store::episodes::EpisodeFilter;
use store::lab::{NewResult, NewRun, RunView};
use uuid::Uuid;

use super::site::Site;

/// Runs in the history.
const RUNS: usize = 112;
const HOURS_BETWEEN: i64 = 12;

struct Analyte {
    name: &'static str,
    unit: &'static str,
    decimals: u8,
    material: &'static str,
    /// Name, mean and sd of each level.
    levels: &'static [(&'static str, f64, f64)],
}

const ANALYTES: [Analyte; 3] = [
    Analyte {
        name: "Silver assay",
        unit: "mg/kg",
        decimals: 1,
        material: "Control material K-Ag",
        levels: &[("low", 42.0, 1.1), ("high", 118.0, 2.4)],
    },
    Analyte {
        name: "Turbidity",
        unit: "NTU",
        decimals: 2,
        material: "Control material K-Tu",
        levels: &[("low", 0.5, 0.03), ("middle", 2.0, 0.08), ("high", 8.0, 0.25)],
    },
    Analyte {
        name: "Conductivity",
        unit: "µS/cm",
        decimals: 0,
        material: "Control material K-Co",
        levels: &[("standard", 1413.0, 6.0)],
    },
];

/// Results that lie off: so many runs ago, analyte, level, by so many sd.
const OFF: [(usize, usize, usize, f64); 7] = [
    // An old reagent: two levels high in one run; repeated with a fresh one.
    (40, 1, 1, 2.5),
    (40, 1, 2, 2.4),
    // A wide result by itself is a warning.
    (18, 0, 1, 2.3),
    // An air bubble in the cell; overridden since the other levels hold.
    (11, 2, 0, 3.6),
    // The newest: the silver electrode drifts.
    (0, 0, 0, -2.6),
    (0, 0, 1, -2.7),
    (1, 0, 1, -1.2),
];

/// Causes of the catalogue.
const COLD_CONTROL: &str = "Control material not at room temperature";
const WRONG_REAGENT: &str = "Wrong reagent lot on the bench";

/// So many of the latest runs wait for a review.
const WAIT_FOR_REVIEW: usize = 4;

/// Sets the laboratory up and writes its history.
pub async fn write(pool: &PgPool, site: &Site, now: DateTime<Utc>) -> Result<()> {
    let since = now - Duration::hours(HOURS_BETWEEN * (RUNS as i64 + 1));
    for analyte in &ANALYTES {
        let mut conn = pool.acquire().await?;
        let material = store::sites::add_product(&mut conn, analyte.material).await?;
        let level = |&(name, mean, sd): &(&str, f64, f64)| NewLevel {
            name: name.into(),
            material,
            assigned: Assigned { mean, sd },
        };
        let new = NewAnalyte {
            station: site.bench,
            name: analyte.name.into(),
            unit: analyte.unit.into(),
            decimals: analyte.decimals,
            rules: Some(LabRule::DEFAULT.to_vec()),
            levels: analyte.levels.iter().map(level).collect(),
            reaction_plan: vec!["Measure the same control once more.".into(), "Open a fresh control.".into()],
        };
        store::lab::add_analyte(pool, &new, site.engineer, since).await?;
    }
    let bench = store::lab::benches(pool, site.engineer)
        .await?
        .into_iter()
        .find(|b| b.station == site.bench)
        .context("the bench")?;
    let mut history = History { pool, site, bench, random: ChaCha8Rng::seed_from_u64(97) };
    for ago in (0..RUNS).rev() {
        let at = now - Duration::hours(HOURS_BETWEEN * ago as i64) - Duration::minutes(50);
        let run = history.run(at, ago, None).await?;
        history.settle(run, at, ago).await?;
        if ago > 0 {
            history.explain(at, ago).await?;
        }
    }
    Ok(())
}

struct History<'a> {
    pool: &'a PgPool,
    site: &'a Site,
    bench: store::lab::Bench,
    random: ChaCha8Rng,
}

impl History<'_> {
    /// Measures every level once; a repeat is measured with what was wrong put right.
    async fn run(&mut self, at: DateTime<Utc>, ago: usize, repeats: Option<Uuid>) -> Result<RunView> {
        // Bounded, so that no rule is broken but by a story.
        let noise = Normal::new(0.0, 0.62).context("a normal distribution")?;
        let mut results = Vec::new();
        for (a, (analyte, at_bench)) in ANALYTES.iter().zip(&self.bench.analytes).enumerate() {
            let scale = 10f64.powi(i32::from(analyte.decimals));
            for (l, (&(_, mean, sd), level)) in analyte.levels.iter().zip(&at_bench.levels).enumerate() {
                let story = OFF.iter().find(|(when, of, on, _)| repeats.is_none() && (*when, *of, *on) == (ago, a, l));
                let z: f64 = match story {
                    Some((.., z)) => *z,
                    None => Distribution::<f64>::sample(&noise, &mut self.random).clamp(-1.7, 1.7),
                };
                let value = ((mean + z * sd) * scale).round() / scale;
                let tags = Tags::from([
                    (REAGENT_LOT.into(), format!("R-{}", 31 + (RUNS - ago) / 40)),
                    (CONTROL_LOT.into(), format!("C-{}", 7 + a)),
                ]);
                let content = Content::Readings(Readings { values: vec![Some(value)], components: vec![] });
                let accepted = Accepted { content, tags, typed_first: vec![] };
                results.push(NewResult { characteristic: level.characteristic, accepted });
            }
        }
        let new = NewRun {
            station: self.site.bench,
            device: Uuid::from_u128(2),
            entry: Uuid::new_v4(),
            taken_at: at,
            arrived_at: at,
            person: self.site.technicians[1],
            repeats,
            results,
            offers: vec![],
        };
        Ok(store::lab::save(self.pool, &new).await?.0)
    }

    /// Releases a run, repeats it, or has its rejection overridden; the newest still waits.
    async fn settle(&mut self, run: RunView, at: DateTime<Utc>, ago: usize) -> Result<()> {
        let technician = self.site.technicians[1];
        if ago == 0 {
            return Ok(());
        }
        let (run, at) = match (run.verdict, ago) {
            (Verdict::Rejected, 11) => {
                let (at, why) = (
                    at + Duration::minutes(14),
                    "Air bubble seen in the cell; the level was measured again by hand at 1414.",
                );
                let by = self.site.supervisor;
                (store::lab::override_verdict(self.pool, run.id, run.version, by, at, why).await?, at)
            }
            (Verdict::Rejected, _) => {
                let at = at + Duration::minutes(25);
                let again = self.run(at, ago, Some(run.id)).await?;
                self.review(run.id, at, ago).await?;
                (again, at)
            }
            _ => (run, at),
        };
        if run.verdict != Verdict::Rejected || run.overridden.is_some() {
            let at = at + Duration::minutes(4);
            // Whoever ran a rejected run does not release it.
            let by = if run.overridden.is_some() { self.site.supervisor } else { technician };
            store::lab::release(self.pool, run.id, run.version, by, at).await?;
            self.review(run.id, at, ago).await?;
        }
        Ok(())
    }

    /// What a run was out of control by is answered by whoever ran it, and reviewed with the other episodes.
    async fn explain(&self, at: DateTime<Utc>, ago: usize) -> Result<()> {
        let (cause, action) = match ago {
            11 => (None, "Cleared an air bubble from the cell and measured the level again."),
            _ if ago.is_multiple_of(2) => (Some(COLD_CONTROL), "Warmed the control up and measured it again."),
            _ => (Some(WRONG_REAGENT), "Changed to the reagent lot of the work sheet and ran all levels again."),
        };
        let open =
            EpisodeFilter { states: vec![SignalState::Open], laboratory: Some(true), ..EpisodeFilter::default() };
        for episode in store::episodes::list(self.pool, &open, 20).await? {
            let answer = Answer {
                cause: cause.and_then(|cause| self.site.causes.get(cause).copied()),
                cause_text: cause.is_none().then(|| "Air bubble in the cell".to_owned()),
                action: action.to_owned(),
                ..Answer::default()
            };
            let by = By::at(self.site.technicians[1], at + Duration::minutes(20));
            store::answers::answer(self.pool, episode.id, episode.version, by, answer).await?;
            let review = NewReview {
                person: self.site.supervisor,
                at: at + Duration::hours(7),
                decision: Decision::Accepted,
                remark: None,
            };
            store::answers::review(self.pool, episode.id, episode.version + 1, &review).await?;
        }
        Ok(())
    }

    /// Reviewed by the engineer, who has no part in it, some hours later; the latest still wait.
    async fn review(&self, run: Uuid, at: DateTime<Utc>, ago: usize) -> Result<()> {
        if ago > WAIT_FOR_REVIEW {
            let run = store::lab::find(self.pool, self.site.engineer, run).await?;
            let by = (self.site.engineer, at + Duration::hours(6));
            store::lab::review(self.pool, run.id, run.version, None, by).await?;
        }
        Ok(())
    }
}
