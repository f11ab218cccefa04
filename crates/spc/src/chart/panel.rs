//! A panel of a long chart: lines mostly stand still, so they are kept where they change, and a point
//! is put together when it is asked for.

use std::ops::{Range, RangeInclusive};

use fearless_simd::{Level, Simd, SimdBase, SimdMask, dispatch, f64x4};
use serde::ser::{SerializeSeq, SerializeStruct};
use serde::{Serialize, Serializer};

use super::lines::{Lines, Placed};
use super::panel_point::PanelPoint;
use super::statistic::Statistic;

const TESTED: u8 = 1;
const FLAGGED: u8 = 2;

/// One panel; it has one entry for every point of the request.
#[derive(Debug, Clone)]
pub struct Panel {
    /// What it plots.
    pub statistic: Statistic,
    /// Points before those that are kept.
    forgotten: usize,
    values: Vec<f64>,
    marks: Vec<u8>,
    /// Lines and the first point that has them.
    lines: Vec<(usize, Lines)>,
}

impl Panel {
    pub(super) fn new(statistic: Statistic, count: usize) -> Self {
        let (values, marks) = (Vec::with_capacity(count), Vec::with_capacity(count));
        Self { statistic, forgotten: 0, values, marks, lines: vec![] }
    }

    #[inline]
    pub(super) fn push(&mut self, placed: &Placed) {
        if self.lines.last().is_none_or(|(_, last)| !last.same(&placed.lines)) {
            self.lines.push((self.len(), placed.lines));
        }
        self.values.push(placed.value);
        self.marks.push(if placed.tested { TESTED } else { 0 });
    }

    /// Values that `put` appends, as many as `aside` says whether they are set aside, all among the same lines.
    pub(super) fn push_all(&mut self, lines: Lines, aside: &[bool], put: impl FnOnce(&mut Vec<f64>)) {
        if self.lines.last().is_none_or(|(_, last)| !last.same(&lines)) {
            self.lines.push((self.len(), lines));
        }
        let tests = lines.center.is_finite();
        let before = self.values.len();
        put(&mut self.values);
        let values = &self.values[before..];
        // Mostly all of them are tested, which is found out many at a time.
        let all_finite = dispatch!(Level::new(), simd => are_finite(simd, values));
        if tests && all_finite && !aside.iter().fold(false, |any, aside| any | aside) {
            self.marks.resize(self.values.len(), TESTED);
            return;
        }
        let mark = |(x, aside): (&f64, &bool)| u8::from(tests & !aside & x.is_finite()) * TESTED;
        self.marks.extend(values.iter().zip(aside).map(mark));
    }

    /// Lines from point `start` up to `end`, with the first point of each; the first may be earlier.
    pub(super) fn lines(&self, Range { start, end }: Range<usize>) -> &[(usize, Lines)] {
        let first = self.lines.partition_point(|(from, _)| *from <= start).saturating_sub(1);
        let last = self.lines.partition_point(|(from, _)| *from < end);
        self.lines.get(first..last).unwrap_or_default()
    }

    /// Tested points from `start` up to `end`.
    pub(super) fn tested(&self, Range { start, end }: Range<usize>) -> impl Iterator<Item = (usize, Placed)> + '_ {
        self.tested_runs(start..end).flat_map(|(from, values, lines)| {
            values.iter().enumerate().map(move |(i, &value)| (from + i, Placed { value, lines, tested: true }))
        })
    }

    /// Runs of tested points with the same lines: first point, values, lines.
    pub(super) fn tested_runs(
        &self,
        Range { start, end }: Range<usize>,
    ) -> impl Iterator<Item = (usize, &[f64], Lines)> + '_ {
        let steps = self.lines(start..end);
        let until = move |step: usize| steps.get(step + 1).map_or(end, |(next, _)| *next);
        steps.iter().enumerate().flat_map(move |(step, &(from, lines))| {
            let mut at = from.max(start) - self.forgotten;
            let end = until(step) - self.forgotten;
            std::iter::from_fn(move || {
                at += self.marks[at..end].iter().position(|marks| marks & TESTED != 0)?;
                let rest = &self.marks[at..end];
                let all = rest.iter().fold(TESTED, |all, marks| all & marks) != 0;
                let untested = if all { None } else { rest.iter().position(|marks| marks & TESTED == 0) };
                let length = untested.unwrap_or(rest.len());
                let run = (self.forgotten + at, &self.values[at..at + length], lines);
                at += length;
                Some(run)
            })
        })
    }

    /// Tested points of a stretch are flagged.
    pub(super) fn flag(&mut self, points: RangeInclusive<usize>) {
        for mark in &mut self.marks[points.start() - self.forgotten..=points.end() - self.forgotten] {
            *mark |= if *mark & TESTED == 0 { 0 } else { FLAGGED };
        }
    }

    /// Forgets the points so far but for the lines that the next ones may share.
    pub(super) fn forget(&mut self) {
        self.forgotten = self.len();
        self.values.clear();
        self.marks.clear();
        self.lines.drain(..self.lines.len().saturating_sub(1));
    }

    /// How many points it has.
    pub fn len(&self) -> usize {
        self.forgotten + self.values.len()
    }

    /// Whether it has no point.
    pub fn is_empty(&self) -> bool {
        self.len() == 0
    }

    /// Point `i`; without any figure where there is none.
    pub fn point(&self, i: usize) -> PanelPoint {
        let lines = self.lines.partition_point(|(start, _)| *start <= i);
        match (self.values.get(i), self.lines.get(lines.wrapping_sub(1))) {
            (Some(_), Some((_, lines))) => self.put_together(i, lines),
            _ => PanelPoint::default(),
        }
    }

    /// All points in order.
    pub fn points(&self) -> impl ExactSizeIterator<Item = PanelPoint> + '_ {
        let mut lines = self.lines.iter().peekable();
        let mut now = &Lines::NONE;
        (0..self.values.len()).map(move |i| {
            if let Some((_, next)) = lines.next_if(|(start, _)| *start == i) {
                now = next;
            }
            self.put_together(i, now)
        })
    }

    fn put_together(&self, i: usize, lines: &Lines) -> PanelPoint {
        let (value, marks) = (self.values[i], self.marks[i]);
        let placed = Placed { value, lines: *lines, tested: marks & TESTED != 0 };
        PanelPoint { flagged: marks & FLAGGED != 0, ..placed.into() }
    }
}

#[inline(always)]
fn are_finite<S: Simd>(simd: S, values: &[f64]) -> bool {
    let (fours, rest) = values.as_chunks::<4>();
    let infinite = f64x4::splat(simd, f64::INFINITY);
    let mut all = infinite.simd_eq(infinite);
    for four in fours {
        all &= f64x4::from_slice(simd, four).abs().simd_lt(infinite);
    }
    all.all_true() && rest.iter().all(|x| x.is_finite())
}

impl PartialEq for Panel {
    fn eq(&self, other: &Self) -> bool {
        self.statistic == other.statistic && self.points().eq(other.points())
    }
}

impl Serialize for Panel {
    fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        let mut panel = serializer.serialize_struct("Panel", 2)?;
        panel.serialize_field("statistic", &self.statistic)?;
        panel.serialize_field("points", &Points(self))?;
        panel.end()
    }
}

struct Points<'a>(&'a Panel);

impl Serialize for Points<'_> {
    fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        let mut points = serializer.serialize_seq(Some(self.0.len()))?;
        for point in self.0.points() {
            points.serialize_element(&point)?;
        }
        points.end()
    }
}
