//! Whatever is saved, late, skipped, corrected, withdrawn or reviewed: the signals that stand in
//! PostgreSQL are those of one judgement of the whole chart.
//!
//! `NUVEK_STEPS=2000 cargo test -p store --test live_and_whole` takes that many steps with each chart
//! and rule set in place of 60.
#![allow(clippy::unwrap_used, clippy::expect_used, clippy::panic)]

mod common;

use std::collections::BTreeSet;

use chrono::{DateTime, Duration, Utc};
use common::{Site, accepted, give_limits, person, sample, site, wall_thickness};
use proptest::strategy::{Strategy, ValueTree};
use proptest::test_runner::{Config, RngAlgorithm, TestRng, TestRunner};
use quality::characteristic::{Bounds, Characteristic, Kind};
use quality::limits::Figures;
use quality::role::Role;
use quality::sample::{Content, Counts, Defects, Plotted, Readings, points};
use quality::signal::{Answer, Decision};
use rstest::rstest;
use spc::chart::{ChartAnswer, ChartKind, ChartRequest, Signal, Statistic, compute};
use spc::rules::{Preset, Rule, RuleSet, Side};
use sqlx::PgPool;
use sqlx::types::Json;
use store::characteristics::Belongs;
use store::samples::{NewSample, Visit, correct, save, withdraw};
use uuid::Uuid;

const STEPS: usize = 60;

/// A choice among `0..most`, the same in every run.
struct Chance(TestRunner);

impl Chance {
    fn new(seed: u8) -> Self {
        let rng = TestRng::from_seed(RngAlgorithm::ChaCha, &[seed; 32]);
        Self(TestRunner::new_with_rng(Config::default(), rng))
    }

    fn below(&mut self, most: usize) -> usize {
        (0..most).new_tree(&mut self.0).unwrap().current()
    }
}

fn rule_sets() -> [RuleSet; 5] {
    let list = vec![Rule::OneSide { n: 3 }, Rule::MOfN { m: 2, n: 4, k: 1.0 }, Rule::Beyond { k: 2.5 }];
    [
        RuleSet::Preset(Preset::WesternElectric),
        RuleSet::Preset(Preset::Nelson),
        RuleSet::Preset(Preset::SevenPoint),
        RuleSet::Preset(Preset::LimitsOnly),
        RuleSet::List(list),
    ]
}

fn characteristic(chart: ChartKind, rule_set: RuleSet, name: String) -> Characteristic {
    let free = Bounds::default();
    let measured = Characteristic { chart, rule_set, name, hard_bounds: free, soft_bounds: free, ..wall_thickness() };
    match chart {
        ChartKind::IMr => Characteristic { subgroup_size: 1, ..measured },
        ChartKind::XbarR | ChartKind::XbarS | ChartKind::MedianR => measured,
        _ => {
            let units = matches!(chart, ChartKind::P | ChartKind::Np | ChartKind::PPrime);
            let kind = if units { Kind::NonconformingUnits } else { Kind::Nonconformities };
            Characteristic { kind, defect_kinds: vec![], unit: "cartridges".into(), decimals: 0, ..measured }
        }
    }
}

fn in_force(chart: ChartKind) -> Figures {
    match chart {
        ChartKind::P | ChartKind::Np => Figures { center: 0.05, sigma: None, k: 3.0 },
        ChartKind::PPrime => Figures { center: 0.05, sigma: Some(1.2), k: 3.0 },
        ChartKind::C | ChartKind::U => Figures { center: 0.1, sigma: None, k: 3.0 },
        ChartKind::UPrime => Figures { center: 0.1, sigma: Some(1.2), k: 3.0 },
        _ => Figures { center: 5.0, sigma: Some(0.1), k: 3.0 },
    }
}

/// What a visit found: mostly above the centre, so that patterns grow long, on a coarse grid, so that
/// readings tie.
fn content(kind: Kind, pieces: usize, chance: &mut Chance) -> Content {
    if kind == Kind::Measured {
        let level = if chance.below(4) == 0 { chance.below(17) as f64 - 8.0 } else { 1.0 + chance.below(3) as f64 };
        let spread = chance.below(3) as f64;
        let mut values: Vec<Option<f64>> =
            (0..pieces).map(|i| Some(5.0 + 0.04 * (level + spread * (i as f64 - 1.0)))).collect();
        if pieces > 1 && chance.below(6) == 0 {
            // One piece alone has no range.
            values[1..].fill(None);
        }
        return Content::Readings(Readings { values, components: vec![] });
    }
    let inspected = [50, 50, 100][chance.below(3)];
    let count = if chance.below(5) == 0 { chance.below(24) } else { 3 + chance.below(4) };
    let count = u32::try_from(count).unwrap();
    let word = Some("flaw".to_owned());
    let defects = if count == 0 { vec![] } else { vec![Defects { kind: None, word, count }] };
    Content::Counts(Counts { inspected, defects })
}

/// A place of the series as it is stored.
struct Stored {
    sample: Uuid,
    version: i32,
    gap: bool,
    plotted: Plotted,
}

async fn series(pool: &PgPool, id: Uuid, kind: Kind) -> Vec<Stored> {
    type Row = (Uuid, i32, bool, Option<Vec<Option<f64>>>, Option<i32>, Option<i32>);
    let rows: Vec<Row> = sqlx::query_as(
        "select id, version, gap, readings, count, inspected from sample where characteristic_id = $1
         order by taken_at, number",
    )
    .bind(id)
    .fetch_all(pool)
    .await
    .unwrap();
    let stored = |(sample, version, gap, readings, count, inspected): Row| {
        let plotted = match (readings, count.zip(inspected)) {
            _ if gap => Plotted::gap(kind),
            (Some(values), _) => Plotted::Values(values.into_iter().flatten().collect()),
            (None, counts) => Plotted::Count(
                counts.map(|(count, size)| spc::points::Count { count: f64::from(count), size: f64::from(size) }),
            ),
        };
        Stored { sample, version, gap, plotted }
    };
    rows.into_iter().map(stored).collect()
}

/// A signal that stands, in places of the series.
struct Standing {
    id: Uuid,
    finding: Signal,
    state: String,
    version: i32,
}

async fn standing(pool: &PgPool, id: Uuid, series: &[Stored]) -> Vec<Standing> {
    type Row = (Uuid, String, Json<Rule>, Option<String>, Uuid, Uuid, Uuid, String, i32);
    let rows: Vec<Row> = sqlx::query_as(
        "select id, panel, rule, side, from_sample, at_sample, to_sample, state, version from signal
         where characteristic_id = $1 and withdrawn_at is null",
    )
    .bind(id)
    .fetch_all(pool)
    .await
    .unwrap();
    let place = |sample: Uuid| series.iter().position(|s| s.sample == sample).unwrap();
    let word = |word: String| serde_json::Value::String(word);
    rows.into_iter()
        .map(|(id, panel, rule, side, from, at, to, state, version)| {
            let panel: Statistic = serde_json::from_value(word(panel)).unwrap();
            let side: Option<Side> = side.map(|side| serde_json::from_value(word(side)).unwrap());
            let finding = Signal { panel, rule: rule.0, side, from: place(from), at: place(at), to: place(to) };
            Standing { id, finding, state, version }
        })
        .collect()
}

fn whole(characteristic: &Characteristic, figures: &Figures, series: &[Stored]) -> ChartAnswer {
    let places = points(characteristic.kind, series.iter().map(|s| &s.plotted));
    let request = ChartRequest {
        limits: vec![figures.as_given()],
        rules: Some(characteristic.rule_set.clone()),
        ..ChartRequest::new(characteristic.chart, places)
    };
    compute(&request).unwrap()
}

type Plain = (Statistic, String, Option<Side>, usize, usize, usize);

fn plain(f: &Signal) -> Plain {
    (f.panel, format!("{:?}", f.rule), f.side, f.from, f.at, f.to)
}

fn same(a: &Signal, b: &Signal) -> bool {
    (a.panel, a.rule, a.side) == (b.panel, b.rule, b.side)
}

fn tested(chart: &ChartAnswer, panel: Statistic) -> Vec<usize> {
    let panel = chart.panels.iter().find(|p| p.statistic == panel).unwrap();
    panel.points().enumerate().filter(|(_, point)| point.tested).map(|(i, _)| i).collect()
}

/// The findings of the whole chart without the points that a reviewed signal covers.
fn not_reviewed(chart: &ChartAnswer, standing: &[Standing]) -> BTreeSet<Plain> {
    let mut all: Vec<Signal> = Vec::new();
    for f in &chart.signals {
        let tested = tested(chart, f.panel);
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
fn flags<'a>(
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

/// One thing that happens to a characteristic; gives the sample that was saved or changed.
async fn step(
    pool: &PgPool,
    (site, id, kind, pieces): (&Site, Uuid, Kind, usize),
    now: i64,
    reviews: bool,
    chance: &mut Chance,
) -> Option<Uuid> {
    let all = series(pool, id, kind).await;
    let at: DateTime<Utc> = site.since + Duration::minutes(now);
    let engineer = person(site.engineer, Role::Engineer);
    let what = chance.below(100);
    if what < 84 || all.is_empty() {
        let minutes = if what < 12 { chance.below(usize::try_from(now).unwrap()) as i64 } else { now };
        let visit = if chance.below(6) == 0 {
            Visit::Skipped { because: "machine down".into() }
        } else {
            Visit::Taken(accepted(content(kind, pieces, chance)))
        };
        let new = NewSample { arrived_at: at, visit, ..sample(site, id, minutes, &[]) };
        return Some(save(pool, &new).await.unwrap().sample);
    }
    if what < 97 || !reviews {
        let chosen = &all[chance.below(all.len())];
        if chosen.gap {
            return None;
        }
        let (sample, version) = (chosen.sample, chosen.version);
        let changed = if what < 93 {
            let accepted = accepted(content(kind, pieces, chance));
            correct(pool, sample, version, &engineer, at, &accepted, "a slip").await
        } else {
            withdraw(pool, sample, version, &engineer, at, "wrong part").await
        };
        changed.unwrap();
        return Some(sample);
    }
    let standing = standing(pool, id, &all).await;
    let open: Vec<&Standing> = standing.iter().filter(|s| s.state == "open").collect();
    if !open.is_empty() {
        let signal = open[chance.below(open.len())];
        let answer = Answer { cause: None, cause_text: None, nothing_found: true, action: "Looked.".into() };
        store::signals::answer(pool, signal.id, signal.version, site.technician, at, answer).await.unwrap();
        let accepted = Decision::Accepted;
        store::signals::review(pool, signal.id, signal.version + 1, site.supervisor, at, accepted, None).await.unwrap();
    }
    None
}

fn steps() -> usize {
    std::env::var("NUVEK_STEPS").ok().and_then(|steps| steps.parse().ok()).unwrap_or(STEPS)
}

async fn add(pool: &PgPool, site: &Site, characteristic: &Characteristic, figures: Option<Figures>) -> Uuid {
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

#[rstest]
#[case::measured(&[ChartKind::IMr, ChartKind::XbarR, ChartKind::XbarS, ChartKind::MedianR])]
#[case::units(&[ChartKind::P, ChartKind::Np, ChartKind::PPrime])]
#[case::flaws(&[ChartKind::C, ChartKind::U, ChartKind::UPrime])]
#[sqlx::test]
async fn under_limits_in_force_what_stands_is_what_the_whole_chart_finds(
    #[ignore] pool: PgPool,
    #[case] charts: &[ChartKind],
) {
    let site = site(&pool, "").await;
    for (seed, (chart, rule_set)) in charts.iter().flat_map(|chart| rule_sets().map(|set| (*chart, set))).enumerate() {
        let characteristic = characteristic(chart, rule_set, format!("{chart:?} {seed}"));
        let figures = in_force(chart);
        let id = add(&pool, &site, &characteristic, Some(figures)).await;
        let mut chance = Chance::new(u8::try_from(seed).unwrap());
        for now in 1..=steps() {
            let of = (&site, id, characteristic.kind, characteristic.pieces());
            step(&pool, of, now as i64, true, &mut chance).await;
            let series = series(&pool, id, characteristic.kind).await;
            let standing = standing(&pool, id, &series).await;
            let chart = whole(&characteristic, &figures, &series);
            let open: Vec<Plain> = standing.iter().filter(|s| s.state == "open").map(|s| plain(&s.finding)).collect();
            let kept: BTreeSet<Plain> = open.iter().cloned().collect();
            assert_eq!(kept.len(), open.len(), "{} step {now}: doubled", characteristic.name);
            assert_eq!(kept, not_reviewed(&chart, &standing), "{} step {now}", characteristic.name);
        }
    }
}

#[rstest]
#[case::individuals(ChartKind::IMr)]
#[case::means(ChartKind::XbarR)]
#[case::medians(ChartKind::MedianR)]
#[case::shares(ChartKind::P)]
#[case::rates(ChartKind::UPrime)]
#[sqlx::test]
async fn on_trial_each_window_is_judged_by_the_limits_of_that_save(#[ignore] pool: PgPool, #[case] chart: ChartKind) {
    let site = site(&pool, "").await;
    for (seed, rule_set) in rule_sets().into_iter().enumerate() {
        let characteristic = characteristic(chart, rule_set, format!("{chart:?} {seed}"));
        let id = add(&pool, &site, &characteristic, None).await;
        let mut chance = Chance::new(100 + u8::try_from(seed).unwrap());
        for now in 1..=steps() {
            let of = (&site, id, characteristic.kind, characteristic.pieces());
            let Some(changed) = step(&pool, of, now as i64, false, &mut chance).await else { continue };
            let series = series(&pool, id, characteristic.kind).await;
            let changed = series.iter().position(|s| s.sample == changed).unwrap();
            let mut conn = pool.acquire().await.unwrap();
            let mut phases = store::phases::phases(&mut conn, id).await.unwrap();
            store::limits::fill_trial(&mut conn, (id, &characteristic), &mut phases, 0).await.unwrap();
            let kept = standing(&pool, id, &series).await;
            let kept = kept.iter().map(|s| &s.finding);
            let (chart, expected) = match phases[0].figures() {
                Some(figures) => {
                    let chart = whole(&characteristic, &figures, &series);
                    let flags = flags(&chart, &chart.signals, changed);
                    (chart, flags)
                }
                None => (whole(&characteristic, &in_force(chart), &series), BTreeSet::new()),
            };
            assert_eq!(flags(&chart, kept, changed), expected, "{} step {now}", characteristic.name);
        }
    }
}

/// Individuals in force about 5, and what was said of each place: a reading, or nothing for a gap.
async fn individuals(pool: &PgPool, places: &[Option<f64>]) -> (Uuid, Vec<Uuid>) {
    let site = site(pool, "").await;
    let set = RuleSet::Preset(Preset::WesternElectric);
    let individuals = characteristic(ChartKind::IMr, set, "Density".into());
    let id = add(pool, &site, &individuals, Some(in_force(ChartKind::IMr))).await;
    let mut samples = Vec::new();
    for (minutes, place) in places.iter().enumerate() {
        let visit = match place {
            Some(x) => Visit::Taken(accepted(Content::readings([*x]))),
            None => Visit::Skipped { because: "No product.".into() },
        };
        let new = NewSample { visit, ..sample(&site, id, minutes as i64, &[]) };
        samples.push(save(pool, &new).await.unwrap().sample);
    }
    (id, samples)
}

async fn found(pool: &PgPool, id: Uuid, panel: Statistic) -> Vec<Plain> {
    let series = series(pool, id, Kind::Measured).await;
    let standing = standing(pool, id, &series).await;
    standing.iter().filter(|s| s.finding.panel == panel).map(|s| plain(&s.finding)).collect()
}

/// Single samples among gaps have no moving range, so the run of eight reaches further back than eight.
#[rstest]
#[case::a_few(3)]
#[case::many(40)]
#[sqlx::test]
async fn a_run_of_moving_ranges_is_found_across_lone_samples(#[ignore] pool: PgPool, #[case] lone: usize) {
    let quiet = [5.02, 5.03, 4.98, 4.99, 5.01].map(Some);
    let among_gaps = (0..lone).flat_map(|_| [None, Some(4.98)]).chain([None]);
    let places: Vec<Option<f64>> = quiet.into_iter().chain(among_gaps).chain(quiet).collect();
    let (id, _) = individuals(&pool, &places).await;
    let last = places.len() - 1;
    let found = found(&pool, id, Statistic::MovingRange).await;
    assert_eq!(found, [(Statistic::MovingRange, "OneSide { n: 8 }".into(), Some(Side::Below), 1, last, last)]);
}

#[sqlx::test]
async fn two_runs_are_one_when_the_slip_between_them_is_corrected(pool: PgPool) {
    let high = [5.05, 5.06, 5.04, 5.05, 5.07, 5.05, 5.04, 5.06, 5.05].map(Some);
    let places: Vec<Option<f64>> = high.into_iter().chain([Some(5.0)]).chain(high).collect();
    let (id, samples) = individuals(&pool, &places).await;
    assert_eq!(found(&pool, id, Statistic::Individual).await.len(), 2);
    let engineer: Uuid =
        sqlx::query_scalar("select id from person where login = 'eve'").fetch_one(&pool).await.unwrap();
    let (now, content) = (Utc::now(), Content::readings([5.05]));
    let changed = correct(&pool, samples[9], 1, &person(engineer, Role::Engineer), now, &accepted(content), "misread")
        .await
        .unwrap();
    assert_eq!((changed.raised.len(), changed.withdrawn.len()), (0, 1));
    let one = [(Statistic::Individual, "OneSide { n: 8 }".into(), Some(Side::Above), 0, 7, 18)];
    assert_eq!(found(&pool, id, Statistic::Individual).await, one);
}

#[test]
fn every_chart_that_can_be_chosen_is_tried() {
    let tried = [
        ChartKind::IMr,
        ChartKind::XbarR,
        ChartKind::XbarS,
        ChartKind::MedianR,
        ChartKind::P,
        ChartKind::Np,
        ChartKind::PPrime,
        ChartKind::C,
        ChartKind::U,
        ChartKind::UPrime,
    ];
    for kind in [Kind::Measured, Kind::NonconformingUnits, Kind::Nonconformities] {
        assert!(kind.charts().iter().all(|chart| tried.contains(chart)), "{kind:?}");
    }
}
