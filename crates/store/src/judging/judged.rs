//! A stretch that was judged: what changes about its signals, and writing that.

use quality::judging::{Change, StandingSignal, reconcile};
use quality::limits::LimitsState;
use quality::notice::NoticeKind;
use quality::signal::FoundBy;
use sqlx::PgConnection;
use uuid::Uuid;

use crate::act::Act;
use crate::characteristics::CharacteristicView;
use crate::episodes::{Extent, Judging};
use crate::news::News;
use crate::notices::{About, NewNotice, raise};
use crate::phases::Phase;
use crate::series::Window;
use crate::signals::{self, Basis, Because, Raised, Stands};
use crate::{StoreError, episodes, sites, sums};

/// A stretch that was judged.
pub(crate) struct Judged {
    pub phase: Phase,
    /// Its place among the phases.
    pub held: usize,
    pub window: Window,
    pub standing: Vec<Stands>,
    pub changes: Vec<Change>,
}

/// How something was judged.
#[derive(Debug, Clone, Copy)]
pub(crate) struct How {
    pub because: Because,
    pub found: FoundBy,
    /// What is found had its place among later samples.
    pub late: bool,
}

/// What judging brought about.
#[derive(Debug, Default)]
pub(crate) struct Outcome {
    /// Signals that were raised or taken up.
    pub raised: usize,
    pub withdrawn: usize,
    /// Episodes that ask now and did not before.
    pub asking: Vec<Uuid>,
    /// A pattern that is known goes on.
    pub goes_on: bool,
    /// One sample at the end of its chart was judged, and nothing but its point is new: no signal, no other line.
    pub alone: bool,
}

/// The signals that stand in a judged window, and what changes about them.
pub(super) async fn reconciled(
    conn: &mut PgConnection,
    setup: &CharacteristicView,
    window: &mut Window,
) -> Result<(Vec<Stands>, Vec<Change>), StoreError> {
    window.chart.signals.retain(|signal| setup.shows(signal.panel));
    let standing = signals::standing(conn, setup.id, window).await?;
    let as_seen: Vec<StandingSignal> = standing.iter().map(|stands| stands.as_seen).collect();
    let changes = reconcile(&window.judgement(&window.places()), &as_seen);
    Ok((standing, changes))
}

/// Writes what a judged window changes, and gathers its signals into episodes.
pub(crate) async fn write(
    act: &mut Act,
    setup: &CharacteristicView,
    phases: &[Phase],
    judged: &Judged,
    how: How,
) -> Result<Outcome, StoreError> {
    let How { because, found, late } = how;
    let Judged { phase, window, standing, changes, .. } = judged;
    let newest = !late && found == FoundBy::Sample && window.changed + 1 == window.points.len();
    let alone = newest && changes.is_empty() && phase.state != LimitsState::Trial;
    let mut outcome = Outcome { alone, ..Outcome::default() };
    let schemes = setup.schemes();
    let shift_began = match changes.is_empty() {
        true => None,
        false => sites::calendar(act.conn()).await?.at(because.at).map(|turn| turn.began),
    };
    let (limits, hold) = (phase.limits, phase.hold());
    let basis = Basis { characteristic: setup.id, limits, hold, schemes: &schemes, late, found, shift_began, because };
    let (mut signals, mut raised) = (Vec::with_capacity(changes.len()), Raised::default());
    for change in changes {
        let (signal, deed) = signals::apply(act.conn(), &basis, (window, standing), *change, &mut raised).await?;
        signals.push(signal);
        match change {
            Change::Raise { .. } | Change::TakeUp { .. } => outcome.raised += 1,
            Change::Withdraw { .. } => outcome.withdrawn += 1,
            Change::Grow { .. } | Change::Reshape { .. } => {}
        }
        act.did(setup.id, deed, News::Sample { characteristic: setup.id, added: None });
    }
    raised.write(act.conn(), &basis).await?;
    let goes_on = |change: &Change| matches!(change, Change::Raise { .. } | Change::Grow { .. });
    let at_the_end = !late && found == FoundBy::Sample && changes.iter().all(goes_on);
    let (first, last) = (&window.points[window.changed], &window.points[window.points.len() - 1]);
    let among = (!at_the_end).then(|| Extent { from: first.rank(), to: last.rank() });
    let judging = Judging { setup, phases, signals: &signals, among, at: because.at };
    outcome.asking = episodes::gathered(act, &judging).await?;
    // Trial limits move with each point: nobody is called for them. Of a level, its run calls.
    let calls = phase.state != LimitsState::Trial && setup.analyte.is_none();
    for episode in outcome.asking.iter().filter(|_| calls) {
        let about = About::Episode(*episode);
        let (kind, station) = (NoticeKind::EpisodeRaised, Some(setup.station_id));
        raise(act, NewNotice { kind, at: because.at, station, person: None, about }).await?;
    }
    outcome.goes_on = outcome.asking.is_empty() && signals.len() > outcome.withdrawn;
    if schemes.get(window.points[window.changed].place.scheme).keeps_sums() {
        sums::keep(act.conn(), window).await?;
    }
    Ok(outcome)
}
