//! Rare events, which lie so far from the one before, and short runs, whose parts share a chart.

use chrono::Duration;
use quality::characteristic::{Bounds, Characteristic, Kind, Sampling};
use quality::entry::{Accepted, Tags};
use quality::part::Part;
use quality::role::Role;
use quality::sample::{Content, RareEvent};
use quality::setup::SetUpRefusal;
use spc::chart::{ChartKind, ChartOptions, ChartRequest, Figures, Limits, compute};
use spc::points::Points;
use spc::rules::{Preset, RuleSet};
use sqlx::PgPool;
use store::StoreError;
use store::characteristics::Belongs;
use store::plan::{CharacteristicChange, add_characteristic, change};
use store::samples::{NewSample, Saved, Visit, save, withdraw};
use uuid::Uuid;

use crate::common::{self, Site, give_limits, person, sample, site, wall_thickness};

async fn add(pool: &PgPool, site: &Site, new: &Characteristic) -> Uuid {
    let product = sqlx::query_scalar("select id from product limit 1").fetch_one(pool).await.unwrap();
    let belongs = Belongs { station: site.station, product, since: site.since };
    add_characteristic(pool, belongs, new, site.engineer).await.unwrap()
}

fn trips() -> Characteristic {
    Characteristic {
        name: "Burner trips".into(),
        kind: Kind::RareEvent,
        chart: ChartKind::T,
        sampling: Sampling::Never,
        unit: "h".into(),
        decimals: 0,
        subgroup_size: 1,
        hard_bounds: Bounds::default(),
        soft_bounds: Bounds::default(),
        rule_set: RuleSet::Preset(Preset::LimitsOnly),
        ..wall_thickness()
    }
}

async fn happened(pool: &PgPool, site: &Site, of: Uuid, minutes: i64) -> Result<Saved, StoreError> {
    let visit = Visit::Taken(common::accepted(Content::Event(RareEvent::default())));
    save(pool, &NewSample { visit, ..sample(site, of, minutes, &[]) }).await
}

async fn hours(pool: &PgPool, of: Uuid) -> Vec<Option<f64>> {
    sqlx::query_scalar("select distance from sample where characteristic_id = $1 and not gap order by taken_at")
        .bind(of)
        .fetch_all(pool)
        .await
        .unwrap()
}

#[sqlx::test]
async fn an_event_that_comes_late_or_is_withdrawn_changes_the_next_one_too(pool: PgPool) {
    let site = site(&pool, "").await;
    let of = add(&pool, &site, &trips()).await;
    // So far apart that 3 hours are no news, and 1 minute is.
    let given = Figures { shape: Some(2.0), scale: Some(10.0), ..Figures::default() };
    give_limits(&pool, of, given, site.engineer, site.since).await;
    for minutes in [0, 300, 600] {
        assert!(happened(&pool, &site, of, minutes).await.unwrap().asking.is_empty());
    }
    assert_eq!(hours(&pool, of).await, [None, Some(5.0), Some(5.0)]);
    assert!(matches!(happened(&pool, &site, of, 300).await, Err(StoreError::EventThere)));
    // One minute before the last: it lies 4 h 59 from the one before, and the last one only a minute from it.
    let late = happened(&pool, &site, of, 599).await.unwrap();
    assert_eq!(hours(&pool, of).await, [None, Some(5.0), Some(299.0 / 60.0), Some(1.0 / 60.0)]);
    let stands = "select count(*) from signal where characteristic_id = $1 and withdrawn_at is null";
    let signals = async || sqlx::query_scalar::<_, i64>(stands).bind(of).fetch_one(&pool).await.unwrap();
    assert_eq!(signals().await, 1);
    let engineer = person(site.engineer, Role::Engineer);
    let at = site.since + Duration::hours(20);
    let changed = withdraw(&pool, late.sample, 1, &engineer, at, "it was the test of the alarm").await.unwrap();
    assert_eq!((hours(&pool, of).await, changed.withdrawn), (vec![None, Some(5.0), Some(5.0)], 1));
    assert_eq!(signals().await, 0);
    assert_eq!(store::trail::verify(&pool, None).await.unwrap().found, 0);
}

#[sqlx::test]
async fn a_first_event_says_nothing_and_stands_on_the_chart_all_the_same(pool: PgPool) {
    let site = site(&pool, "").await;
    let of = add(&pool, &site, &trips()).await;
    happened(&pool, &site, of, 0).await.unwrap();
    let view = store::charts::view(&pool, of, &store::charts::Asked::last(60)).await.unwrap();
    assert_eq!(view.points[0].content, Some(Content::Event(RareEvent { between: None })));
    assert!(view.points[0].gap.is_none() && view.panels[0].points[0].value.get().is_none());
}

fn parts() -> Vec<Part> {
    let part = |name: &str, nominal, sigma| Part { name: name.into(), nominal, sigma };
    vec![part("C-8", 4.0, Some(0.1)), part("C-40", 9.0, Some(0.3))]
}

async fn save_part(pool: &PgPool, site: &Site, of: Uuid, minutes: i64, (part, readings): (&str, [f64; 3])) -> Saved {
    let tags = Tags::from([("part".to_owned(), part.to_owned())]);
    let accepted = Accepted { tags, ..common::accepted(Content::readings(readings)) };
    save(pool, &NewSample { visit: Visit::Taken(accepted), ..sample(site, of, minutes, &[]) }).await.unwrap()
}

/// Deviations are those that the core makes of nominals and sigmas itself.
#[sqlx::test]
async fn parts_share_a_chart_of_deviations_from_their_own_nominals(pool: PgPool) {
    let site = site(&pool, "").await;
    let free = Bounds::default();
    let short = Characteristic {
        name: "Short runs".into(),
        parts: parts(),
        hard_bounds: free,
        soft_bounds: free,
        ..wall_thickness()
    };
    let of = add(&pool, &site, &short).await;
    let mut taken: Vec<(&Part, [f64; 3])> = Vec::new();
    let parts = parts();
    for i in 0..24 {
        let part = &parts[usize::from(i % 5 > 2)];
        let at = |k: u32| part.value(f64::from((i * 7 + k * 3) % 11) / 5.0 - 1.0);
        taken.push((part, [at(0), at(1), at(2)]));
        save_part(&pool, &site, of, i64::from(i), (&part.name, taken[i as usize].1)).await;
    }
    let view = store::charts::view(&pool, of, &store::charts::Asked::last(60)).await.unwrap();
    let points: Points = Points::Values(taken.iter().map(|(_, readings)| readings.iter().copied()).collect());
    let options = ChartOptions {
        nominal: Some(taken.iter().map(|(part, _)| Some(part.nominal)).collect()),
        part_sigma: Some(taken.iter().map(|(part, _)| part.sigma).collect()),
        ..ChartOptions::default()
    };
    let request =
        ChartRequest { options, limits: vec![Limits::ESTIMATED], ..ChartRequest::new(ChartKind::XbarR, points) };
    let whole = compute(&request).unwrap();
    for (panel, drawn) in whole.panels.iter().zip(&view.panels) {
        for (i, point) in drawn.points.iter().enumerate() {
            let (a, b) = (point.value.get().unwrap(), panel.point(i).value.get().unwrap());
            assert!((a - b).abs() < 1e-9, "{:?} {i}: {a} {b}", panel.statistic);
        }
    }
    let figures = view.phases[0].limits.figures.unwrap();
    assert!((figures.sigma.unwrap() / whole.phases[0].figures.sigma.unwrap() - 1.0).abs() < 1e-9);
}

#[sqlx::test]
async fn a_part_keeps_its_nominal_once_there_are_samples_and_others_join_it(pool: PgPool) {
    let site = site(&pool, "").await;
    let short = Characteristic { name: "Short runs".into(), parts: parts(), ..wall_thickness() };
    let of = add(&pool, &site, &short).await;
    save_part(&pool, &site, of, 0, ("C-8", [4.0, 4.1, 3.9])).await;
    let becomes =
        |parts| CharacteristicChange { id: of, version: 1, characteristic: Characteristic { parts, ..short.clone() } };
    let mut moved = parts();
    moved[0].nominal = 4.5;
    let refused = change(&pool, &[becomes(moved)], site.engineer, site.since).await;
    assert!(matches!(refused, Err(StoreError::SetUp(SetUpRefusal::HasSamples))), "{refused:?}");
    let mut more = parts();
    more.push(Part { name: "C-60".into(), nominal: 12.0, sigma: None });
    change(&pool, &[becomes(more)], site.engineer, site.since).await.unwrap();
}
