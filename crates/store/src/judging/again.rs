//! Judging a stretch of points again, since what they are judged by has changed.

use chrono::{DateTime, Utc};
use quality::limits::LimitsState;
use quality::signal::FoundBy;
use sqlx::PgConnection;

use super::judged::{How, Judged, reconciled, write};
use super::waiting::{AT_ONCE, Progress};
use crate::StoreError;
use crate::act::Act;
use crate::characteristics::CharacteristicView;
use crate::once::compiled_once;
use crate::phases::{Phase, holding};
use crate::series::{Rank, SeriesPoint, Stretch, around, fill_trial};
use crate::signals::Because;

/// Points read or written at a time, so that progress can be told, and a million of them need not be held. Fewer where
/// it is tested, so that a thousand come in pieces too.
pub(crate) const AT_A_TIME: usize = if cfg!(debug_assertions) { 400 } else { 20_000 };

/// What is judged again: points from a rank on (or all), up to a sample time (or the end).
#[derive(Debug, Clone, Copy, Default)]
pub(crate) struct Range {
    pub from: Option<Rank>,
    pub before: Option<DateTime<Utc>>,
}

/// A stretch within one phase.
struct Part {
    held: usize,
    from: Option<Rank>,
    before: Option<DateTime<Utc>>,
}

impl Part {
    /// The next of its points, and what is left of it.
    async fn read(
        self,
        conn: &mut PgConnection,
        stretch: &Stretch<'_>,
    ) -> Result<(Vec<SeriesPoint>, Option<Part>), StoreError> {
        let some = stretch.between(conn, self.from, self.before, AT_A_TIME).await?;
        let more = some.last().filter(|_| some.len() == AT_A_TIME);
        let rest = more.map(|last| Part { from: Some((last.taken_at, last.number + 1)), ..self });
        Ok((some, rest))
    }
}

impl Range {
    /// Its stretches phase by phase. A phase on trial is judged in full, since its limits move with what it holds, and so
    /// is what comes behind a point whose sums others go on from.
    fn parts(&self, setup: &CharacteristicView, phases: &[Phase]) -> Vec<Part> {
        let sums = setup.characteristic.scheme().keeps_sums();
        let first = self.from.map_or(0, |(at, _)| holding(phases, at));
        let starts_before = |held: usize| held == first || self.before.is_none_or(|b| phases[held].starts_at < b);
        let part = |held: usize| {
            let whole = phases[held].state == LimitsState::Trial;
            let ends_inside = self.before.filter(|before| holding(phases, *before) == held);
            Part {
                held,
                from: self.from.filter(|_| held == first && !whole),
                before: ends_inside.filter(|_| !whole && !sums),
            }
        };
        (first..phases.len()).filter(|&held| starts_before(held)).map(part).collect()
    }

    /// How many points there are to judge.
    #[compiled_once]
    pub async fn count(
        &self,
        conn: &mut PgConnection,
        setup: &CharacteristicView,
        phases: &[Phase],
    ) -> Result<usize, StoreError> {
        let schemes = setup.schemes();
        let mut all = 0;
        for Part { held, from, before } in self.parts(setup, phases) {
            let stretch = Stretch::of_phase(setup, &schemes, phases, held);
            all += stretch.count(&mut *conn, from, before).await?;
        }
        Ok(usize::try_from(all).unwrap_or(usize::MAX))
    }
}

/// Judges the points of a range again, phase after phase, against the limits that now hold for each; nothing is
/// written. `progress` is told how many points have been read.
pub(crate) async fn look_again(
    conn: &mut PgConnection,
    setup: &CharacteristicView,
    mut phases: Vec<Phase>,
    range: Range,
    mut progress: Progress<'_>,
) -> Result<Vec<Judged>, StoreError> {
    let schemes = setup.schemes();
    let mut judged = Vec::new();
    for part in range.parts(setup, &phases) {
        let held = part.held;
        fill_trial(&mut *conn, setup, &mut phases, held).await?;
        let stretch = Stretch::of_phase(setup, &schemes, &phases, held);
        let (mut middle, mut next) = (Vec::new(), Some(part));
        while let Some(rest) = next.take() {
            let some;
            (some, next) = rest.read(&mut *conn, &stretch).await?;
            progress.told(some.len()).await?;
            middle.extend(some);
        }
        if middle.is_empty() {
            continue;
        }
        judged.push(look(&mut *conn, setup, &stretch, (phases[held].clone(), held), middle).await?);
    }
    Ok(judged)
}

/// What becomes of the signals of a stretch, or of some points of it that follow one another.
async fn look(
    conn: &mut PgConnection,
    setup: &CharacteristicView,
    stretch: &Stretch<'_>,
    (phase, held): (Phase, usize),
    middle: Vec<SeriesPoint>,
) -> Result<Judged, StoreError> {
    let mut window = around(&mut *conn, stretch, phase.hold(), middle, AT_ONCE, None).await?;
    let (standing, changes) = reconciled(&mut *conn, setup, &mut window).await?;
    Ok(Judged { phase, held, window, standing, changes })
}

/// Judges the points of a range again and writes what that changes, some thousands at a time: a pattern that reaches
/// further goes on with the next.
pub(crate) async fn judge_again(
    act: &mut Act,
    setup: &CharacteristicView,
    mut phases: Vec<Phase>,
    range: Range,
    because: Because,
    mut progress: Option<Progress<'_>>,
) -> Result<(), StoreError> {
    let how = How { because, found: FoundBy::JudgingAgain, late: true };
    let schemes = setup.schemes();
    for part in range.parts(setup, &phases) {
        let held = part.held;
        fill_trial(act.conn(), setup, &mut phases, held).await?;
        let mut next = Some(part);
        while let Some(rest) = next.take() {
            let stretch = Stretch::of_phase(setup, &schemes, &phases, held);
            let some;
            (some, next) = rest.read(act.conn(), &stretch).await?;
            if let Some(progress) = &mut progress {
                progress.told(some.len()).await?;
            }
            if some.is_empty() {
                break;
            }
            let judged = look(act.conn(), setup, &stretch, (phases[held].clone(), held), some).await?;
            write(act, setup, &phases, &judged, how).await?;
        }
    }
    Ok(())
}
