//! How each rule is looked for in the newest run.

use super::rule::LabRule;
use crate::TIE;

/// z of one level in one run.
#[derive(Debug, Clone, Copy, PartialEq)]
struct Result {
    run: usize,
    level: usize,
    z: f64,
}

/// Which levels and runs break a rule.
#[derive(Debug, Clone, PartialEq)]
pub(super) struct Found {
    pub levels: Vec<usize>,
    pub runs: Vec<usize>,
}

impl Found {
    fn of<'a>(results: impl IntoIterator<Item = &'a Result>) -> Self {
        let (mut levels, mut runs): (Vec<usize>, Vec<usize>) =
            results.into_iter().map(|result| (result.level, result.run)).unzip();
        levels.sort_unstable();
        levels.dedup();
        runs.sort_unstable();
        runs.dedup();
        Self { levels, runs }
    }
}

/// The results so far, as far as rules look back.
pub(super) struct History {
    /// Results of the newest run, in order of level.
    run: Vec<Result>,
    /// Results of each level, newest last.
    of_level: Vec<Vec<Result>>,
    /// All results in order of run and level.
    all: Vec<Result>,
}

const SIDES: [f64; 2] = [1.0, -1.0];

/// Strictly beyond `k` sd on a side; results on the line or within rounding of it are not.
fn beyond(result: &Result, side: f64, k: f64) -> bool {
    side * result.z > k + TIE
}

impl History {
    pub fn new(levels: usize) -> Self {
        Self { run: vec![], of_level: vec![vec![]; levels], all: vec![] }
    }

    /// The next run; `z` by level, `None` where it was not measured.
    pub fn push(&mut self, run: usize, z: &[Option<f64>]) {
        self.run = z.iter().enumerate().filter_map(|(level, z)| Some(Result { run, level, z: (*z)? })).collect();
        for result in &self.run {
            keep(&mut self.of_level[result.level], *result, LabRule::LONGEST);
        }
        // A window may end at any result of the run.
        for result in &self.run {
            keep(&mut self.all, *result, LabRule::LONGEST + self.run.len());
        }
    }

    pub fn find(&self, rule: LabRule) -> Vec<Found> {
        match rule {
            LabRule::OneTwoS => self.single(2.0),
            LabRule::OneThreeS => self.single(3.0),
            LabRule::TwoTwoS => self.neighbours().chain(self.levels_in_a_row(2, 2.0)).collect(),
            LabRule::RangeFourS => self.opposite().into_iter().collect(),
            LabRule::FourOneS => self.in_a_row(4, 1.0),
            LabRule::ThreeOneS => self.in_a_row(3, 1.0),
            LabRule::SixX => self.in_a_row(6, 0.0),
            LabRule::EightX => self.in_a_row(8, 0.0),
            LabRule::TenX => self.in_a_row(10, 0.0),
            LabRule::TwelveX => self.in_a_row(12, 0.0),
            LabRule::TwoOfThreeTwoS => self.two_of_three_in_the_run().chain(self.two_of_a_levels_three()).collect(),
            LabRule::SevenT => self.newest(7).filter(|results| is_trend(results)).map(Found::of).collect(),
        }
    }

    fn single(&self, k: f64) -> Vec<Found> {
        let out = |result: &&Result| SIDES.iter().any(|&side| beyond(result, side, k));
        self.run.iter().filter(out).map(|result| Found::of([result])).collect()
    }

    /// Stretches of neighbouring levels beyond 2 sd, above before below.
    fn neighbours(&self) -> impl Iterator<Item = Found> {
        SIDES.into_iter().flat_map(|side| {
            self.run
                .chunk_by(move |a, b| beyond(a, side, 2.0) && beyond(b, side, 2.0))
                .filter(|stretch| stretch.len() > 1)
                .map(Found::of)
        })
    }

    fn opposite(&self) -> Option<Found> {
        let out = |side: f64| self.run.iter().filter(move |result| beyond(result, side, 2.0));
        let both = out(1.0).next().is_some() && out(-1.0).next().is_some();
        both.then(|| Found::of(out(1.0).chain(out(-1.0))))
    }

    /// The last `n` results of each level measured in the run that has as many.
    fn newest(&self, n: usize) -> impl Iterator<Item = &[Result]> {
        self.run.iter().filter_map(move |result| {
            let results = &self.of_level[result.level];
            Some(&results[results.len().checked_sub(n)?..])
        })
    }

    fn levels_in_a_row(&self, n: usize, k: f64) -> impl Iterator<Item = Found> {
        self.newest(n).filter(move |results| all_beyond(results, k)).map(Found::of)
    }

    /// Of each level, then the latest window across levels.
    fn in_a_row(&self, n: usize, k: f64) -> Vec<Found> {
        let ends = (0..self.run.len()).map(|back| self.all.len() - back);
        let windows = ends.filter_map(|end| Some(&self.all[end.checked_sub(n)?..end]));
        let across = windows
            .into_iter()
            .find(|window| window.iter().any(|r| r.level != window[0].level) && all_beyond(window, k))
            .map(Found::of);
        self.levels_in_a_row(n, k).chain(across).collect()
    }

    fn two_of_three_in_the_run(&self) -> impl Iterator<Item = Found> {
        let sides = if self.run.len() >= 3 { &SIDES[..] } else { &[] };
        sides.iter().filter_map(|&side| {
            let out: Vec<&Result> = self.run.iter().filter(|result| beyond(result, side, 2.0)).collect();
            (out.len() >= 2).then(|| Found::of(out))
        })
    }

    fn two_of_a_levels_three(&self) -> impl Iterator<Item = Found> {
        self.run.iter().filter_map(|newest| {
            let results = &self.of_level[newest.level];
            let last = &results[results.len().saturating_sub(3)..];
            SIDES.iter().find(|&&side| beyond(newest, side, 2.0)).and_then(|&side| {
                let out: Vec<&Result> = last.iter().filter(|result| beyond(result, side, 2.0)).collect();
                (out.len() >= 2).then(|| Found::of(out))
            })
        })
    }
}

fn keep(results: &mut Vec<Result>, newest: Result, most: usize) {
    if results.len() >= most {
        results.drain(..=results.len() - most);
    }
    results.push(newest);
}

fn all_beyond(results: &[Result], k: f64) -> bool {
    SIDES.iter().any(|&side| results.iter().all(|result| beyond(result, side, k)))
}

fn is_trend(results: &[Result]) -> bool {
    SIDES.iter().any(|&side| results.windows(2).all(|pair| side * (pair[1].z - pair[0].z) > TIE))
}
