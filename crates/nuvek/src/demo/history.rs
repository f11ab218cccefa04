//! Writes the history through the same doors that people use: every sample is saved and judged,
//! every episode answered and reviewed, as it would have been at the time.

use std::sync::Arc;

use anyhow::{Context, Result};
use chrono::{DateTime, Duration, Utc};
use quality::characteristic::Kind;
use quality::entry::{Accepted, Tags};
use quality::episode::{Answer, Decision};
use quality::limits::NewLimits;
use quality::part::PART_TAG;
use quality::sample::{Content, Counts, Defects, RareEvent, Readings};
use quality::signal::SignalState;
use rand::{Rng, SeedableRng};
use rand_chacha::ChaCha8Rng;
use rand_distr::{Binomial, Distribution, Normal, Poisson};
use sqlx::PgPool;
use store::answers::{By, NewReview};
use store::characteristics::CharacteristicView;
use store::episodes::EpisodeFilter;
use store::events::{NewEvent, NewPieces};
use store::limits::{LimitsChange, PhaseLimits};
use store::notes::NewNote;
use store::samples::{NewSample, Visit};
use tokio::sync::Semaphore;
use tokio::task::JoinSet;
use uuid::Uuid;

use super::process::{Draw, Ending, Happening, Process};
use super::site::Site;

/// Samples on trial before limits are put in force.
const TRIAL_SAMPLES: usize = 25;

/// Samples of one part, before an order for another comes.
const SAMPLES_OF_AN_ORDER: usize = 5;

/// So many samples tell PostgreSQL enough to plan by.
const ANALYZE_AFTER: usize = 100;

/// So many write at a time, each a sample by turns: all of them at once would wait for connections to the database.
const AT_A_TIME: usize = 8;

/// Writes eight weeks up to `now`, all characteristics side by side.
pub async fn write(pool: &PgPool, site: &Arc<Site>, now: DateTime<Utc>) -> Result<()> {
    let mut writers = JoinSet::new();
    let turns = Arc::new(Semaphore::new(AT_A_TIME));
    for (id, process) in &site.characteristics {
        let (pool, site, process, turns) = (pool.clone(), Arc::clone(site), Arc::clone(process), Arc::clone(&turns));
        writers.spawn(Writer { pool, site, id: *id, process, now, turns }.write());
    }
    while let Some(written) = writers.join_next().await {
        written.context("the history of a characteristic")??;
    }
    Ok(())
}

struct Writer {
    pool: PgPool,
    site: Arc<Site>,
    id: Uuid,
    process: Arc<Process>,
    now: DateTime<Utc>,
    turns: Arc<Semaphore>,
}

impl Writer {
    async fn write(self) -> Result<()> {
        let setup = {
            let _turn = self.turns.acquire().await?;
            store::characteristics::find(&self.pool, self.id).await?
        };
        let interval = Duration::minutes(self.process.minutes);
        let newest = self.now - Duration::seconds((interval.num_seconds() as f64 * self.process.newest_age) as i64);
        let most = ((newest - setup.created_at).num_seconds() / interval.num_seconds()) as usize;
        let count = self.process.samples.unwrap_or(most).min(most);
        let mut random = ChaCha8Rng::seed_from_u64(self.process.seed);
        let mut phase_since = count;
        let mut planned = Vec::new();
        for ago in (0..count).rev() {
            let _turn = self.turns.acquire().await?;
            // Nobody plans when something rare happens.
            let widest = if self.process.draw.is_rare() { interval.num_seconds() * 9 / 20 } else { 240 };
            let jitter = Duration::seconds(if ago == 0 { 0 } else { random.random_range(-widest..widest) });
            let taken_at = newest - interval * ago as i32 + jitter;
            self.do_planned(&mut planned, taken_at).await?;
            let person = self.site.technicians[(taken_at.timestamp() / 28_800) as usize % 2];
            self.tell_events(&setup, ago, taken_at, person).await?;
            let skipped = self.process.skipped.iter().find(|(at, _)| *at == ago);
            let visit = match skipped {
                Some((_, because)) => Visit::Skipped { because: (*because).to_owned() },
                None => self.visit(&setup, ago, &mut random)?,
            };
            let new = NewSample {
                characteristic: self.id,
                device: Uuid::from_u128(1),
                entry: Uuid::from_u128(random.random()),
                taken_at,
                arrived_at: taken_at + Duration::seconds(40),
                person,
                visit,
            };
            let saved = store::samples::save(&self.pool, &new).await?;
            if let Some(new) = self.process.new_phase.filter(|new| new.ago == ago) {
                let (sample, name) = (saved.sample, new.name.to_owned());
                let change = LimitsChange::StartPhase { sample, name, limits: PhaseLimits::Trial };
                self.change_limits(&change, taken_at + Duration::minutes(2)).await?;
                phase_since = ago;
            }
            if let Some(note) = self.process.stories.iter().find(|s| s.from_ago == ago).and_then(|s| s.note) {
                let at = taken_at + Duration::minutes(3);
                store::notes::write(&self.pool, saved.sample, (person, at), NewNote::new(Uuid::new_v4(), note)).await?;
            }
            for episode in saved.asking {
                self.plan(episode, ago, taken_at, person, &mut planned);
            }
            if count - ago == ANALYZE_AFTER {
                store::refresh_statistics(&self.pool).await?;
            }
            if self.process.samples.is_none() && phase_since - ago == TRIAL_SAMPLES {
                self.put_in_force(taken_at).await?;
                // What was found then was found late; the supervisor has seen it by the end of the shift.
                for episode in self.found_late().await? {
                    let deed = Deed::Review { decision: Decision::Seen, remark: None };
                    planned.push(Step { episode, at: taken_at + Duration::hours(8), deed });
                }
            }
        }
        if let Some(pieces) = self.process.pieces {
            let by = self.site.technicians[0];
            self.count_pieces(&setup, by, self.now, pieces - 30).await?;
        }
        self.do_planned(&mut planned, self.now).await
    }

    /// What is found at the station, `ago` samples before the newest.
    fn visit(&self, setup: &CharacteristicView, ago: usize, random: &mut ChaCha8Rng) -> Result<Visit> {
        let c = &setup.characteristic;
        let noise = Normal::new(0.0, 1.0).context("the standard normal")?;
        let offset = offset(&self.process.happenings, ago);
        let mut tags = Tags::default();
        let content = match self.process.draw {
            Draw::Values { mean, sigma } => {
                let scale = 10f64.powi(i32::from(c.decimals));
                // An order is a few samples of one part.
                let part = c.parts.get((ago / SAMPLES_OF_AN_ORDER) % c.parts.len().max(1));
                tags.extend(part.map(|part| (PART_TAG.to_owned(), part.name.clone())));
                let mean = mean + part.map_or(0.0, |part| part.nominal) + sigma * offset;
                let mut about = |mean: f64| ((mean + sigma * noise.sample(random)) * scale).round() / scale;
                Content::Readings(Readings {
                    values: (0..c.subgroup_size).map(|_| Some(about(mean))).collect(),
                    components: c.components.iter().map(|_| Some(about(0.0))).collect(),
                })
            }
            Draw::Counts { rate, inspected: (least, most), scatter } => {
                let inspected = random.random_range(least..=most);
                let rate = rate * (1.0 + scatter * noise.sample(random)).max(0.1);
                let n = f64::from(inspected);
                let shifted = (rate + offset * (rate / n).sqrt()).max(0.0);
                let count = match c.kind {
                    Kind::NonconformingUnits => Binomial::new(u64::from(inspected), shifted.min(1.0))?.sample(random),
                    _ => Poisson::new(n * shifted)?.sample(random) as u64,
                };
                let mut counts = vec![0; c.defect_kinds.len()];
                for _ in 0..count {
                    // The first kinds of a catalogue are the common ones.
                    let (one, other) = (random.random_range(0..counts.len()), random.random_range(0..counts.len()));
                    counts[one.min(other)] += 1;
                }
                let by_kind = c.defect_kinds.iter().zip(counts).filter(|(_, count)| *count > 0);
                let defects = by_kind.map(|(kind, count)| Defects { kind: Some(kind.id), word: None, count });
                Content::Counts(Counts { inspected, defects: defects.collect() })
            }
            Draw::Events => Content::Event(RareEvent::default()),
        };
        for tag in &c.asked_tags {
            let value = match tag.as_str() {
                "mould" => format!("M{}", random.random_range(1..=6)),
                _ => format!("L-{}", 200 + (1000 - ago.min(1000)) / 8),
            };
            tags.insert(tag.clone(), value);
        }
        Ok(Visit::Taken(Accepted { content, tags, typed_first: vec![] }))
    }

    /// Tells what happened at the station shortly before a sample.
    async fn tell_events(
        &self,
        setup: &CharacteristicView,
        ago: usize,
        taken_at: DateTime<Utc>,
        person: Uuid,
    ) -> Result<()> {
        for told in self.process.events.iter().filter(|told| told.ago == ago) {
            let kind = self.site.event_kinds.get(told.kind).copied().context("an event of the catalogue")?;
            // The newest lot has not been sampled yet.
            let at = if ago == 0 { self.now - Duration::minutes(21) } else { taken_at - Duration::minutes(6) };
            let new = NewEvent {
                station: setup.station_id,
                kind,
                at,
                arrived_at: at,
                person,
                lot: told.lot.map(str::to_owned),
                text: told.text.map(str::to_owned),
                device: Uuid::from_u128(1),
                entry: Uuid::new_v4(),
            };
            store::events::record(&self.pool, &new).await?;
        }
        if let Some(pieces) = self.process.pieces {
            self.count_pieces(setup, person, taken_at, pieces).await?;
        }
        Ok(())
    }

    async fn count_pieces(
        &self,
        setup: &CharacteristicView,
        person: Uuid,
        at: DateTime<Utc>,
        pieces: i64,
    ) -> Result<()> {
        let (station, device, entry) = (setup.station_id, Uuid::from_u128(1), Uuid::new_v4());
        let new = NewPieces { station, pieces, at, arrived_at: at, person, device, entry };
        store::events::count_pieces(&self.pool, &new).await?;
        Ok(())
    }

    async fn put_in_force(&self, at: DateTime<Utc>) -> Result<()> {
        let mut conn = self.pool.acquire().await?;
        let phases = store::phases::phases(&mut conn, self.id).await?;
        drop(conn);
        let phase = phases.last().context("a characteristic has a phase")?;
        let name = if phases.len() == 1 { "First limits" } else { phase.name.as_str() };
        // What the first weeks held is explained by answers; nobody set it aside.
        let reason = Some("What stands out is explained, and small beside the rest.".to_owned());
        let limits = NewLimits { reason, ..NewLimits::of_phase(name) };
        let change = LimitsChange::PutInForce { phase: phase.id, limits: Box::new(limits) };
        self.change_limits(&change, at + Duration::minutes(5)).await
    }

    /// Episodes of the characteristic that were found late.
    async fn found_late(&self) -> Result<Vec<Uuid>> {
        let states = vec![SignalState::FoundLate];
        let filter = EpisodeFilter { states, characteristic: Some(self.id), ..EpisodeFilter::default() };
        Ok(store::episodes::list(&self.pool, &filter, 500).await?.into_iter().map(|episode| episode.id).collect())
    }

    async fn change_limits(&self, change: &LimitsChange, at: DateTime<Utc>) -> Result<()> {
        let mut conn = self.pool.acquire().await?;
        let seen = store::limits::version(&mut conn, self.id).await?;
        drop(conn);
        store::limits::change(&self.pool, self.id, seen, change, (self.site.engineer, at)).await?;
        Ok(())
    }

    /// Plans answer and review of an episode as its story says; a false alarm is looked at and nothing
    /// found.
    fn plan(&self, episode: Uuid, ago: usize, at: DateTime<Utc>, person: Uuid, planned: &mut Vec<Step>) {
        let nothing = Ending::Accepted { cause: "", action: "Measured the same pieces again, values confirmed." };
        let story = self.process.stories.iter().find(|s| (s.to_ago..=s.from_ago).contains(&ago));
        let (cause, action, review) = match story.map_or(nothing, |s| s.ending) {
            Ending::Accepted { cause, action } => (cause, action, Some((Decision::Accepted, None))),
            Ending::SentBack { cause, action, question } => (cause, action, Some((Decision::SentBack, Some(question)))),
            Ending::Answered { cause, action } => (cause, action, None),
            Ending::Open => return,
        };
        // Asked again, it is reviewed with its newest answer.
        planned.retain(|step| step.episode != episode || matches!(step.deed, Deed::Answer { .. }));
        let answered_at = at + Duration::minutes(11);
        planned.push(Step { episode, at: answered_at, deed: Deed::Answer { person, cause, action } });
        if let Some((decision, remark)) = review {
            let at = (at + Duration::hours(9)).min(self.now - Duration::minutes(2)).max(answered_at);
            planned.push(Step { episode, at, deed: Deed::Review { decision, remark } });
        }
    }

    /// Does what was planned up to `until`.
    async fn do_planned(&self, planned: &mut Vec<Step>, until: DateTime<Utc>) -> Result<()> {
        planned.sort_by_key(|step| step.at);
        let now = planned.partition_point(|step| step.at <= until);
        for step in planned.drain(..now) {
            let seen = store::episodes::find(&self.pool, self.site.supervisor, step.episode).await?;
            match (step.deed, seen.state) {
                (Deed::Answer { person, cause, action }, _) if seen.steps.answer => {
                    let cause = self.site.causes.get(cause).copied();
                    let answer = Answer {
                        cause,
                        cause_text: None,
                        nothing_found: cause.is_none(),
                        action: action.to_owned(),
                        ..Answer::default()
                    };
                    store::answers::answer(&self.pool, seen.id, seen.version, By::at(person, step.at), answer).await?;
                }
                (Deed::Review { decision, remark }, state)
                    if seen.steps.review && (decision == Decision::Seen) == (state == SignalState::FoundLate) =>
                {
                    let by = self.site.supervisor;
                    let review = NewReview { person: by, at: step.at, decision, remark: remark.map(str::to_owned) };
                    store::answers::review(&self.pool, seen.id, seen.version, &review).await?;
                }
                _ => {}
            }
        }
        Ok(())
    }
}

/// Something a person will do about an episode.
struct Step {
    episode: Uuid,
    at: DateTime<Utc>,
    deed: Deed,
}

enum Deed {
    Answer { person: Uuid, cause: &'static str, action: &'static str },
    Review { decision: Decision, remark: Option<&'static str> },
}

/// How far the mean lies off, in sigma, `ago` samples before the newest.
fn offset(happenings: &[Happening], ago: usize) -> f64 {
    happenings
        .iter()
        .map(|happening| match *happening {
            Happening::Shift { ago: from, until, sigmas } if (until..=from).contains(&ago) => sigmas,
            Happening::Wear { ago: from, until, sigmas_each } if (until..=from).contains(&ago) => {
                (from - ago) as f64 * sigmas_each
            }
            _ => 0.0,
        })
        .sum()
}
