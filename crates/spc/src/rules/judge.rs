//! Judging one point after another. What a judge remembers of the points before is counters and
//! short windows, never the history, and judging a point allocates nothing.

use super::{Flag, Rule, Side};
use crate::TIE;

/// On which sides a point lies beyond.
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
    #[inline]
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
}

/// 1 above, −1 below, 0 within `tie`; without branches, since which it is cannot be foreseen.
#[inline]
fn sign(x: f64, tie: f64) -> i8 {
    i8::from(x > tie) - i8::from(x < -tie)
}

/// A rule that counts points in a row.
#[derive(Debug, Clone)]
struct Row {
    place: usize,
    rule: Rule,
    n: usize,
}

/// A rule whose points in a row depend on its own k.
#[derive(Debug, Clone)]
struct Streak {
    row: Row,
    k: f64,
    length: usize,
}

/// Which of the last n points were beyond k, as a ring, and how many on each side.
#[derive(Debug, Clone)]
struct Window {
    place: usize,
    rule: Rule,
    m: usize,
    k: f64,
    signs: Box<[i8]>,
    newest: usize,
    above: usize,
    below: usize,
}

impl Window {
    #[inline]
    fn push(&mut self, sign: i8) {
        self.newest += 1;
        if self.newest == self.signs.len() {
            self.newest = 0;
        }
        let oldest = std::mem::replace(&mut self.signs[self.newest], sign);
        self.above = self.above + usize::from(sign > 0) - usize::from(oldest > 0);
        self.below = self.below + usize::from(sign < 0) - usize::from(oldest < 0);
    }

    fn clear(&mut self) {
        self.signs.fill(0);
        (self.above, self.below) = (0, 0);
    }
}

/// Places of the last tested points and of each rule's last flags.
#[derive(Debug, Clone)]
struct History {
    /// A ring whose length is a power of two and holds the longest window.
    places: Box<[usize]>,
    /// Tested points so far.
    count: usize,
    /// How many of them came before the last restart.
    before: usize,
    /// Count of tested points when the rule at this place last flagged this side.
    flagged: Vec<[usize; 3]>,
}

impl History {
    #[inline]
    fn push(&mut self, index: usize) {
        let mask = self.places.len() - 1;
        self.places[self.count & mask] = index;
        self.count += 1;
    }

    fn flag(&mut self, place: usize, rule: Rule, side: Option<Side>, n: usize, found: &mut impl FnMut(Flag)) {
        let mask = self.places.len() - 1;
        let window = n.min(self.count - self.before);
        let slot = match side {
            Some(Side::Above | Side::Rising) => 0,
            Some(Side::Below | Side::Falling) => 1,
            None => 2,
        };
        let last = std::mem::replace(&mut self.flagged[place][slot], self.count);
        let at = self.places[(self.count - 1) & mask];
        found(Flag {
            place,
            rule,
            side,
            at,
            to: at,
            from: self.places[(self.count - window) & mask],
            goes_on: last + 1 == self.count && last > self.before && !matches!(rule, Rule::Beyond { .. }),
        });
    }
}

/// Judges a panel's tested points in order by a list of rules.
///
/// What rules of one kind share is counted once: whatever their n, they look at the same run on one
/// side, the same trend, the same alternation.
#[derive(Debug, Clone)]
pub struct Judge {
    beyond: Vec<(usize, Rule, f64)>,
    one_side: Vec<Row>,
    trend: Vec<Row>,
    alternating: Vec<Row>,
    windows: Vec<Window>,
    hugging: Vec<Streak>,
    avoiding: Vec<Streak>,
    history: History,
    side: i8,
    step: i8,
    /// Position and tie of the tested point before; NaN when there is none.
    last: (f64, f64),
    run: usize,
    rising_or_falling: usize,
    up_and_down: usize,
}

impl Judge {
    /// A judge with an empty memory, by rules that have passed [`Rule::check`]. Each comes with its
    /// place in the rule set, which its flags name.
    pub fn new(rules: impl IntoIterator<Item = (usize, Rule)>) -> Self {
        let mut judge = Self {
            beyond: vec![],
            one_side: vec![],
            trend: vec![],
            alternating: vec![],
            windows: vec![],
            hugging: vec![],
            avoiding: vec![],
            history: History { places: Box::new([]), count: 0, before: 0, flagged: vec![] },
            side: 0,
            step: 0,
            last: (f64::NAN, 0.0),
            run: 0,
            rising_or_falling: 0,
            up_and_down: 0,
        };
        let (mut longest, mut places) = (1, 0);
        for (place, rule) in rules {
            let row = |n| Row { place, rule, n };
            match rule {
                Rule::Beyond { k } => judge.beyond.push((place, rule, k)),
                Rule::OneSide { n } => judge.one_side.push(row(n)),
                Rule::Trend { n } => judge.trend.push(row(n)),
                Rule::Alternating { n } => judge.alternating.push(row(n)),
                Rule::Hugging { n, k } => judge.hugging.push(Streak { row: row(n), k, length: 0 }),
                Rule::Avoiding { n, k } => judge.avoiding.push(Streak { row: row(n), k, length: 0 }),
                Rule::MOfN { m, n, k } => {
                    let signs = vec![0; n].into_boxed_slice();
                    judge.windows.push(Window { place, rule, m, k, signs, newest: 0, above: 0, below: 0 });
                }
            }
            longest = longest.max(rule.window());
            places = places.max(place + 1);
        }
        judge.history.places = vec![0; longest.next_power_of_two()].into_boxed_slice();
        judge.history.flagged = vec![[0; 3]; places];
        judge
    }

    /// Forgets the points before: at a restart.
    pub fn restart(&mut self) {
        self.windows.iter_mut().for_each(Window::clear);
        self.hugging.iter_mut().chain(&mut self.avoiding).for_each(|streak| streak.length = 0);
        self.history.before = self.history.count;
        (self.side, self.step) = (0, 0);
        self.last = (f64::NAN, 0.0);
        (self.run, self.rising_or_falling, self.up_and_down) = (0, 0, 0);
    }

    /// Judges the next tested point and hands each flag it gets to `found`.
    #[inline]
    pub fn push(&mut self, point: &Tested, mut found: impl FnMut(Flag)) {
        self.history.push(point.index);
        let x = point.position;
        self.count_rows(x, point.tie);
        let history = &mut self.history;
        for &(place, rule, k) in &self.beyond {
            let beyond = point.beyond(k);
            if beyond.above {
                history.flag(place, rule, Some(Side::Above), 1, &mut found);
            }
            if beyond.below {
                history.flag(place, rule, Some(Side::Below), 1, &mut found);
            }
        }
        for row in self.one_side.iter().filter(|row| self.run >= row.n) {
            let side = if self.side > 0 { Side::Above } else { Side::Below };
            history.flag(row.place, row.rule, Some(side), row.n, &mut found);
        }
        for row in self.trend.iter().filter(|row| self.rising_or_falling >= row.n) {
            let side = if self.step > 0 { Side::Rising } else { Side::Falling };
            history.flag(row.place, row.rule, Some(side), row.n, &mut found);
        }
        for row in self.alternating.iter().filter(|row| self.up_and_down >= row.n) {
            history.flag(row.place, row.rule, None, row.n, &mut found);
        }
        if !point.standardised {
            return;
        }
        for window in &mut self.windows {
            let now = sign(x, window.k + TIE);
            window.push(now);
            let (many, side) = if now > 0 { (window.above, Side::Above) } else { (window.below, Side::Below) };
            if now != 0 && many >= window.m {
                history.flag(window.place, window.rule, Some(side), window.signs.len(), &mut found);
            }
        }
        for streak in &mut self.hugging {
            streak.length = if x.abs() < streak.k - TIE { streak.length + 1 } else { 0 };
            if streak.length >= streak.row.n {
                history.flag(streak.row.place, streak.row.rule, None, streak.row.n, &mut found);
            }
        }
        for streak in &mut self.avoiding {
            streak.length = if x.abs() > streak.k + TIE { streak.length + 1 } else { 0 };
            if streak.length >= streak.row.n {
                history.flag(streak.row.place, streak.row.rule, None, streak.row.n, &mut found);
            }
        }
    }

    /// Length of the run on one side, of the trend and of the alternation that end at the next point.
    /// A trend of n points has n − 1 steps; its first point is a length of 1.
    #[inline]
    fn count_rows(&mut self, x: f64, tie: f64) {
        let side = sign(x, tie);
        self.run = if side != 0 && side == self.side { self.run + 1 } else { usize::from(side != 0) };
        self.side = side;
        // A step from no point is NaN, which compares as no step.
        let step = sign(x - self.last.0, tie.max(self.last.1));
        let anew = 1 + usize::from(step != 0);
        self.rising_or_falling = if step != 0 && step == self.step { self.rising_or_falling + 1 } else { anew };
        self.up_and_down = if step != 0 && step == -self.step { self.up_and_down + 1 } else { anew };
        self.step = step;
        self.last = (x, tie);
    }
}
