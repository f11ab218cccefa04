//! Judging one point after another. The state of a judge is what its rules must remember of the
//! points before: counters and a short window, never the history.

use std::collections::VecDeque;

use super::{Flag, Rule, Side};
use crate::TIE;

/// On which sides a point lies beyond, by the limits drawn for it.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub struct Beyond {
    /// Beyond the upper limit.
    pub above: bool,
    /// Beyond the lower limit.
    pub below: bool,
}

/// A point as the rules see it. Points that are not tested (set aside, or without a statistic)
/// are never shown to a judge: rules look past them as if they were absent.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Tested {
    /// Place of the point in the series.
    pub index: usize,
    /// z, or value − centre where there is no sigma.
    pub position: f64,
    /// Whether `position` is in sigma. Without it only one side, trend, alternating and beyond apply.
    pub standardised: bool,
    /// Differences in position up to this are ties.
    pub tie: f64,
    /// Upper limit given as a constant: `Some(beyond it)`, and it stands for every `k` on that side.
    pub above_constant: Option<bool>,
    /// Lower limit given as a constant, likewise.
    pub below_constant: Option<bool>,
    /// Beyond the drawn limits; used only where there is no sigma.
    pub drawn: Beyond,
}

impl Tested {
    fn beyond(&self, k: f64) -> Beyond {
        let by_sigma = if self.standardised {
            Beyond { above: self.position > k + self.tie, below: self.position < -k - self.tie }
        } else {
            self.drawn
        };
        Beyond {
            above: self.above_constant.unwrap_or(by_sigma.above),
            below: self.below_constant.unwrap_or(by_sigma.below),
        }
    }

    fn side(&self) -> Option<Side> {
        if self.position > self.tie {
            Some(Side::Above)
        } else if self.position < -self.tie {
            Some(Side::Below)
        } else {
            None
        }
    }

    /// Direction of the step from `before` to this point; `None` when they tie.
    fn step_from(&self, before: &Tested) -> Option<Side> {
        let step = self.position - before.position;
        let tie = self.tie.max(before.tie);
        if step > tie {
            Some(Side::Rising)
        } else if step < -tie {
            Some(Side::Falling)
        } else {
            None
        }
    }
}

/// What one rule remembers. Runs count points; they never need to count beyond n.
#[derive(Debug, Clone)]
enum Memory {
    Nothing,
    Run {
        side: Option<Side>,
        length: usize,
    },
    /// Which of the last n points were beyond, newest last.
    Recent(VecDeque<Beyond>),
}

/// Judges a panel's tested points in order by a list of rules.
#[derive(Debug, Clone)]
pub struct Judge {
    rules: Vec<(Rule, Memory)>,
    last: Option<Tested>,
    /// Places of the last tested points, as many as the longest window needs, newest last.
    recent: VecDeque<usize>,
    longest: usize,
}

impl Judge {
    /// A judge with an empty memory.
    pub fn new(rules: &[Rule]) -> Self {
        let memory = |rule: &Rule| match rule {
            Rule::Beyond { .. } => Memory::Nothing,
            Rule::MOfN { .. } => Memory::Recent(VecDeque::new()),
            _ => Memory::Run { side: None, length: 0 },
        };
        Self {
            rules: rules.iter().map(|rule| (*rule, memory(rule))).collect(),
            last: None,
            recent: VecDeque::new(),
            longest: rules.iter().map(Rule::window).max().unwrap_or(1),
        }
    }

    /// Forgets the points before: at a phase start or a restart.
    pub fn restart(&mut self) {
        for (_, memory) in &mut self.rules {
            match memory {
                Memory::Nothing => {}
                Memory::Run { side, length } => (*side, *length) = (None, 0),
                Memory::Recent(recent) => recent.clear(),
            }
        }
        self.last = None;
        self.recent.clear();
    }

    /// Judges the next tested point and hands each flag it gets to `found`, in the order of the
    /// rules, above before below.
    pub fn push(&mut self, point: &Tested, mut found: impl FnMut(Flag)) {
        if self.recent.len() == self.longest {
            self.recent.pop_front();
        }
        self.recent.push_back(point.index);
        for (number, (rule, memory)) in self.rules.iter_mut().enumerate() {
            let window = rule.window().min(self.recent.len());
            let from = self.recent[self.recent.len() - window];
            let mut flag = |side| found(Flag { rule: number, side, at: point.index, from });
            match (*rule, memory) {
                (Rule::Beyond { k }, _) => {
                    let beyond = point.beyond(k);
                    if beyond.above {
                        flag(Some(Side::Above));
                    }
                    if beyond.below {
                        flag(Some(Side::Below));
                    }
                }
                (Rule::MOfN { m, n, k }, Memory::Recent(recent)) if point.standardised => {
                    if recent.len() == n {
                        recent.pop_front();
                    }
                    let z = point.position;
                    recent.push_back(Beyond { above: z > k + TIE, below: z < -k - TIE });
                    let now = recent[recent.len() - 1];
                    if now.above && recent.iter().filter(|b| b.above).count() >= m {
                        flag(Some(Side::Above));
                    }
                    if now.below && recent.iter().filter(|b| b.below).count() >= m {
                        flag(Some(Side::Below));
                    }
                }
                (_, Memory::Run { side, length }) => {
                    (*side, *length) = grow(*rule, point, self.last.as_ref(), *side, *length);
                    if *length >= rule.window() {
                        flag(match rule {
                            Rule::OneSide { .. } | Rule::Trend { .. } => *side,
                            _ => None,
                        });
                    }
                }
                _ => {}
            }
        }
        self.last = Some(*point);
    }
}

/// Side and length of the run of `rule` once `point` has come.
fn grow(rule: Rule, point: &Tested, last: Option<&Tested>, side: Option<Side>, length: usize) -> (Option<Side>, usize) {
    let keeps = |holds: bool| (None, if holds && point.standardised { length + 1 } else { 0 });
    match rule {
        Rule::OneSide { .. } => match point.side() {
            None => (None, 0),
            now if now == side => (side, length + 1),
            now => (now, 1),
        },
        // A trend of n points has n − 1 steps; the first point of a trend is its length of 1.
        Rule::Trend { .. } => match last.map(|last| point.step_from(last)) {
            None | Some(None) => (None, 1),
            Some(step) if step == side => (side, length + 1),
            Some(step) => (step, 2),
        },
        // `side` holds the direction of the last step.
        Rule::Alternating { .. } => match last.map(|last| point.step_from(last)) {
            None | Some(None) => (None, 1),
            Some(step) if side.is_some() && step != side => (step, length + 1),
            Some(step) => (step, 2),
        },
        Rule::Hugging { k, .. } => keeps(point.position.abs() < k - TIE),
        Rule::Avoiding { k, .. } => keeps(point.position.abs() > k + TIE),
        Rule::Beyond { .. } | Rule::MOfN { .. } => (None, 0),
    }
}
