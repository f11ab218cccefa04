//! Samples of charts on their way out, with what is said of each beside it.

use std::collections::{BTreeMap, BTreeSet, HashMap};

use chrono::{DateTime, SubsecRound, Utc};
use chrono_tz::Tz;
use formats::layout::{OutSample, Outgoing, Recorded};
use formats::table::Cell;
use quality::episode::{Pattern, patterns_told};
use quality::field::{Allowed, WrongField};
use quality::object::ObjectKind;
use quality::sample::Content;
use sqlx::PgPool;
use store::characteristics::CharacteristicView;
use store::charts::{Asked, ChartPoint, ChartSignal, ChartView, PLACES_AT_MOST};
use store::reports::{ReportAnswer, answers_of};
use uuid::Uuid;

use crate::failure::Failure;
use crate::json::word;
use crate::problem::Problem;

/// Samples of one table at most.
const SAMPLES_AT_MOST: usize = 200_000;

/// Which samples of a characteristic.
pub(super) struct Which<'a> {
    pub since: Option<DateTime<Utc>>,
    pub before: Option<DateTime<Utc>>,
    pub last: Option<u32>,
    pub tag: Option<&'a str>,
    pub value: Option<&'a str>,
    pub without_aside: bool,
    /// Stations that whoever asks sees; all where none are named.
    pub seen: Option<&'a [Uuid]>,
}

/// What stands beside each sample.
#[derive(Debug, Clone, Copy)]
pub(super) struct Beside {
    pub limits: bool,
    pub signals: bool,
    pub answers: bool,
}

/// Those of a characteristic.
pub(super) struct Selected {
    view: ChartView,
    /// Of its points.
    pub places: Vec<usize>,
    /// By episode.
    answers: HashMap<Uuid, Vec<ReportAnswer>>,
}

/// How a characteristic is called in a table with others.
pub(super) fn called(setup: &CharacteristicView) -> String {
    format!("{}, {}, {}", setup.characteristic.name, setup.product, setup.station)
}

/// Selects samples of a characteristic, beside so many that were selected before.
pub(super) async fn select(
    pool: &PgPool,
    characteristic: Uuid,
    which: &Which<'_>,
    (before, answers): (usize, bool),
) -> Result<Selected, Problem> {
    let asked = Asked {
        last: which.last.unwrap_or(PLACES_AT_MOST),
        until: None,
        from: None,
        to: None,
        since: which.since,
        before: which.before,
        drawn: PLACES_AT_MOST as usize,
    };
    let view = store::charts::view(pool, characteristic, &asked).await?;
    if which.seen.is_some_and(|stations| !stations.contains(&view.characteristic.station_id)) {
        return Err(Failure::Missing { object: ObjectKind::Characteristic }.into());
    }
    let is_meant = |point: &ChartPoint| {
        let told = which.tag.map(|tag| point.tags.get(tag).map(String::as_str));
        let has = match (told, which.value) {
            (None, _) => true,
            (Some(told), None) => told.is_some(),
            (Some(told), value) => told == value,
        };
        has && !(which.without_aside && point.aside.is_some())
    };
    let places: Vec<usize> = (0..view.points.len()).filter(|at| is_meant(&view.points[*at])).collect();
    let shown_all = view.points.len() < PLACES_AT_MOST as usize || which.last.is_some();
    if before + places.len() > SAMPLES_AT_MOST || !shown_all {
        return Err(WrongField::new("since", Allowed::Samples { most: SAMPLES_AT_MOST }).into());
    }
    let episodes: BTreeSet<Uuid> = view.signals.iter().map(|signal| signal.episode).filter(|_| answers).collect();
    let answers = answers_of(pool, &episodes.into_iter().collect::<Vec<_>>()).await?;
    Ok(Selected { view, places, answers })
}

/// What goes out.
pub(super) fn outgoing(selected: &[Selected], what: Beside, zone: Tz) -> Outgoing {
    let names = beside_names(selected, what);
    let several = selected.len() > 1;
    let samples = selected.iter().flat_map(|one| {
        let of = several.then(|| called(&one.view.characteristic));
        let names = &names;
        one.places.iter().map(move |at| {
            let point = &one.view.points[*at];
            let mut beside = one.beside(*at, what);
            OutSample {
                of: of.clone(),
                number: point.number,
                taken_at: point.taken_at.with_timezone(&zone).naive_local().trunc_subsecs(0),
                recorded: recorded(point, &one.view.characteristic),
                tags: point.tags.iter().map(|(name, text)| (name.to_owned(), text.to_owned())).collect(),
                beside: names.iter().map(|name| beside.remove(name).unwrap_or(Cell::Empty)).collect(),
            }
        })
    });
    let samples = samples.collect();
    let first = selected.first().map(|one| one.view.characteristic.characteristic.name.clone());
    let title = if several { "Samples".to_owned() } else { first.unwrap_or_default() };
    let about = selected.iter().flat_map(|one| {
        let setup = &one.view.characteristic;
        let unit =
            (!setup.characteristic.unit.is_empty()).then(|| ("unit".to_owned(), setup.characteristic.unit.clone()));
        std::iter::once(("characteristic".to_owned(), called(setup))).chain(unit)
    });
    Outgoing { title, about: about.chain([("clock".to_owned(), zone.to_string())]).collect(), beside: names, samples }
}

fn recorded(point: &ChartPoint, setup: &CharacteristicView) -> Recorded {
    match &point.content {
        Some(_) if point.gap.is_some() => Recorded::Nothing,
        None => Recorded::Nothing,
        Some(Content::Readings(readings)) => Recorded::Readings(readings.values.clone()),
        // The time between two events; of the first one nothing is known.
        Some(Content::Event(event)) => match event.between {
            Some(between) => Recorded::Readings(vec![Some(between)]),
            None => Recorded::Nothing,
        },
        Some(Content::Counts(counts)) => {
            let kind = |found: &quality::sample::Defects| (found.name(&setup.characteristic), f64::from(found.count));
            Recorded::Counts {
                inspected: f64::from(counts.inspected),
                kinds: counts.defects.iter().map(kind).collect(),
            }
        }
    }
}

fn pattern(signal: &ChartSignal) -> Pattern {
    let ChartSignal { rule, panel, side, from, to, .. } = *signal;
    Pattern { rule, panel, side, points: to - from + 1, signals: 1 }
}

const LINES: [&str; 4] = ["lower", "center", "upper", "flagged"];

/// Names of what stands beside samples, those of each panel once.
fn beside_names(selected: &[Selected], what: Beside) -> Vec<String> {
    let mut names: Vec<String> = vec![];
    for panel in selected.iter().flat_map(|one| &one.view.panels).filter(|_| what.limits) {
        let statistic = word(panel.statistic);
        if !names.contains(&statistic) {
            names.push(statistic.clone());
            names.extend(LINES.map(|line| format!("{statistic}_{line}")));
        }
    }
    names.extend(["set_aside", "gap"].map(str::to_owned));
    if what.signals {
        names.extend(["signals", "signals_state"].map(str::to_owned));
    }
    if what.answers {
        names.push("answers".into());
    }
    names
}

impl Selected {
    /// What is said of a sample, by name.
    fn beside(&self, at: usize, what: Beside) -> BTreeMap<String, Cell> {
        let point = &self.view.points[at];
        let mut said = BTreeMap::new();
        for panel in self.view.panels.iter().filter(|_| what.limits) {
            let (statistic, of) = (word(panel.statistic), &panel.points[at]);
            for (line, figure) in LINES.iter().zip([of.lower, of.center, of.upper]) {
                said.insert(format!("{statistic}_{line}"), Cell::from(figure.get()));
            }
            let flagged = if of.flagged { "flagged".into() } else { Cell::Empty };
            said.insert(format!("{statistic}_flagged"), flagged);
            said.insert(statistic, Cell::from(of.value.get()));
        }
        said.insert("set_aside".into(), point.aside.as_ref().map(|said| said.because.as_str()).into());
        said.insert("gap".into(), point.gap.as_ref().map(|gap| gap.because.as_str()).into());
        let here = || self.view.signals.iter().filter(|it| (it.from..=it.to).contains(&point.place));
        let lines = |texts: Vec<String>| Cell::from((!texts.is_empty()).then(|| texts.join("\n")));
        if what.signals {
            said.insert("signals".into(), lines(here().filter_map(|it| patterns_told(&[pattern(it)])).collect()));
            said.insert("signals_state".into(), lines(here().map(|it| word(it.state)).collect()));
        }
        if what.answers {
            let told = |answer: &ReportAnswer| {
                let cause = answer.cause.as_deref().unwrap_or("nothing found");
                format!("{}: {cause}; {}", answer.person, answer.action)
            };
            let episodes: BTreeSet<Uuid> = here().map(|it| it.episode).collect();
            let answers = episodes.iter().filter_map(|id| self.answers.get(id)).flatten().map(told);
            said.insert("answers".into(), lines(answers.collect()));
        }
        said
    }
}
