//! The points of a chart: what was recorded at each, one after another.

/// Readings of many points, all in one row of memory: a long chart of single values takes eight
/// bytes a point.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Readings {
    values: Vec<f64>,
    count: usize,
    sizes: Sizes,
}

/// How many values each point has.
#[derive(Debug, Clone, PartialEq)]
enum Sizes {
    /// All as many.
    Equal(usize),
    /// Where each point starts, and at last where the row ends.
    Starts(Vec<usize>),
}

impl Default for Sizes {
    fn default() -> Self {
        Self::Equal(0)
    }
}

impl Readings {
    /// Adds a point; one without values is a gap.
    pub fn push(&mut self, values: impl IntoIterator<Item = f64>) {
        let start = self.values.len();
        self.values.extend(values);
        let end = self.values.len();
        match &mut self.sizes {
            Sizes::Starts(starts) => starts.push(end),
            Sizes::Equal(size) if self.count == 0 => *size = end,
            Sizes::Equal(size) if *size == end - start => {}
            Sizes::Equal(size) => {
                self.sizes = Sizes::Starts((0..=self.count).map(|i| i * *size).chain([end]).collect());
            }
        }
        self.count += 1;
    }

    /// Number of points.
    #[inline]
    pub fn len(&self) -> usize {
        self.count
    }

    /// Whether there is no point.
    pub fn is_empty(&self) -> bool {
        self.count == 0
    }

    /// The values of point `i`; empty where there is none.
    #[inline]
    pub fn get(&self, i: usize) -> &[f64] {
        let (start, end) = match &self.sizes {
            Sizes::Equal(size) => (i * size, (i + 1) * size),
            Sizes::Starts(starts) => match starts.get(i..i + 2) {
                Some(&[start, end]) => (start, end),
                _ => return &[],
            },
        };
        self.values.get(start..end).unwrap_or_default()
    }

    /// All values in the order of the points.
    pub fn values(&self) -> &[f64] {
        &self.values
    }

    /// How many values every point has, where all have as many.
    pub fn equal_size(&self) -> Option<usize> {
        match self.sizes {
            Sizes::Equal(size) => Some(size),
            Sizes::Starts(_) => None,
        }
    }

    /// Every value as `change` makes it of its point and itself.
    pub(crate) fn map(&self, change: impl Fn(usize, f64) -> f64) -> Self {
        (0..self.count).map(|i| self.get(i).iter().map(|&x| change(i, x)).collect::<Vec<_>>()).collect()
    }
}

/// Units inspected at one point and what was counted in them.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Count {
    /// Nonconforming units, or nonconformities; a whole number.
    pub count: f64,
    /// Units inspected or area of opportunity, above 0; a c chart takes no notice of it.
    pub size: f64,
}

/// The points of a chart by what is recorded.
#[derive(Debug, Clone, PartialEq)]
pub enum Points {
    /// Measured values.
    Values(Readings),
    /// Counts in units inspected; `None` is a gap.
    Counts(Vec<Option<Count>>),
    /// Conforming units or time between two rare events; `None` is a gap.
    Between(Vec<Option<f64>>),
}

/// One of the [`Points`].
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Point<'a> {
    /// Measured values, none for a gap.
    Values(&'a [f64]),
    /// A count.
    Count(Option<Count>),
    /// Distance from the event before.
    Between(Option<f64>),
}

impl Points {
    /// Number of points.
    #[inline]
    pub fn len(&self) -> usize {
        match self {
            Points::Values(readings) => readings.len(),
            Points::Counts(counts) => counts.len(),
            Points::Between(distances) => distances.len(),
        }
    }

    /// Whether there is no point.
    pub fn is_empty(&self) -> bool {
        self.len() == 0
    }

    /// Whether nothing was recorded anywhere.
    pub fn are_all_gaps(&self) -> bool {
        (0..self.len()).all(|i| self.get(i).is_gap())
    }

    /// Whether it is known, without looking at each, that every point has values.
    pub(crate) fn has_no_gaps(&self) -> bool {
        matches!(self, Points::Values(readings) if readings.equal_size().is_some_and(|size| size > 0))
    }

    /// Point `i`; a gap where there is none.
    #[inline]
    pub fn get(&self, i: usize) -> Point<'_> {
        match self {
            Points::Values(readings) => Point::Values(readings.get(i)),
            Points::Counts(counts) => Point::Count(counts.get(i).copied().flatten()),
            Points::Between(distances) => Point::Between(distances.get(i).copied().flatten()),
        }
    }
}

impl<'a> Point<'a> {
    /// Nothing was recorded.
    #[inline]
    pub fn is_gap(&self) -> bool {
        match self {
            Point::Values(values) => values.is_empty(),
            Point::Count(count) => count.is_none(),
            Point::Between(distance) => distance.is_none(),
        }
    }

    /// The measured values; none of a point of another kind.
    #[inline]
    pub(crate) fn values(self) -> &'a [f64] {
        match self {
            Point::Values(values) => values,
            _ => &[],
        }
    }

    /// The only value, or NaN.
    #[inline]
    pub(crate) fn single(self) -> f64 {
        match self {
            Point::Values(&[x, ..]) | Point::Between(Some(x)) => x,
            _ => f64::NAN,
        }
    }

    /// n: how many values or units; NaN in a gap, and where nothing of the kind is recorded.
    #[inline]
    pub(crate) fn size(self) -> f64 {
        match self {
            Point::Values(&[]) | Point::Between(_) => f64::NAN,
            Point::Values(values) => values.len() as f64,
            Point::Count(_) => self.count().size,
        }
    }

    /// What was counted; NaN for both in a gap.
    #[inline]
    pub(crate) fn count(self) -> Count {
        match self {
            Point::Count(Some(count)) => count,
            _ => Count { count: f64::NAN, size: f64::NAN },
        }
    }
}

impl<P: IntoIterator<Item = f64>> FromIterator<P> for Readings {
    fn from_iter<I: IntoIterator<Item = P>>(points: I) -> Self {
        let mut readings = Self::default();
        points.into_iter().for_each(|values| readings.push(values));
        readings
    }
}

impl From<Vec<Vec<f64>>> for Points {
    fn from(points: Vec<Vec<f64>>) -> Self {
        Points::Values(points.into_iter().collect())
    }
}

impl From<Readings> for Points {
    fn from(readings: Readings) -> Self {
        Points::Values(readings)
    }
}
