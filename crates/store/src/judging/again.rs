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
use crate::phases::{Phase, holding};
use crate::series::{Rank, Stretch, around, fill_trial};
use crate::signals::Because;

/// Points read at a time, so that progress can be told.
const AT_A_TIME: usize = 10_000;

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
    mut progress: Option<Progress<'_>>,
) -> Result<Vec<Judged>, StoreError> {
    let schemes = setup.schemes();
    let mut judged = Vec::new();
    for Part { held, mut from, before } in range.parts(setup, &phases) {
        fill_trial(&mut *conn, setup, &mut phases, held).await?;
        let stretch = Stretch::of_phase(setup, &schemes, &phases, held);
        let mut middle = Vec::new();
        loop {
            let some = stretch.between(&mut *conn, from, before, AT_A_TIME).await?;
            let (read, last) = (some.len(), some.last().map(|point| (point.taken_at, point.number + 1)));
            middle.extend(some);
            if let Some(progress) = &mut progress {
                progress.told(read).await;
            }
            if read < AT_A_TIME {
                break;
            }
            from = last;
        }
        if middle.is_empty() {
            continue;
        }
        let phase = phases[held].clone();
        let mut window = around(&mut *conn, &stretch, phase.hold(), middle, AT_ONCE).await?;
        let (standing, changes) = reconciled(&mut *conn, setup, &mut window).await?;
        judged.push(Judged { phase, held, window, standing, changes });
    }
    Ok(judged)
}

/// Judges the points of a range again and writes what that changes.
pub(crate) async fn judge_again(
    act: &mut Act,
    setup: &CharacteristicView,
    phases: Vec<Phase>,
    range: Range,
    because: Because,
) -> Result<(), StoreError> {
    let how = How { because, found: FoundBy::JudgingAgain, late: true };
    for judged in look_again(act.conn(), setup, phases.clone(), range, None).await? {
        write(act, setup, &phases, &judged, how).await?;
    }
    Ok(())
}
