//! A characteristic whose series something happens to at random, and one judgement of the whole of it.

use std::collections::{BTreeMap, BTreeSet};

use chrono::{DateTime, Duration, Utc};
use proptest::strategy::{Strategy, ValueTree};
use proptest::test_runner::{Config, RngAlgorithm, TestRng, TestRunner};
use quality::characteristic::{Bounds, Characteristic, Kind, Sampling};
use quality::episode::{Aspect, Span};
use quality::place::{Place, points, where_so};
use quality::sample::{Content, Counts, Defects, Plotted, RareEvent, Readings};
use spc::chart::{ChartAnswer, ChartKind, ChartRequest, Figures, Limits, LimitsBasis, Signal, Statistic, compute};
use spc::rules::{Preset, Rule, RuleSet, Side};
use sqlx::PgPool;
use sqlx::types::Json;
use store::StoreError;
use store::characteristics::Belongs;
use store::samples::{NewSample, Visit, save};
use uuid::Uuid;

use crate::common::{Site, give_limits, wall_thickness};

pub const STEPS: usize = 60;

/// A choice among `0..most`, the same in every run.
pub struct Chance(TestRunner);

impl Chance {
    pub fn new(seed: u8) -> Self {
        let rng = TestRng::from_seed(RngAlgorithm::ChaCha, &[seed; 32]);
        Self(TestRunner::new_with_rng(Config::default(), rng))
    }

    pub fn below(&mut self, most: usize) -> usize {
        (0..most).new_tree(&mut self.0).unwrap().current()
    }
}

pub fn rule_sets() -> [RuleSet; 5] {
    let list = [Rule::OneSide { n: 3 }, Rule::MOfN { m: 2, n: 4, k: 1.0 }, Rule::Beyond { k: 2.5 }];
    [
        RuleSet::Preset(Preset::WesternElectric),
        RuleSet::Preset(Preset::Nelson),
        RuleSet::Preset(Preset::SevenPoint),
        RuleSet::Preset(Preset::LimitsOnly),
        RuleSet::of(list),
    ]
}

pub fn characteristic(chart: ChartKind, rule_set: RuleSet, name: String) -> Characteristic {
    let free = Bounds::default();
    let measured = Characteristic { chart, rule_set, name, hard_bounds: free, soft_bounds: free, ..wall_thickness() };
    match chart {
        ChartKind::IMr => Characteristic { subgroup_size: 1, ..measured },
        _ if Kind::Measured.charts().contains(&chart) => measured,
        ChartKind::G | ChartKind::T => Characteristic {
            kind: Kind::RareEvent,
            sampling: Sampling::Never,
            unit: if chart == ChartKind::T { "h" } else { "cartridges" }.into(),
            subgroup_size: 1,
            decimals: 0,
            ..measured
        },
        _ => {
            let units = matches!(chart, ChartKind::P | ChartKind::Np | ChartKind::PPrime);
            let kind = if units { Kind::NonconformingUnits } else { Kind::Nonconformities };
            Characteristic { kind, defect_kinds: vec![], unit: "cartridges".into(), decimals: 0, ..measured }
        }
    }
}

pub fn in_force(chart: ChartKind) -> Figures {
    match chart {
        ChartKind::P | ChartKind::Np => Figures::centered(0.05),
        ChartKind::PPrime => Figures::new(0.05, 1.2),
        ChartKind::C | ChartKind::U => Figures::centered(0.1),
        ChartKind::UPrime => Figures::new(0.1, 1.2),
        ChartKind::G => Figures::centered(20.0),
        ChartKind::T => Figures { shape: Some(1.2), scale: Some(0.2), ..Figures::default() },
        ChartKind::BetweenWithin => Figures { sigma_between: Some(0.05), mean_n: Some(3.0), ..Figures::new(5.0, 0.1) },
        _ => Figures::new(5.0, 0.1),
    }
}

/// What a visit found: mostly above the centre, so that patterns grow long, on a coarse grid, so that
/// readings tie.
pub fn content(characteristic: &Characteristic, chance: &mut Chance) -> Content {
    let (kind, pieces) = (characteristic.kind, characteristic.pieces());
    if kind == Kind::Measured {
        let level = if chance.below(4) == 0 { chance.below(17) as f64 - 8.0 } else { 1.0 + chance.below(3) as f64 };
        let spread = chance.below(3) as f64;
        let mut values: Vec<Option<f64>> =
            (0..pieces).map(|i| Some(5.0 + 0.04 * (level + spread * (i as f64 - 1.0)))).collect();
        // Between and within, unequal pieces would be another chart.
        if pieces > 1 && characteristic.chart != ChartKind::BetweenWithin && chance.below(6) == 0 {
            // One piece alone has no range.
            values[1..].fill(None);
        }
        return Content::Readings(Readings { values, components: vec![] });
    }
    if kind == Kind::RareEvent {
        let between = if chance.below(5) == 0 { chance.below(200) } else { 20 + chance.below(5) };
        let by_time = characteristic.asks_when();
        return Content::Event(RareEvent { between: (!by_time).then_some(between as f64) });
    }
    let inspected = [50, 50, 100][chance.below(3)];
    let count = if chance.below(5) == 0 { chance.below(24) } else { 3 + chance.below(4) };
    let count = u32::try_from(count).unwrap();
    let word = Some("flaw".to_owned());
    let defects = if count == 0 { vec![] } else { vec![Defects { kind: None, word, count }] };
    Content::Counts(Counts { inspected, defects })
}

/// Saves a sample some seconds into its minute; gives it, unless an event was entered for the same moment.
pub async fn save_unless_there(pool: &PgPool, mut new: NewSample, chance: &mut Chance) -> Option<Uuid> {
    if matches!(&new.visit, Visit::Taken(accepted) if matches!(accepted.content, Content::Event(_))) {
        new.taken_at += Duration::seconds(chance.below(60) as i64);
    }
    match save(pool, &new).await {
        Ok(saved) => Some(saved.sample),
        Err(StoreError::EventThere) => None,
        Err(error) => panic!("{error}"),
    }
}

/// A place of the series as it is stored.
pub struct Stored {
    pub sample: Uuid,
    pub version: i32,
    pub gap: bool,
    pub place: Place,
    pub taken_at: DateTime<Utc>,
}

pub async fn series(pool: &PgPool, id: Uuid, characteristic: &Characteristic) -> Vec<Stored> {
    type Row =
        (Uuid, i32, bool, Option<Vec<Option<f64>>>, Option<i32>, Option<i32>, Option<f64>, bool, bool, DateTime<Utc>);
    let kind = characteristic.kind;
    let rows: Vec<Row> = sqlx::query_as(
        "select id, version, gap, readings, count, inspected, distance, aside, restart, taken_at from sample
         where characteristic_id = $1 order by taken_at, number",
    )
    .bind(id)
    .fetch_all(pool)
    .await
    .unwrap();
    let mut last: Option<DateTime<Utc>> = None;
    let stored = |(sample, version, gap, readings, count, inspected, distance, aside, restart, taken_at): Row| {
        // Hours are not taken from the database, but found anew from the times of all events.
        let hours = last.filter(|_| !gap).map(|last| (taken_at - last).num_microseconds().unwrap() as f64 / 3.6e9);
        last = if gap { last } else { Some(taken_at) };
        let plotted = match (readings, count.zip(inspected)) {
            _ if gap => Plotted::gap(kind),
            _ if characteristic.asks_when() => Plotted::Between(hours),
            _ if kind == Kind::RareEvent => Plotted::Between(distance),
            (Some(values), _) => Plotted::Values(values.into_iter().flatten().collect()),
            (None, counts) => Plotted::Count(
                counts.map(|(count, size)| spc::points::Count { count: f64::from(count), size: f64::from(size) }),
            ),
        };
        Stored { sample, version, gap, place: Place { aside, restart, ..Place::of(plotted) }, taken_at }
    };
    rows.into_iter().map(stored).collect()
}

/// A signal that stands, in places of the series.
pub struct Standing {
    pub id: Uuid,
    pub finding: Signal,
    pub state: String,
    pub episode: Uuid,
}

pub async fn standing(pool: &PgPool, id: Uuid, series: &[Stored]) -> Vec<Standing> {
    type Row = (Uuid, String, Json<Rule>, Option<String>, Uuid, Uuid, Uuid, String, Uuid);
    let rows: Vec<Row> = sqlx::query_as(
        "select id, panel, rule, side, from_sample, at_sample, to_sample, state, episode_id from signal
         where characteristic_id = $1 and withdrawn_at is null",
    )
    .bind(id)
    .fetch_all(pool)
    .await
    .unwrap();
    let place = |sample: Uuid| series.iter().position(|s| s.sample == sample).unwrap();
    let word = |word: String| serde_json::Value::String(word);
    rows.into_iter()
        .map(|(id, panel, rule, side, from, at, to, state, episode)| {
            let panel: Statistic = serde_json::from_value(word(panel)).unwrap();
            let side: Option<Side> = side.map(|side| serde_json::from_value(word(side)).unwrap());
            let finding = Signal { panel, rule: rule.0, side, from: place(from), at: place(at), to: place(to) };
            Standing { id, finding, state, episode }
        })
        .collect()
}

/// The whole chart judged at once, each phase by its figures.
pub fn whole(characteristic: &Characteristic, phases: &[(DateTime<Utc>, Figures)], series: &[Stored]) -> ChartAnswer {
    let places: Vec<Place> = series.iter().map(|s| s.place.clone()).collect();
    // What was sampled before the first phase counts to it; one that begins behind the last has no points yet.
    let mut starts: Vec<(usize, Figures)> = Vec::new();
    for (begins, figures) in phases {
        let start = series.partition_point(|s| s.taken_at < *begins);
        let start = if starts.is_empty() { 0 } else { start };
        if start < series.len() {
            starts.push((start, *figures));
        }
    }
    let request = ChartRequest {
        phases: starts.iter().map(|(start, _)| *start).collect(),
        limits: starts
            .iter()
            .map(|(_, figures)| Limits { basis: LimitsBasis::Given(*figures), k: characteristic.k })
            .collect(),
        excluded: where_so(&places, |place| place.aside),
        restarts: where_so(&places, |place| place.restart),
        rules: Some(characteristic.rule_set.clone()),
        options: characteristic.options.clone(),
        ..ChartRequest::new(characteristic.chart, points(characteristic.kind, &places))
    };
    compute(&request).unwrap()
}

pub type Plain = (Statistic, String, Option<Side>, usize, usize, usize);

pub fn plain(f: &Signal) -> Plain {
    (f.panel, format!("{:?}", f.rule), f.side, f.from, f.at, f.to)
}

pub fn same(a: &Signal, b: &Signal) -> bool {
    (a.panel, a.rule, a.side) == (b.panel, b.rule, b.side)
}

pub fn tested(chart: &ChartAnswer, panel: Statistic) -> Vec<usize> {
    let panel = chart.panels.iter().find(|p| p.statistic == panel).unwrap();
    panel.points().enumerate().filter(|(_, point)| point.tested).map(|(i, _)| i).collect()
}

/// The findings of the whole chart without the points that a reviewed signal covers.
pub fn not_reviewed(chart: &ChartAnswer, series: &[Stored], standing: &[Standing]) -> BTreeSet<Plain> {
    let mut all: Vec<Signal> = Vec::new();
    for f in &chart.signals {
        let restart = (0..=f.at).rev().find(|&i| series[i].place.restart).unwrap_or(0);
        let phase = chart.phases.iter().rev().map(|phase| phase.start).find(|start| *start <= f.at).unwrap();
        let tested: Vec<usize> = tested(chart, f.panel).into_iter().filter(|&i| i >= restart.max(phase)).collect();
        let reviewed: Vec<&Signal> =
            standing.iter().filter(|s| s.state == "reviewed" && same(&s.finding, f)).map(|s| &s.finding).collect();
        let mut goes_on = false;
        for (n, &i) in tested.iter().enumerate().filter(|(_, i)| f.at <= **i && **i <= f.to) {
            if reviewed.iter().any(|s| s.at <= i && i <= s.to) {
                goes_on = false;
            } else if goes_on {
                all.last_mut().unwrap().to = i;
            } else {
                all.push(Signal { from: tested[(n + 1).saturating_sub(f.rule.window())], at: i, to: i, ..*f });
                goes_on = true;
            }
        }
    }
    all.iter().map(plain).collect()
}

/// Flags at the places whose rule windows hold the place that changed.
pub fn flags<'a>(
    chart: &ChartAnswer,
    found: impl IntoIterator<Item = &'a Signal>,
    changed: usize,
) -> BTreeSet<(Statistic, String, Option<Side>, usize)> {
    let mut all = BTreeSet::new();
    for f in found {
        let tested = tested(chart, f.panel);
        // The place itself and the moving range after it, and behind those a window less one.
        let behind = tested.iter().filter(|&&i| i > changed + 1).nth(f.rule.window().saturating_sub(2));
        let last = if f.rule.window() == 1 { changed + 1 } else { behind.copied().unwrap_or(usize::MAX) };
        for &i in tested.iter().filter(|&&i| changed <= i && i <= last && f.at <= i && i <= f.to) {
            all.insert((f.panel, format!("{:?}", f.rule), f.side, i));
        }
    }
    all
}

pub fn steps() -> usize {
    std::env::var("NUVEK_STEPS").ok().and_then(|steps| steps.parse().ok()).unwrap_or(STEPS)
}

pub async fn add(pool: &PgPool, site: &Site, characteristic: &Characteristic, figures: Option<Figures>) -> Uuid {
    let mut conn = pool.acquire().await.unwrap();
    let product = sqlx::query_scalar("select id from product").fetch_one(&mut *conn).await.unwrap();
    let belongs = Belongs { station: site.station, product, since: site.since };
    drop(conn);
    let id = store::plan::add_characteristic(pool, belongs, characteristic, site.engineer).await.unwrap();
    if let Some(figures) = figures {
        give_limits(pool, id, figures, site.engineer, site.since).await;
    }
    id
}

/// The signals that stand and are not reviewed, by the episodes they are kept in.
pub fn in_episodes(standing: &[Standing]) -> BTreeSet<BTreeSet<Uuid>> {
    let mut episodes: BTreeMap<Uuid, BTreeSet<Uuid>> = BTreeMap::new();
    for signal in standing.iter().filter(|signal| signal.state != "reviewed") {
        episodes.entry(signal.episode).or_default().insert(signal.id);
    }
    episodes.into_values().collect()
}

/// The same, gathered all at once. `starts` are the places where phases begin.
pub fn gathered(series: &[Stored], standing: &[Standing], starts: &[usize]) -> BTreeSet<BTreeSet<Uuid>> {
    let tested: Vec<usize> = (0..series.len()).filter(|&i| !series[i].gap && !series[i].place.aside).collect();
    let position = |place: usize| tested.partition_point(|&i| i < place);
    let cut = |&place: &usize| series[place].place.restart || starts.contains(&place);
    let cuts: Vec<usize> = (0..series.len()).filter(cut).map(position).collect();
    let span = |signal: &Standing| {
        let Signal { panel, side, from, to, .. } = signal.finding;
        let from = position(from);
        let to = (position(to + 1)).saturating_sub(1).max(from);
        Span { aspect: Aspect::of(panel), side, from, to, reviewed: signal.state == "reviewed" }
    };
    let spans: Vec<Span> = standing.iter().map(span).collect();
    let ids = |episode: quality::episode::Episode| episode.signals.into_iter().map(|i| standing[i].id).collect();
    quality::episode::gather(&spans, &cuts).into_iter().map(ids).collect()
}
