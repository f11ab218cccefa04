//! Reads a chart request from JSON. The shapes here are those of the interface, with everything
//! optional that may be left out; what they mean is checked in [`crate::chart`].

use std::marker::PhantomData;

use super::answer::Answer;
use super::fields::Fields;
use crate::bounds::{JUDGEMENTS_AT_MOST, POINTS_AT_MOST, list};
use crate::chart::{ChartKind, ChartOptions, ChartRequest, Figures, Limits, LimitsBasis, Recorded, compute};
use crate::points::{Count, Points, Readings};
use crate::rules::{ListedRule, Panels, Preset, Rule, RuleKind, RuleSet};
use crate::wrong_request::{Expected, Need, WrongRequest};
use serde::de::value::{MapAccessDeserializer, SeqAccessDeserializer};
use serde::de::{MapAccess, SeqAccess, Visitor};
use serde::{Deserialize, Deserializer};

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct RawChart {
    chart: ChartKind,
    #[serde(deserialize_with = "list::<_, _, POINTS_AT_MOST>")]
    points: Vec<Option<RawPoint>>,
    phases: Option<Vec<usize>>,
    #[serde(default)]
    excluded: Vec<usize>,
    #[serde(default)]
    restarts: Vec<usize>,
    #[serde(default)]
    limits: OneOrMany<RawLimits>,
    rules: Option<RawRules>,
    #[serde(default)]
    options: ChartOptions,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
pub(super) struct RawPoint {
    values: Option<Vec<Option<f64>>>,
    count: Option<f64>,
    size: Option<f64>,
    value: Option<f64>,
}

#[derive(Clone, Copy, Default, PartialEq, Deserialize)]
#[serde(rename_all = "snake_case")]
enum RawBasis {
    #[default]
    Estimated,
    Given,
}

#[derive(Default, Deserialize)]
#[serde(default, deny_unknown_fields)]
struct RawLimits {
    basis: RawBasis,
    k: Option<f64>,
    from: Option<usize>,
    to: Option<usize>,
    center: Option<f64>,
    sigma: Option<f64>,
    sigma_between: Option<f64>,
    mean_n: Option<f64>,
    shape: Option<f64>,
    scale: Option<f64>,
    lower: Option<f64>,
    upper: Option<f64>,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
pub(super) struct RawRules {
    preset: Option<Preset>,
    list: Option<Vec<RawRule>>,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct RawRule {
    kind: RuleKind,
    m: Option<usize>,
    n: Option<usize>,
    k: Option<f64>,
    panels: Option<Panels>,
}

/// One object for all phases, or one for each.
enum OneOrMany<T> {
    One(T),
    Many(Vec<T>),
}

impl<T: Default> Default for OneOrMany<T> {
    fn default() -> Self {
        Self::One(T::default())
    }
}

// By hand rather than `untagged`, which would lose the path of a wrong field.
impl<'de, T: Deserialize<'de>> Deserialize<'de> for OneOrMany<T> {
    fn deserialize<D: Deserializer<'de>>(deserializer: D) -> Result<Self, D::Error> {
        struct Either<T>(PhantomData<T>);
        impl<'de, T: Deserialize<'de>> Visitor<'de> for Either<T> {
            type Value = OneOrMany<T>;
            fn expecting(&self, f: &mut std::fmt::Formatter) -> std::fmt::Result {
                f.write_str("an object, or a list of objects")
            }
            fn visit_map<A: MapAccess<'de>>(self, map: A) -> Result<Self::Value, A::Error> {
                T::deserialize(MapAccessDeserializer::new(map)).map(OneOrMany::One)
            }
            fn visit_seq<A: SeqAccess<'de>>(self, seq: A) -> Result<Self::Value, A::Error> {
                Vec::deserialize(SeqAccessDeserializer::new(seq)).map(OneOrMany::Many)
            }
        }
        deserializer.deserialize_any(Either(PhantomData))
    }
}

pub(super) fn answer(fields: Fields) -> Result<Answer, WrongRequest> {
    Ok(Answer::of(compute(&read_request(fields)?)?))
}

/// The chart request that stands in `fields`.
pub(super) fn read_request(fields: Fields) -> Result<ChartRequest, WrongRequest> {
    let request = fields.read::<RawChart>()?.into_request()?;
    let rules = request.rules.as_ref().map_or(0, |rules| rules.rules(3.0).len());
    if request.points.len() * rules > JUDGEMENTS_AT_MOST {
        let given = format!("{} points times {rules} rules", request.points.len());
        return Err(WrongRequest::new("rules", given, Expected::at_most(JUDGEMENTS_AT_MOST, "in all")));
    }
    Ok(request)
}

impl RawChart {
    fn into_request(self) -> Result<ChartRequest, WrongRequest> {
        let phases = self.phases.unwrap_or_else(|| vec![0]);
        let limits = match self.limits {
            OneOrMany::One(one) => vec![one.into_limits("limits")?; phases.len()],
            OneOrMany::Many(many) => many
                .into_iter()
                .enumerate()
                .map(|(i, limits)| limits.into_limits(&format!("limits[{i}]")))
                .collect::<Result<_, _>>()?,
        };
        let points = read_points(self.chart, self.points)?;
        // A chart that begins with gaps is drawn; who asks for an analysis of nothing has made a mistake.
        if points.are_all_gaps() {
            return Err(WrongRequest::new("points", "no values", Expected::at_least(1, "points with a value")));
        }
        Ok(ChartRequest {
            chart: self.chart,
            points,
            phases,
            excluded: self.excluded,
            restarts: self.restarts,
            limits,
            rules: self.rules.map(RawRules::into_rule_set).transpose()?.flatten(),
            options: self.options,
        })
    }
}

/// Measured values, missing ones left out.
pub(super) fn read_readings(points: Vec<Option<RawPoint>>) -> Result<Readings, WrongRequest> {
    let mut readings = Readings::default();
    for (i, point) in points.into_iter().enumerate() {
        let values = point.map(|p| p.only(i, "values", |p| p.values.take())).transpose()?;
        readings.push(values.into_iter().flatten().flatten());
    }
    Ok(readings)
}

/// The points in the form that the chart records.
pub(super) fn read_points(chart: ChartKind, raw: Vec<Option<RawPoint>>) -> Result<Points, WrongRequest> {
    Ok(match chart.records() {
        Recorded::Values => read_readings(raw)?.into(),
        Recorded::Counts => {
            let read = |(i, point): (usize, Option<RawPoint>)| point.map(|p| p.counted(i, chart)).transpose();
            Points::Counts(raw.into_iter().enumerate().map(read).collect::<Result<_, _>>()?)
        }
        Recorded::Between => {
            let read = |(i, point): (usize, Option<RawPoint>)| {
                point.map(|p| p.only(i, "value", |p| p.value.take())).transpose()
            };
            Points::Between(raw.into_iter().enumerate().map(read).collect::<Result<_, _>>()?)
        }
    })
}

impl RawPoint {
    /// The field that this chart records; the others must be absent.
    fn only<T>(mut self, i: usize, name: &str, take: impl Fn(&mut Self) -> Option<T>) -> Result<T, WrongRequest> {
        let taken = take(&mut self);
        let others = [
            ("values", self.values.is_some()),
            ("count", self.count.is_some()),
            ("size", self.size.is_some()),
            ("value", self.value.is_some()),
        ];
        if let Some((other, _)) = others.iter().find(|(_, present)| *present) {
            return Err(WrongRequest::new(
                format!("points[{i}].{other}"),
                "present",
                Expected::only_with("charts that record it"),
            ));
        }
        taken.ok_or_else(|| WrongRequest::missing(format!("points[{i}].{name}"), Need::Value))
    }

    /// A c chart has the same area everywhere, and needs no size.
    fn counted(mut self, i: usize, chart: ChartKind) -> Result<Count, WrongRequest> {
        let size = match self.size.take() {
            Some(size) => size,
            None if chart == ChartKind::C => 1.0,
            None => return Err(WrongRequest::missing(format!("points[{i}].size"), Expected::POSITIVE)),
        };
        Ok(Count { count: self.only(i, "count", |p| p.count.take())?, size })
    }
}

impl RawLimits {
    fn into_limits(self, path: &str) -> Result<Limits, WrongRequest> {
        let refuse = |name: &str, given: bool, with: &str| {
            if given {
                Err(WrongRequest::new(
                    format!("{path}.{name}"),
                    "present",
                    Expected::only_with(format!("basis {with}")),
                ))
            } else {
                Ok(())
            }
        };
        let Self { center, sigma, sigma_between, mean_n, shape, scale, lower, upper, .. } = self;
        let basis = match self.basis {
            RawBasis::Estimated => {
                refuse("center", center.is_some(), "given")?;
                refuse("sigma", sigma.is_some(), "given")?;
                refuse("sigma_between", sigma_between.is_some(), "given")?;
                refuse("mean_n", mean_n.is_some(), "given")?;
                refuse("shape", shape.is_some(), "given")?;
                refuse("scale", scale.is_some(), "given")?;
                LimitsBasis::Estimated { from: self.from, to: self.to, lower, upper }
            }
            RawBasis::Given => {
                refuse("from", self.from.is_some(), "estimated")?;
                refuse("to", self.to.is_some(), "estimated")?;
                LimitsBasis::Given(Figures { center, sigma, sigma_between, mean_n, shape, scale, lower, upper })
            }
        };
        Ok(Limits { basis, k: self.k.unwrap_or(3.0) })
    }
}

impl RawRules {
    pub(super) fn into_rule_set(self) -> Result<Option<RuleSet>, WrongRequest> {
        match (self.preset, self.list) {
            (Some(_), Some(_)) => Err(WrongRequest::new("rules", "both preset and list", Need::NotBoth)),
            (Some(preset), None) => Ok(Some(RuleSet::Preset(preset))),
            (None, Some(list)) => list
                .into_iter()
                .enumerate()
                .map(|(i, rule)| rule.into_rule(&format!("rules.list[{i}]")))
                .collect::<Result<_, _>>()
                .map(|rules| Some(RuleSet::List(rules))),
            (None, None) => Ok(None),
        }
    }
}

impl RawRule {
    fn into_rule(self, path: &str) -> Result<ListedRule, WrongRequest> {
        let missing = |name: &str| WrongRequest::missing(format!("{path}.{name}"), Expected::NUMBER);
        let n = || self.n.ok_or_else(|| missing("n"));
        let k = || self.k.ok_or_else(|| missing("k"));
        let rule = match self.kind {
            RuleKind::Beyond => Rule::Beyond { k: k()? },
            RuleKind::OneSide => Rule::OneSide { n: n()? },
            RuleKind::Trend => Rule::Trend { n: n()? },
            RuleKind::Alternating => Rule::Alternating { n: n()? },
            RuleKind::MOfN => Rule::MOfN { m: self.m.ok_or_else(|| missing("m"))?, n: n()?, k: k()? },
            RuleKind::Hugging => Rule::Hugging { n: n()?, k: k()? },
            RuleKind::Avoiding => Rule::Avoiding { n: n()?, k: k()? },
        };
        let takes_n = !matches!(rule, Rule::Beyond { .. });
        let takes_k = !matches!(rule, Rule::OneSide { .. } | Rule::Trend { .. } | Rule::Alternating { .. });
        let takes_m = matches!(rule, Rule::MOfN { .. });
        for (name, given, takes) in
            [("m", self.m.is_some(), takes_m), ("n", self.n.is_some(), takes_n), ("k", self.k.is_some(), takes_k)]
        {
            if given && !takes {
                return Err(WrongRequest::new(
                    format!("{path}.{name}"),
                    "present",
                    Expected::only_with("other kinds of rules"),
                ));
            }
        }
        Ok(ListedRule { rule, panels: self.panels })
    }
}
