use crate::wrong_request::Expected;

use serde::{Deserialize, Serialize};

/// One run rule with its parameters. `n` counts points, `k` is in sigma of the statistic.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "kind", rename_all = "snake_case")]
pub enum Rule {
    /// |z| > k
    Beyond {
        /// Distance from the centre line in sigma.
        k: f64,
    },
    /// The last n points all above, or all below the centre line.
    OneSide {
        /// Length of the run.
        n: usize,
    },
    /// The last n points strictly rise, or strictly fall (n points, n − 1 steps).
    Trend {
        /// Points in the trend.
        n: usize,
    },
    /// The last n points go strictly up, down, up … (n points, n − 1 steps).
    Alternating {
        /// Points in the pattern.
        n: usize,
    },
    /// The point itself is beyond k on a side, and so are at least m of the last n points.
    MOfN {
        /// Points beyond that are needed.
        m: usize,
        /// Points looked at.
        n: usize,
        /// Distance in sigma.
        k: f64,
    },
    /// The last n points all have |z| < k.
    Hugging {
        /// Length of the run.
        n: usize,
        /// Distance in sigma.
        k: f64,
    },
    /// The last n points all have |z| > k, sides mixed or not.
    Avoiding {
        /// Length of the run.
        n: usize,
        /// Distance in sigma.
        k: f64,
    },
}

/// No rule looks at more points: a judge keeps its windows in memory.
pub const LONGEST_WINDOW: usize = 10_000;

/// The kinds of [`Rule`], without parameters.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)] // each is the Rule of the same name
pub enum RuleKind {
    Beyond,
    OneSide,
    Trend,
    Alternating,
    MOfN,
    Hugging,
    Avoiding,
}

impl Rule {
    /// How many tested points, ending at the one judged, this rule looks at.
    pub fn window(&self) -> usize {
        match *self {
            Rule::Beyond { .. } => 1,
            Rule::OneSide { n }
            | Rule::Trend { n }
            | Rule::Alternating { n }
            | Rule::MOfN { n, .. }
            | Rule::Hugging { n, .. }
            | Rule::Avoiding { n, .. } => n,
        }
    }

    /// Dispersion, attribute and moving panels use only these kinds: their statistics are skewed
    /// or share readings with their neighbours, which the other kinds do not allow for.
    pub fn suits_dispersion(&self) -> bool {
        matches!(self, Rule::Beyond { .. } | Rule::OneSide { .. } | Rule::Trend { .. } | Rule::Alternating { .. })
    }

    /// The parameter that is out of its bounds, if any.
    ///
    /// # Errors
    /// Its name, what was given and what is allowed.
    pub fn check(&self) -> Result<(), OutOfBounds> {
        let refuse = |name, given: String, expected| Err(OutOfBounds { name, given, expected });
        let (least, n) = match *self {
            Rule::Beyond { .. } => (1, 1),
            Rule::Trend { n } => (2, n),
            Rule::Alternating { n } => (3, n),
            Rule::OneSide { n } | Rule::MOfN { n, .. } | Rule::Hugging { n, .. } | Rule::Avoiding { n, .. } => (1, n),
        };
        if !(least..=LONGEST_WINDOW).contains(&n) {
            return refuse("n", n.to_string(), Expected::whole(least, LONGEST_WINDOW));
        }
        if let Rule::MOfN { m, n, .. } = *self
            && !(1..=n).contains(&m)
        {
            return refuse("m", m.to_string(), Expected::whole(1, n));
        }
        match *self {
            Rule::Beyond { k } | Rule::MOfN { k, .. } | Rule::Hugging { k, .. } | Rule::Avoiding { k, .. }
                if !(k.is_finite() && k > 0.0) =>
            {
                refuse("k", k.to_string(), Expected::POSITIVE)
            }
            _ => Ok(()),
        }
    }
}

/// A parameter of a rule that is out of its bounds.
#[derive(Debug, Clone, PartialEq)]
pub struct OutOfBounds {
    /// `m`, `n` or `k`.
    pub name: &'static str,
    /// What was given.
    pub given: String,
    /// What is allowed.
    pub expected: Expected,
}

/// The named rule sets of the trade.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Preset {
    /// Beyond the limits, nothing else.
    LimitsOnly,
    /// Beyond; 2 of 3 beyond 2; 4 of 5 beyond 1; 8 on one side. (Western Electric, 1956.)
    WesternElectric,
    /// Beyond; 9 on one side; trend 6; alternating 14; 2 of 3; 4 of 5; hugging 15; avoiding 8. (Nelson, 1984.)
    Nelson,
    /// Beyond; 7 on one side; trend 7.
    SevenPoint,
}

impl Preset {
    /// The rules of the preset. `beyond` means beyond the drawn limits, so it takes their `k`.
    pub fn rules(self, k: f64) -> Vec<Rule> {
        use Rule::{Alternating, Avoiding, Beyond, Hugging, MOfN, OneSide, Trend};
        let two_of_three = MOfN { m: 2, n: 3, k: 2.0 };
        let four_of_five = MOfN { m: 4, n: 5, k: 1.0 };
        let rest = match self {
            Preset::LimitsOnly => vec![],
            Preset::WesternElectric => vec![two_of_three, four_of_five, OneSide { n: 8 }],
            Preset::Nelson => vec![
                OneSide { n: 9 },
                Trend { n: 6 },
                Alternating { n: 14 },
                two_of_three,
                four_of_five,
                Hugging { n: 15, k: 1.0 },
                Avoiding { n: 8, k: 1.0 },
            ],
            Preset::SevenPoint => vec![OneSide { n: 7 }, Trend { n: 7 }],
        };
        std::iter::once(Beyond { k }).chain(rest).collect()
    }
}

/// The rules that judge a chart.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum RuleSet {
    /// A named set; its `beyond` follows the `k` of the limits.
    Preset(Preset),
    /// Rules chosen one by one; `beyond` uses its own `k`, whatever the limits are drawn with.
    List(Vec<ListedRule>),
}

/// A rule of a list, on all panels that its kind suits or on some of them.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ListedRule {
    /// The rule.
    #[serde(flatten)]
    pub rule: Rule,
    /// The panels it looks at. Default: all.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub panels: Option<Panels>,
}

/// Which panels of a chart.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Panels {
    /// Those of the spread: range, s, moving range.
    Dispersion,
    /// The others.
    Location,
}

impl From<Rule> for ListedRule {
    fn from(rule: Rule) -> Self {
        Self { rule, panels: None }
    }
}

impl ListedRule {
    /// Whether it looks at a panel of the spread, or at one that is not.
    pub(crate) fn looks_at(&self, dispersion: bool) -> bool {
        self.panels.is_none_or(|panels| (panels == Panels::Dispersion) == dispersion)
    }
}

impl RuleSet {
    /// The rules in order, for limits drawn at `k` sigma.
    pub fn rules(&self, k: f64) -> Vec<ListedRule> {
        match self {
            RuleSet::Preset(preset) => preset.rules(k).into_iter().map(ListedRule::from).collect(),
            RuleSet::List(list) => list.clone(),
        }
    }

    /// Rules chosen one by one, on all panels that their kinds suit.
    pub fn of(rules: impl IntoIterator<Item = Rule>) -> Self {
        RuleSet::List(rules.into_iter().map(ListedRule::from).collect())
    }

    /// Those of them that look at a location panel.
    pub(crate) fn of_location(&self, k: f64) -> impl Iterator<Item = ListedRule> {
        self.rules(k).into_iter().filter(|listed| listed.looks_at(false))
    }

    /// The longest window of any rule: no judgement depends on tested points further back.
    pub fn longest_window(&self) -> usize {
        self.rules(3.0).iter().map(|listed| listed.rule.window()).max().unwrap_or(1)
    }
}
