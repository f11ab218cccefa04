//! Looking at points otherwise than they are judged: another kind of chart, split by a tag.

use quality::entry::{Accepted, Tags};
use quality::sample::Content;
use spc::chart::{ChartKind, ChartRequest, Limits, Statistic, compute};
use spc::points::Points;
use spc::rules::{ListedRule, Preset, Rule, RuleSet};
use sqlx::PgPool;
use store::StoreError;
use store::looking::{Arrange, LookAt, Looked, OtherRules, look};
use store::rule_sets::add;
use store::samples::{NewSample, Visit, save};

use crate::common::{self, Site, sample, save_wall, site};

async fn save_of(pool: &PgPool, site: &Site, minutes: i64, mould: Option<&str>, mean: f64) {
    let tags: Tags = mould.map(|mould| ("mould".to_owned(), mould.to_owned())).into_iter().collect();
    let readings = [mean - 0.02, mean + 0.01, mean + 0.01];
    let accepted = Accepted { tags, ..common::accepted(Content::readings(readings)) };
    save(pool, &NewSample { visit: Visit::Taken(accepted), ..sample(site, site.wall, minutes, &[]) }).await.unwrap();
}

/// Mould M1 about 5.0, M2 about 5.1, by turns; M3 once; one without.
async fn two_moulds(pool: &PgPool, site: &Site) {
    for i in 0..24 {
        let (mould, mean) = if i % 2 == 0 { ("M1", 5.0) } else { ("M2", 5.1) };
        save_of(pool, site, i, Some(mould), mean + 0.01 * (i % 3) as f64).await;
    }
    save_of(pool, site, 24, Some("M3"), 5.05).await;
    save_of(pool, site, 25, None, 5.05).await;
}

async fn by_mould(pool: &PgPool, site: &Site, arrange: Arrange, common: bool) -> Looked {
    let at = LookAt { tag: Some("mould".into()), arrange, common, last: 200, ..LookAt::default() };
    look(pool, site.wall, &at).await.unwrap()
}

#[sqlx::test]
async fn side_by_side_each_value_has_limits_of_its_own_or_those_of_all(pool: PgPool) {
    let site = site(&pool, "").await;
    two_moulds(&pool, &site).await;
    let own = by_mould(&pool, &site, Arrange::SideBySide, false).await;
    let values: Vec<_> = own.drawings.iter().map(|drawn| drawn.value.clone().unwrap()).collect();
    assert_eq!((values, own.left_out), (vec!["M1".into(), "M2".into(), "M3".into()], 1));
    let center = |looked: &Looked, i: usize| looked.drawings[i].stretches[0].figures.and_then(|f| f.center);
    assert!((center(&own, 0).unwrap() - 5.01).abs() < 1e-9 && (center(&own, 1).unwrap() - 5.11).abs() < 1e-9);
    // One point is too few for limits.
    assert_eq!(center(&own, 2), None);
    assert!(own.drawings[2].drawing.panels[0].points[0].upper.get().is_none());
    let common = by_mould(&pool, &site, Arrange::SideBySide, true).await;
    assert_eq!(center(&common, 0), center(&common, 2));
    // One scale for all.
    let range = own.ranges.iter().find(|range| range.statistic == Statistic::Mean).unwrap();
    let means = own.drawings.iter().flat_map(|drawn| &drawn.drawing.panels[0].points);
    assert!(means.filter_map(|p| p.upper.get()).all(|upper| upper <= range.highest));
}

#[sqlx::test]
async fn a_phase_for_each_value_and_marks_are_one_chart(pool: PgPool) {
    let site = site(&pool, "").await;
    two_moulds(&pool, &site).await;
    let phases = by_mould(&pool, &site, Arrange::Phases, false).await;
    let [drawn] = &phases.drawings[..] else { panic!("one chart") };
    let stretches: Vec<_> = drawn.stretches.iter().map(|s| (s.start, s.end, s.value.as_deref().unwrap())).collect();
    assert_eq!(stretches, [(0, 11, "M1"), (12, 23, "M2"), (24, 24, "M3")]);
    let numbers: Vec<i64> = drawn.drawing.samples.iter().take(3).map(|s| s.number).collect();
    assert_eq!(numbers, [1, 3, 5]);
    let marks = by_mould(&pool, &site, Arrange::Marks, false).await;
    assert_eq!(marks.drawings[0].marks[..3], [Some(0), Some(1), Some(0)]);
    assert_eq!((marks.drawings[0].values.len(), marks.drawings[0].drawing.samples[1].number), (3, 2));
}

/// Another kind of chart is that of the core, and nothing is raised or changed by looking.
#[sqlx::test]
async fn another_kind_of_chart_is_only_looked_at(pool: PgPool) {
    let site = site(&pool, "").await;
    for i in 0..30 {
        save_wall(&pool, &site, i, 5.0 + 0.02 * (i * 7 % 5) as f64 + if i > 22 { 0.15 } else { 0.0 }).await;
    }
    let before: (i64, i64) =
        sqlx::query_as("select (select count(*) from signal), (select sum(position)::bigint from trail_head)")
            .fetch_one(&pool)
            .await
            .unwrap();
    let at = LookAt { chart: Some(ChartKind::Ewma), last: 200, ..LookAt::default() };
    let looked = look(&pool, site.wall, &at).await.unwrap();
    assert!(looked.charts.contains(&ChartKind::Cusum) && !looked.charts.contains(&ChartKind::IMr));
    let readings: Vec<Vec<f64>> =
        sqlx::query_scalar("select readings from sample order by taken_at").fetch_all(&pool).await.unwrap();
    let points = Points::Values(readings.into_iter().collect());
    let whole = compute(&ChartRequest::new(ChartKind::Ewma, points)).unwrap();
    let drawn = &looked.drawings[0].drawing;
    for (i, point) in drawn.panels[0].points.iter().enumerate() {
        assert_eq!((point.value, point.upper), (whole.panels[0].point(i).value, whole.panels[0].point(i).upper));
    }
    assert!(!drawn.patterns.is_empty());
    let after: (i64, i64) =
        sqlx::query_as("select (select count(*) from signal), (select sum(position)::bigint from trail_head)")
            .fetch_one(&pool)
            .await
            .unwrap();
    assert_eq!(before, after);
    let wrong = LookAt { chart: Some(ChartKind::P), ..at };
    assert!(matches!(look(&pool, site.wall, &wrong).await, Err(StoreError::Field(_))));
}

/// What the same readings come to at `k` sigma by these rules, from the analysis itself.
async fn analysed(pool: &PgPool, k: f64, rules: RuleSet) -> (Vec<f64>, usize) {
    let readings: Vec<Vec<f64>> =
        sqlx::query_scalar("select readings from sample order by taken_at").fetch_all(pool).await.unwrap();
    let points = Points::Values(readings.into_iter().collect());
    let limits = vec![Limits { k, ..Limits::ESTIMATED }];
    let whole =
        compute(&ChartRequest { limits, rules: Some(rules), ..ChartRequest::new(ChartKind::XbarR, points) }).unwrap();
    let upper = (0..30).map(|i| whole.panels[0].point(i).upper.get().unwrap()).collect();
    (upper, whole.signals.len())
}

#[sqlx::test]
async fn other_limits_and_other_rules_are_only_looked_at(pool: PgPool) {
    let site = site(&pool, "").await;
    for i in 0..30 {
        save_wall(&pool, &site, i, 5.0 + 0.03 * (i * 7 % 5) as f64 + if i > 25 { 0.05 } else { 0.0 }).await;
    }
    let own = [ListedRule::from(Rule::OneSide { n: 4 }), ListedRule::from(Rule::Trend { n: 3 })];
    let named = add(&pool, "Strict", &own, (site.engineer, chrono::Utc::now())).await.unwrap();
    for (k, rules, expected) in [
        (1.5, OtherRules::Preset(Preset::LimitsOnly), RuleSet::Preset(Preset::LimitsOnly)),
        (3.5, OtherRules::Preset(Preset::Nelson), RuleSet::Preset(Preset::Nelson)),
        (3.0, OtherRules::Named(named), RuleSet::List(own.to_vec())),
    ] {
        let at = LookAt { last: 200, k: Some(k), rules: Some(rules), ..LookAt::default() };
        let looked = look(&pool, site.wall, &at).await.unwrap();
        let (upper, signals) = analysed(&pool, k, expected).await;
        let panel = &looked.drawings[0].drawing.panels[0];
        let drawn: Vec<f64> = panel.points.iter().map(|point| point.upper.get().unwrap()).collect();
        assert_eq!((looked.k, drawn), (k, upper));
        let found: usize = looked.drawings[0].drawing.patterns.len();
        assert_eq!(found, signals, "at {k} sigma");
    }
    let raised: i64 = sqlx::query_scalar("select count(*) from signal").fetch_one(&pool).await.unwrap();
    let at = LookAt { last: 200, k: Some(0.5), ..LookAt::default() };
    assert!(look(&pool, site.wall, &at).await.unwrap().drawings[0].drawing.patterns.len() as i64 > raised);
    for wrong in [0.0, 10.5, f64::NAN] {
        let at = LookAt { k: Some(wrong), ..at.clone() };
        assert!(matches!(look(&pool, site.wall, &at).await, Err(StoreError::Field(_))), "{wrong}");
    }
    let missing = LookAt { rules: Some(OtherRules::Named(site.wall)), ..LookAt::default() };
    assert!(matches!(look(&pool, site.wall, &missing).await, Err(StoreError::Missing(_))));
}
