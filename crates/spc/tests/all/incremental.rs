//! One contract for two ways of judging: a whole chart at once, and each point when it arrives from
//! nothing but the figures in force and the last window of points.

use proptest::prelude::*;
use spc::chart::{
    ChartAnswer, ChartKind, ChartOptions, ChartRequest, Figures, Judged, Limits, LimitsBasis, PanelPoint, Place,
    Signal, Statistic, Sums, Watch, compute,
};
use spc::points::{Point, Points};
use spc::rules::{BLOCK, Beyond, Flag, Judge, LOOKS_BACK, Rule, RuleSet, Side, Tested, WordJudge};

use crate::common::{self, rule_sets, series};

/// A series under given limits, cut into phases, with points set aside, gaps and restarts.
fn requests() -> impl Strategy<Value = ChartRequest> {
    (
        prop::collection::vec(prop::collection::vec(-8i32..=8, 0..4), 1..60),
        common::measured().prop_filter("sized by its points", |(chart, _)| *chart != ChartKind::BetweenWithin),
        prop::collection::btree_set(1usize..60, 0..3),
        prop::collection::btree_set(0usize..60, 0..6),
        prop::collection::btree_set(0usize..60, 0..4),
        rule_sets(),
        (2usize..5, 1usize..6, any::<bool>()),
    )
        .prop_map(|(values, (chart, _), phases, excluded, restarts, rules, (span, width, fast_start))| {
            let most = if chart == ChartKind::IMr { 1 } else { 4 };
            let mut readings: Vec<Vec<f64>> = values
                .iter()
                .map(|values| values.iter().take(most).map(|&half| f64::from(half) / 2.0).collect())
                .collect();
            readings[0] = vec![0.5];
            let count = readings.len();
            let within =
                |places: std::collections::BTreeSet<usize>| places.into_iter().filter(|&i| i < count).collect();
            let phases: Vec<usize> = std::iter::once(0).chain(within(phases)).collect();
            // Each phase is judged against figures of its own.
            let limits = (0..phases.len())
                .map(|i| Limits::given(0.25 * i as f64, 1.0 + 0.5 * i as f64, 3.0 - 0.5 * i as f64))
                .collect();
            ChartRequest {
                phases,
                excluded: within(excluded),
                restarts: within(restarts),
                limits,
                rules: Some(rules),
                options: ChartOptions { span, width, fast_start, ..ChartOptions::default() },
                ..ChartRequest::new(chart, readings)
            }
        })
}

/// Keeps up signals and panels as somebody would who sees one point at a time.
#[derive(Default)]
struct Kept {
    signals: Vec<Signal>,
    panels: Vec<Vec<PanelPoint>>,
    sums: Vec<Option<Sums>>,
}

impl Kept {
    /// Shows point `i` to a watch that began at `first`, and keeps what it says.
    fn push(&mut self, watch: &mut Watch, request: &ChartRequest, i: usize, first: usize) {
        watch.push(request.points.get(i), request.excluded.contains(&i), |judged| self.judged(&judged, first));
        let panels: Vec<PanelPoint> = watch.newest().collect();
        self.panels.resize(panels.len(), vec![]);
        self.panels.iter_mut().zip(panels).for_each(|(kept, point)| kept.push(point));
        self.sums.push(watch.sums());
    }

    fn judged(&mut self, judged: &Judged, first: usize) {
        let found = judged.signal();
        let found = Signal { at: found.at + first, from: found.from + first, to: found.to + first, ..found };
        let same = |s: &&mut Signal| s.panel == found.panel && s.rule == found.rule && s.side == found.side;
        match self.signals.iter_mut().rfind(same).filter(|_| judged.flag.goes_on) {
            Some(going_on) => going_on.to = found.at,
            None => self.signals.push(found),
        }
    }
}

fn watch(request: &ChartRequest, phase: usize) -> Watch {
    Watch::new(request.chart, &request.limits[phase], request.rules.as_ref(), &request.options).unwrap()
}

fn phase_of(request: &ChartRequest, i: usize) -> usize {
    request.phases.partition_point(|&start| start <= i) - 1
}

/// Judges point `i` from the window before it: as many tested points of each panel as the longest rule
/// looks at and one more, and what moving statistics reach back before them.
fn judge_one(request: &ChartRequest, i: usize, kept: &mut Kept) {
    let phase = phase_of(request, i);
    let start = request.phases[phase];
    let aside = |i: usize| request.excluded.contains(&i);
    let counts = |i: &usize| !aside(*i) && !request.points.get(*i).is_gap();
    // Panels differ in which points they test: a single piece has no range, a moving range may touch
    // what is set aside.
    let wanted = request.rules.as_ref().unwrap().longest_window() + 1;
    let reach = |panel: &Vec<PanelPoint>| (start..i).rev().filter(|&j| panel[j].tested).nth(wanted).unwrap_or(start);
    let tested_from = kept.panels.iter().map(reach).min().unwrap_or(start);
    let before = (start..tested_from).rev().filter(counts).nth(request.options.span.max(request.options.width));
    let mut first = before.unwrap_or(start);
    let mut watch = watch(request, phase);
    if matches!(request.chart, ChartKind::Ewma | ChartKind::Cusum) {
        // What remembers everything goes on from its sums, and looks back no further.
        first = i;
    }
    if let Some(sums) = kept.sums.last().copied().flatten().filter(|_| first > start) {
        watch.resume(sums);
    }
    for j in first..i {
        if request.restarts.contains(&j) {
            watch.restart();
        }
        watch.push(request.points.get(j), aside(j), |_| {});
    }
    if request.restarts.contains(&i) {
        watch.restart();
    }
    kept.push(&mut watch, request, i, first);
}

fn same_signals(batch: &ChartAnswer, kept: &Kept) -> Result<(), TestCaseError> {
    let sorted = |signals: &[Signal]| {
        let mut all: Vec<String> = signals.iter().map(|s| format!("{s:?}")).collect();
        all.sort();
        all
    };
    prop_assert_eq!(sorted(&batch.signals), sorted(&kept.signals));
    Ok(())
}

fn same_panels(batch: &ChartAnswer, kept: &Kept) -> Result<(), TestCaseError> {
    prop_assert_eq!(batch.panels.len(), kept.panels.len());
    for (whole, one_by_one) in batch.panels.iter().zip(&kept.panels) {
        prop_assert_eq!(whole.points().count(), one_by_one.len());
        for (a, b) in whole.points().zip(one_by_one) {
            prop_assert_eq!(a.flagged, b.flagged);
            for (a, b) in [(a.value, b.value), (a.center, b.center), (a.lower, b.lower), (a.upper, b.upper), (a.z, b.z)]
            {
                prop_assert!(common::figures_close(a, b), "{a:?} is not {b:?}");
            }
        }
    }
    Ok(())
}

proptest! {
    #[test]
    fn each_point_from_its_window_equals_the_whole_chart(request in requests()) {
        let batch = compute(&request).unwrap();
        let mut kept = Kept::default();
        for i in 0..request.points.len() {
            judge_one(&request, i, &mut kept);
        }
        same_signals(&batch, &kept)?;
        same_panels(&batch, &kept)?;
    }

    #[test]
    fn a_watch_kept_all_along_equals_the_whole_chart(request in requests()) {
        let batch = compute(&request).unwrap();
        let mut kept = Kept::default();
        for (phase, &start) in request.phases.iter().enumerate() {
            let end = request.phases.get(phase + 1).copied().unwrap_or(request.points.len());
            let mut watch = watch(&request, phase);
            for i in start..end {
                if request.restarts.contains(&i) {
                    watch.restart();
                }
                kept.push(&mut watch, &request, i, start);
            }
        }
        same_signals(&batch, &kept)?;
        same_panels(&batch, &kept)?;
    }

    #[test]
    fn counts_one_by_one_equal_the_whole_chart(
        chart in common::counting(),
        pairs in prop::collection::vec((0u32..12, 1u32..40), 1..60),
        rules in rule_sets(),
    ) {
        let points = common::counts(&pairs);
        let corrected = matches!(chart, ChartKind::PPrime | ChartKind::UPrime);
        let figures = Figures { sigma: corrected.then_some(1.3), ..Figures::centered(0.2) };
        let request = ChartRequest {
            limits: vec![Limits { basis: LimitsBasis::Given(figures), ..Limits::ESTIMATED }],
            rules: Some(rules),
            ..ChartRequest::new(chart, points)
        };
        let batch = compute(&request).unwrap();
        let mut kept = Kept::default();
        for i in 0..request.points.len() {
            judge_one(&request, i, &mut kept);
        }
        same_signals(&batch, &kept)?;
        same_panels(&batch, &kept)?;
    }
}

/// Rules whose windows reach over words and blocks, and steps that make ties and long runs.
fn long_rules() -> impl Strategy<Value = Vec<Rule>> {
    let k = prop::sample::select(vec![0.5, 1.0, 2.0]);
    let rule = (0usize..7, 1usize..=LOOKS_BACK, 1usize..=LOOKS_BACK, k).prop_map(|(kind, n, m, k)| match kind {
        0 => Rule::Beyond { k },
        1 => Rule::OneSide { n: n.div_ceil(6) },
        2 => Rule::Trend { n: 2 + n / 16 },
        3 => Rule::Alternating { n: 3 + n / 16 },
        4 => Rule::MOfN { m: m.min(n), n, k },
        5 => Rule::Hugging { n, k },
        _ => Rule::Avoiding { n: n.div_ceil(4), k },
    });
    prop::collection::vec(rule, 1..5)
}

/// Rule, side, first flagged point, first point of the window, last flagged point.
type Run = (usize, Option<Side>, usize, usize, usize);

/// Flags of one rule and side in a row, drawn together.
fn runs(flags: &[Flag]) -> Vec<Run> {
    let mut runs: Vec<Run> = vec![];
    for flag in flags {
        let going_on = runs.iter_mut().rfind(|run| (run.0, run.1) == (flag.place, flag.side));
        match going_on.filter(|_| flag.goes_on) {
            Some(run) => run.4 = flag.to,
            None => runs.push((flag.place, flag.side, flag.at, flag.from, flag.to)),
        }
    }
    runs.sort_unstable();
    runs
}

/// Shows the same points to both judges, a stretch at a time; each comes with its lines, and a restart may come before
/// it.
fn both_judges(rules: Vec<Rule>, points: &[(usize, f64, (f64, f64))], restarts: &[usize]) -> (Vec<Run>, Vec<Run>) {
    let places: Vec<(usize, Rule)> = rules.into_iter().enumerate().collect();
    let mut one_by_one = Judge::new(places.clone());
    let mut words = WordJudge::new(&places).unwrap();
    let (mut by_one, mut by_words) = (vec![], vec![]);
    for (i, (index, x, (center, sigma))) in points.iter().enumerate() {
        if restarts.contains(&i) {
            one_by_one.restart();
        }
        let point = Tested {
            index: *index,
            position: (x - center) / sigma,
            standardised: true,
            tie: spc::TIE,
            above_constant: None,
            below_constant: None,
            drawn: Beyond::default(),
        };
        one_by_one.push(&point, |flag| by_one.push(flag));
    }
    let mut from = 0;
    let ends = |i: usize| {
        let ((index, _, lines), next) = (points[i], points.get(i + 1));
        next.is_none_or(|next| restarts.contains(&(i + 1)) || next.0 != index + 1 || next.2 != lines)
    };
    for i in 0..points.len() {
        if ends(i) {
            if restarts.contains(&from) {
                words.finish(|flag| by_words.push(flag));
            }
            let (index, _, (center, sigma)) = points[from];
            let values: Vec<f64> = points[from..=i].iter().map(|(_, x, _)| *x).collect();
            words.push_all(index, &values, center, sigma, |flag| by_words.push(flag));
            from = i + 1;
        }
    }
    words.finish(|flag| by_words.push(flag));
    (runs(&by_one), runs(&by_words))
}

proptest! {
    #[test]
    fn judging_by_words_finds_what_judging_one_by_one_finds(
        // Slow waves with a little noise: every kind of pattern, long and short.
        wave in (1u32..200, 0.0f64..3.0),
        noise in prop::collection::vec(-3i32..=3, 1..3 * BLOCK),
        gaps in prop::sample::select(vec![7, 300, usize::MAX]),
        restarts in prop::collection::btree_set(0usize..3 * BLOCK, 0..4),
        // Lines on which the values lie on edges, far off them, or on no float.
        lines in prop::collection::vec((prop::sample::select(vec![0.0, 5.0, -1e6, 1e15]), prop::sample::select(vec![1.0, 0.1, 1e-7, 3.0])), 1..3),
        steps_every in prop::sample::select(vec![1usize, 50, 700, usize::MAX]),
        rules in long_rules(),
    ) {
        let points: Vec<_> = noise.iter().enumerate().map(|(i, noise)| {
            let slow = wave.1 * (i as f64 / f64::from(wave.0)).sin();
            let z = (4.0 * slow).round() / 4.0 + f64::from(*noise) / 4.0;
            let (center, sigma) = lines[i / steps_every % lines.len()];
            // Places that a gap here and there keeps apart.
            (i + i / gaps, center + z * sigma, (center, sigma))
        }).collect();
        let restarts: Vec<usize> = restarts.into_iter().collect();
        let (by_one, by_words) = both_judges(rules, &points, &restarts);
        prop_assert_eq!(by_one, by_words);
    }
}

/// Values a little on either side of each edge and tie, where one float decides.
#[test]
fn the_float_next_to_an_edge_decides_alike() {
    let rules = vec![
        Rule::Beyond { k: 3.0 },
        Rule::OneSide { n: 2 },
        Rule::Trend { n: 2 },
        Rule::Alternating { n: 3 },
        Rule::Hugging { n: 2, k: 1.0 },
        Rule::MOfN { m: 2, n: 3, k: 2.0 },
    ];
    for (center, sigma) in [(0.0, 1.0), (4.1, 0.37), (-250.0, 1.0 / 3.0), (1e9, 1e-3)] {
        let near = |edge: f64, ulps: i32| {
            let x = center + edge * sigma;
            (0..ulps.abs()).fold(x, |x, _| if ulps > 0 { x.next_up() } else { x.next_down() })
        };
        let edges = [0.0, 1.0, 2.0, 3.0].map(|k| [k + spc::TIE, k - spc::TIE, -k - spc::TIE, spc::TIE - k]).concat();
        let around = edges.iter().flat_map(|edge| (-4..=4).map(|ulps| near(*edge, ulps)));
        // The same points again with a step of one tie between them, so that their z decide.
        let values: Vec<f64> = around.flat_map(|x| [x, x + spc::TIE * sigma, x]).collect();
        let many = values.iter().cycle().take(2 * BLOCK + 5);
        let points: Vec<_> = many.enumerate().map(|(i, x)| (i, *x, (center, sigma))).collect();
        let (by_one, by_words) = both_judges(rules.clone(), &points, &[]);
        assert!(by_one.len() > 100, "{}", by_one.len());
        assert_eq!(by_one, by_words, "{center} {sigma}");
    }
}

#[test]
fn words_leave_windows_alone_that_are_longer_than_they_look_back() {
    assert!(WordJudge::new(&[(0, Rule::OneSide { n: LOOKS_BACK })]).is_some());
    assert!(WordJudge::new(&[(0, Rule::OneSide { n: LOOKS_BACK + 1 })]).is_none());
}

#[test]
fn a_between_and_within_chart_needs_its_mean_n() {
    let points: Points = series(&[1, 5, 3, 8, 2, 4, 9, 7, 6, 2, 3, 1], 3).into();
    let figures = Figures { sigma_between: Some(0.2), ..Figures::new(1.0, 0.5) };
    let of = |figures| Limits { basis: LimitsBasis::Given(figures), ..Limits::ESTIMATED };
    let options = ChartOptions::default();
    let refused = Watch::new(ChartKind::BetweenWithin, &of(figures), None, &options).err().unwrap();
    assert_eq!(refused.path, "limits.mean_n");
    let limits = of(Figures { mean_n: Some(3.0), ..figures });
    let mut watch = Watch::new(ChartKind::BetweenWithin, &limits, None, &options).unwrap();
    let batch =
        compute(&ChartRequest { limits: vec![limits], ..ChartRequest::new(ChartKind::BetweenWithin, points.clone()) })
            .unwrap();
    for i in 0..points.len() {
        watch.push(points.get(i), false, |_| {});
        let judged: Vec<PanelPoint> = watch.newest().collect();
        let whole: Vec<PanelPoint> = batch.panels.iter().map(|panel| panel.point(i)).collect();
        assert_eq!(judged, whole);
    }
}

#[test]
fn estimated_limits_cannot_be_watched() {
    let rules = RuleSet::List(vec![]);
    let options = ChartOptions::default();
    let refused = Watch::new(ChartKind::IMr, &Limits::ESTIMATED, Some(&rules), &options).err().unwrap();
    assert_eq!(refused.path, "limits.basis");
    let t = Watch::new(ChartKind::T, &Limits::given(1.0, 1.0, 3.0), None, &options).err().unwrap();
    assert_eq!(t.path, "limits.shape");
}

/// What was fitted to a phase and what is given of it draw the same lines.
#[test]
fn a_fit_that_is_frozen_draws_what_was_estimated() {
    let times = [31.0, 4.5, 88.0, 12.0, 51.0, 7.25, 23.0, 64.0].map(Some).to_vec();
    let request = ChartRequest::new(ChartKind::T, Points::Between(times.clone()));
    let estimated = compute(&request).unwrap();
    let limits = Limits { basis: LimitsBasis::Given(estimated.phases[0].figures), ..Limits::ESTIMATED };
    let figures = estimated.phases[0].figures;
    let frozen = Limits { basis: LimitsBasis::Given(Figures { center: None, ..figures }), ..limits };
    let given = compute(&ChartRequest { limits: vec![frozen], ..request }).unwrap();
    assert_eq!(given.panels, estimated.panels);
    assert_eq!(given.phases[0].figures, figures);
    let mut watch = Watch::new(ChartKind::T, &frozen, None, &ChartOptions::default()).unwrap();
    let watched = watch.follow(times.into_iter().map(|time| Place::from(Point::Between(time))));
    assert_eq!(watched.panels[0].1, estimated.panels[0].points().collect::<Vec<_>>());
}

/// Moving ranges reach back over places that are judged elsewhere; rule windows do not.
#[test]
fn a_watch_is_led_in_without_judging() {
    let rules = RuleSet::of(vec![Rule::OneSide { n: 2 }]);
    let limits = Limits::given(4.0, 1.0, 3.0);
    let mut watch = Watch::new(ChartKind::IMr, &limits, Some(&rules), &ChartOptions::default()).unwrap();
    watch.lead_in(Place::from(Point::Values(&[4.5])));
    let watched = watch.follow([&[4.25][..], &[4.75]].map(|values| Place::from(Point::Values(values))));
    let ranges: Vec<_> = watched.panels[1].1.iter().map(|point| point.value.get()).collect();
    assert_eq!(ranges, [Some(0.25), Some(0.5)]);
    assert_eq!(
        watched.signals.iter().map(|s| (s.panel, s.at)).collect::<Vec<_>>(),
        [(Statistic::Individual, 1), (Statistic::MovingRange, 1)]
    );
}
