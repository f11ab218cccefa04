//! Points drawn otherwise than they are judged.

use std::collections::{BTreeMap, BTreeSet, HashMap};

use quality::characteristic::Characteristic;
use quality::entry::Tags;
use quality::field::{Allowed, WrongField};
use quality::limits::{TRIAL_POINTS_AT_LEAST, estimate};
use quality::place::{Place, points, where_so};
use quality::sample::{Defects, Plotted};
use spc::chart::{ChartAnswer, ChartKind, ChartOptions, ChartRequest, Figures, Limits, LimitsBasis, compute};
use spc::rules::RuleSet;
use sqlx::types::Json;
use sqlx::{PgConnection, PgPool};
use uuid::Uuid;

use super::types::{Arrange, LookAt, Looked, LookedDrawing, LookedStretch, OtherRules, PanelRange};
use crate::StoreError;
use crate::characteristics::{self, CharacteristicView};
use crate::charts::POINTS_AT_MOST;
use crate::drawn::Drawing;
use crate::once::compiled_once;
use crate::rule_sets;
use crate::series::{SeriesPoint, Stretch};

/// So many values of a tag are told apart; more are no comparison any more.
const VALUES_AT_MOST: usize = 12;

/// Limits farther out than this are none.
const K_AT_MOST: f64 = 10.0;

/// Points of a characteristic as they are asked to be looked at.
///
/// # Errors
/// When there is no such characteristic, or its data cannot be drawn on that chart.
#[compiled_once]
pub async fn look(pool: &PgPool, id: Uuid, at: &LookAt) -> Result<Looked, StoreError> {
    let mut conn = pool.acquire().await?;
    let setup = characteristics::find(&mut *conn, id).await?;
    let schemes = setup.schemes();
    let last = at.last.clamp(1, POINTS_AT_MOST) as usize;
    let mut read = Stretch::all(&setup, &schemes).before(&mut conn, None, last).await?;
    let tags = tags_of(&mut conn, &read).await?;
    let counted = defects_of(&mut conn, &setup, &read).await?;
    if let Some(defect) = &at.defect {
        read.iter_mut().for_each(|point| of_defect(point, defect, &counted));
    }
    let charts: Vec<ChartKind> = setup
        .characteristic
        .kind
        .charts()
        .iter()
        .copied()
        .filter(|chart| on(&setup.characteristic, *chart).check().is_ok())
        .collect();
    let own = setup.characteristic.chart;
    let chart = at.chart.unwrap_or(own);
    if chart != own && !charts.contains(&chart) {
        return Err(WrongField::new("chart", Allowed::ChartOfTheKind).into());
    }
    let mut characteristic = on(&setup.characteristic, chart);
    if let Some(k) = at.k {
        if !(k > 0.0 && k <= K_AT_MOST) {
            return Err(WrongField::new("k", Allowed::Positive { most: K_AT_MOST }).into());
        }
        characteristic.k = k;
    }
    if let Some(rules) = at.rules {
        characteristic.rule_set = match rules {
            OtherRules::Preset(preset) => RuleSet::Preset(preset),
            OtherRules::Named(id) => rule_sets::latest(&mut conn, id).await?,
        };
    }
    let defects: BTreeSet<String> = counted.values().flat_map(|kinds| kinds.keys().cloned()).collect();
    let names: BTreeSet<String> = tags.values().flat_map(|tags| tags.keys().cloned()).collect();
    let sight = Sight { setup: &setup, characteristic: &characteristic };
    let mut left_out = 0;
    let drawings = match &at.tag {
        None => sight.draw(None, vec![(None, read)], None)?.into_iter().collect(),
        Some(tag) => {
            let value = |point: &SeriesPoint| tags.get(&point.sample?).and_then(|tags| tags.get(tag)).cloned();
            let values = values(&read, value);
            let (shown, others): (Vec<SeriesPoint>, Vec<SeriesPoint>) =
                read.into_iter().partition(|point| value(point).is_some_and(|value| values.contains(&value)));
            left_out = others.iter().filter(|point| point.sample.is_some()).count();
            sight.by_value(shown, &values, value, at)?
        }
    };
    let ranges = ranges(&drawings);
    let (tags, defects) = (names.into_iter().collect(), defects.into_iter().collect());
    let k = characteristic.k;
    Ok(Looked { chart, k, charts, tags, defects, left_out, drawings, ranges, characteristic: setup })
}

/// The characteristic on another chart.
fn on(characteristic: &Characteristic, chart: ChartKind) -> Characteristic {
    let options = if chart == characteristic.chart {
        characteristic.options.clone()
    } else {
        ChartOptions { conforming: false, mean_size: false, ..characteristic.options.clone() }
    };
    Characteristic { chart, options, ..characteristic.clone() }
}

/// The most frequent values, in the order of their names.
fn values(points: &[SeriesPoint], value: impl Fn(&SeriesPoint) -> Option<String>) -> Vec<String> {
    let mut counted: BTreeMap<String, usize> = BTreeMap::new();
    for value in points.iter().filter_map(value) {
        *counted.entry(value).or_default() += 1;
    }
    let mut frequent: Vec<(String, usize)> = counted.into_iter().collect();
    frequent.sort_by_key(|(_, count)| std::cmp::Reverse(*count));
    frequent.truncate(VALUES_AT_MOST);
    let mut values: Vec<String> = frequent.into_iter().map(|(value, _)| value).collect();
    values.sort();
    values
}

struct Sight<'a> {
    setup: &'a CharacteristicView,
    /// On the chart that is looked at.
    characteristic: &'a Characteristic,
}

impl Sight<'_> {
    fn by_value(
        &self,
        shown: Vec<SeriesPoint>,
        values: &[String],
        value: impl Fn(&SeriesPoint) -> Option<String>,
        at: &LookAt,
    ) -> Result<Vec<LookedDrawing>, StoreError> {
        let all: Vec<Place> = shown.iter().map(|point| point.place.clone()).collect();
        let common = if at.common { estimate(self.characteristic, &all).map(|found| found.figures) } else { None };
        if at.arrange == Arrange::Marks {
            let mark = |point: &SeriesPoint| values.iter().position(|known| Some(known) == value(point).as_ref());
            let marks = shown.iter().map(mark).collect();
            let drawn = self.draw(None, vec![(None, shown)], None)?;
            return Ok(drawn
                .map(|drawn| LookedDrawing { marks, values: values.to_vec(), ..drawn })
                .into_iter()
                .collect());
        }
        let mut groups: Vec<(Option<String>, Vec<SeriesPoint>)> =
            values.iter().map(|value| (Some(value.clone()), Vec::new())).collect();
        for point in shown {
            let value = value(&point);
            if let Some((_, group)) = groups.iter_mut().find(|(of, _)| *of == value) {
                group.push(point);
            }
        }
        if at.arrange == Arrange::Phases {
            return Ok(self.draw(None, groups, common)?.into_iter().collect());
        }
        let mut drawn = Vec::with_capacity(groups.len());
        for (value, group) in groups {
            drawn.extend(self.draw(value.clone(), vec![(value, group)], common)?);
        }
        Ok(drawn)
    }

    /// One chart of groups in their order, each with limits of its own points, or of the figures given.
    fn draw(
        &self,
        value: Option<String>,
        groups: Vec<(Option<String>, Vec<SeriesPoint>)>,
        given: Option<Figures>,
    ) -> Result<Option<LookedDrawing>, StoreError> {
        let mut all: Vec<SeriesPoint> = Vec::new();
        let mut stretches = Vec::new();
        for (value, group) in groups.into_iter().filter(|(_, group)| !group.is_empty()) {
            let start = all.len();
            let used = group.iter().filter(|point| point.place.counts()).count();
            all.extend(group);
            stretches.push(LookedStretch { start, end: all.len() - 1, value, used, figures: given });
        }
        if all.is_empty() {
            return Ok(None);
        }
        let answer = self.compute(&all, &stretches, given)?;
        let mut drawing = Drawing::of(self.setup, &all, &answer, 0);
        for (stretch, phase) in stretches.iter_mut().zip(&answer.phases) {
            if given.is_none() && stretch.used < TRIAL_POINTS_AT_LEAST {
                drawing.unlimited(stretch.start, stretch.end);
            } else {
                stretch.figures = Some(phase.figures);
            }
        }
        Ok(Some(LookedDrawing { value, drawing, stretches, marks: vec![], values: vec![] }))
    }

    fn compute(
        &self,
        all: &[SeriesPoint],
        stretches: &[LookedStretch],
        given: Option<Figures>,
    ) -> Result<ChartAnswer, StoreError> {
        let scheme = self.characteristic.scheme();
        let places: Vec<Place> = all.iter().map(|point| point.place.clone()).collect();
        let basis = given.map_or(Limits::ESTIMATED.basis, LimitsBasis::Given);
        let request = ChartRequest {
            phases: stretches.iter().map(|stretch| stretch.start).collect(),
            limits: vec![Limits { basis, k: scheme.k }; stretches.len()],
            excluded: where_so(&places, |place| place.aside),
            restarts: where_so(&places, |place| place.restart),
            rules: Some(scheme.rule_set),
            options: scheme.options,
            ..ChartRequest::new(scheme.chart, points(self.characteristic.kind, &places))
        };
        // What was accepted can be charted, if not on every chart: one that means a constant number, say.
        compute(&request).map_err(|_| WrongField::new("chart", Allowed::ChartOfTheKind).into())
    }
}

/// What each panel reaches over on all charts.
fn ranges(drawings: &[LookedDrawing]) -> Vec<PanelRange> {
    let mut ranges: Vec<PanelRange> = Vec::new();
    for panel in drawings.iter().flat_map(|drawn| &drawn.drawing.panels) {
        let seen = panel.points.iter().flat_map(|p| [p.value.get(), p.lower.get(), p.center.get(), p.upper.get()]);
        for x in seen.flatten() {
            match ranges.iter_mut().find(|range| range.statistic == panel.statistic) {
                Some(range) => (range.lowest, range.highest) = (range.lowest.min(x), range.highest.max(x)),
                None => ranges.push(PanelRange { statistic: panel.statistic, lowest: x, highest: x }),
            }
        }
    }
    ranges
}

/// The tags of samples.
async fn tags_of(conn: &mut PgConnection, points: &[SeriesPoint]) -> Result<HashMap<Uuid, Tags>, StoreError> {
    let samples: Vec<Uuid> = points.iter().filter_map(|point| point.sample).collect();
    let rows = sqlx::query!(r#"select id, tags as "tags: Json<Tags>" from sample where id = any($1)"#, &samples);
    Ok(rows.fetch_all(conn).await?.into_iter().map(|row| (row.id, row.tags.0)).collect())
}

/// How many of each kind of defect samples have.
async fn defects_of(
    conn: &mut PgConnection,
    setup: &CharacteristicView,
    points: &[SeriesPoint],
) -> Result<HashMap<Uuid, BTreeMap<String, u32>>, StoreError> {
    let samples: Vec<Uuid> = points.iter().filter_map(|point| point.sample).collect();
    let rows = sqlx::query!(
        r#"select id, defects as "defects: Json<Vec<Defects>>" from sample where id = any($1) and count > 0"#,
        &samples
    );
    let kinds = |defects: &[Defects]| {
        let mut kinds = BTreeMap::new();
        for one in defects {
            *kinds.entry(one.name(&setup.characteristic)).or_default() += one.count;
        }
        kinds
    };
    Ok(rows.fetch_all(conn).await?.into_iter().map(|row| (row.id, kinds(&row.defects))).collect())
}

/// The point with one kind of defect in place of all that was counted.
fn of_defect(point: &mut SeriesPoint, defect: &str, counted: &HashMap<Uuid, BTreeMap<String, u32>>) {
    let Plotted::Count(Some(count)) = &mut point.place.plotted else { return };
    let kinds = point.sample.and_then(|sample| counted.get(&sample));
    count.count = kinds.and_then(|kinds| kinds.get(defect)).map_or(0.0, |count| f64::from(*count));
}
