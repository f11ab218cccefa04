//! What is looked at: rounds, stretches of a chart, lists of signals.

use chrono::Duration;
use quality::due::DueState;
use quality::episode::{Answer, Decision};
use quality::limits::LimitsState;
use quality::object::ObjectKind;
use quality::signal::SignalState;
use rstest::rstest;
use serde_json::json;
use sqlx::PgPool;
use store::StoreError;
use store::answers::By;
use store::charts::{Asked, ChartView};
use store::episodes::{Behind, EpisodeFilter, EpisodeOrder};
use store::limits::{LimitsChange, PhaseLimits};
use uuid::Uuid;

use crate::common::{act, decided, episode, sample, save_wall, site};

#[sqlx::test]
async fn rounds_say_what_is_due_and_what_is_open(pool: PgPool) {
    let site = site(&pool, "").await;
    save_wall(&pool, &site, 0, 5.9).await;
    let at = |minutes: i64| site.since + Duration::minutes(minutes);
    for (minutes, expected) in [(30, DueState::Done), (61, DueState::Due), (90, DueState::Overdue)] {
        let stations = store::rounds::list(&pool, Some(site.technician), at(minutes)).await.unwrap();
        assert_eq!(stations.len(), 1);
        let wall = stations[0].characteristics.iter().find(|stop| stop.id == site.wall).unwrap();
        assert_eq!((wall.state, wall.due_at, wall.open_episodes), (expected, Some(at(60)), 1));
    }
}

#[rstest]
#[case::newest(3, None, &[10, 11, 12])]
#[case::more_than_there_are(100, None, &[1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12])]
#[case::around_a_sample(6, Some(4), &[4, 5, 6, 7, 8, 9])]
#[case::around_the_newest(2, Some(12), &[11, 12])]
#[case::none_is_one(0, None, &[12])]
#[sqlx::test]
async fn a_stretch_of_a_chart_shows_these_samples(
    #[ignore] pool: PgPool,
    #[case] last: u32,
    #[case] until: Option<usize>,
    #[case] expected: &[i64],
) {
    let site = site(&pool, "").await;
    let mut ids = Vec::new();
    for i in 0..12 {
        ids.push(save_wall(&pool, &site, i * 10, 5.0 + (i % 3) as f64 / 100.0).await.sample);
    }
    let until = until.map(|number| ids[number - 1]);
    let asked = Asked { until, ..Asked::last(last) };
    let view = store::charts::view(&pool, site.wall, &asked).await.unwrap();
    assert_eq!(view.points.iter().map(|p| p.number).collect::<Vec<_>>(), expected);
    assert_eq!(view.total, 12);
    assert!(view.panels.iter().all(|panel| panel.points.len() == expected.len()));
    assert_eq!((view.phases[0].start, view.phases[0].end), (0, expected.len() - 1));
}

#[sqlx::test]
async fn what_recurs_on_a_chart_is_sent_once(pool: PgPool) {
    let site = site(&pool, "").await;
    for i in 0..3 {
        save_wall(&pool, &site, i * 10, 5.0).await;
    }
    let mut view = store::charts::view(&pool, site.wall, &Asked::last(3)).await.unwrap();
    view.points[1].person = "Milo".to_owned();
    let sent = json!(view)["points"]["details"].clone();
    assert_eq!((&sent["people"], &sent["person"]), (&json!([view.points[0].person, "Milo"]), &json!([0, 1, 0])));
}

/// Thirty samples at 0, 10, … minutes, as stretches of them are asked for.
#[rstest]
#[case::from_one_to_another(Asked { from: Some(5), to: Some(9), ..Asked::last(100) }, 5..=9)]
#[case::the_last_of_them(Asked { from: Some(5), to: Some(9), ..Asked::last(2) }, 8..=9)]
#[case::one(Asked { from: Some(7), to: Some(7), ..Asked::last(100) }, 7..=7)]
#[sqlx::test]
async fn a_stretch_begins_and_ends_where_it_is_said(
    #[ignore] pool: PgPool,
    #[case] asked: Asked,
    #[case] expected: std::ops::RangeInclusive<i64>,
) {
    let site = site(&pool, "").await;
    for i in 0..30 {
        save_wall(&pool, &site, i * 10, 5.0 + (i % 3) as f64 / 100.0).await;
    }
    let numbers = async |asked: &Asked| {
        let view = store::charts::view(&pool, site.wall, asked).await.unwrap();
        assert_eq!(
            view.points.iter().map(|point| point.place).collect::<Vec<_>>(),
            (0..view.places).collect::<Vec<_>>()
        );
        view.points.into_iter().map(|point| point.number).collect::<Vec<_>>()
    };
    assert_eq!(numbers(&asked).await, expected.clone().collect::<Vec<_>>());
    // The same by time: sample n was taken (n − 1) · 10 minutes after the first.
    let minute = |number: i64| site.since + Duration::minutes((number - 1) * 10);
    let (since, before) = (Some(minute(*expected.start())), Some(minute(expected.end() + 1)));
    assert_eq!(numbers(&Asked { since, before, ..Asked::last(100) }).await, expected.collect::<Vec<_>>());
    let beyond = Asked { from: Some(31), ..Asked::last(100) };
    let missing = store::charts::view(&pool, site.wall, &beyond).await;
    assert!(matches!(missing, Err(StoreError::Missing(ObjectKind::Sample))), "{missing:?}");
}

#[sqlx::test]
async fn what_a_screen_has_no_room_for_is_thinned_and_what_is_flagged_stays(pool: PgPool) {
    let site = site(&pool, "").await;
    for i in 0..200 {
        let reading = if i == 77 { 5.9 } else { 5.0 + ((i % 3) - 1) as f64 / 100.0 };
        save_wall(&pool, &site, i * 10, reading).await;
    }
    let all = store::charts::view(&pool, site.wall, &Asked::last(200)).await.unwrap();
    let thinned = store::charts::view(&pool, site.wall, &Asked { drawn: 30, ..Asked::last(200) }).await.unwrap();
    assert_eq!((all.points.len(), thinned.flags_thinned), (200, false));
    let flagged = |view: &ChartView| {
        let numbers = view.points.iter().enumerate().map(|(i, point)| (i, point.number));
        let is = |i: &usize| view.panels.iter().any(|panel| panel.points[*i].flagged);
        numbers.filter(|(i, _)| is(i)).map(|(_, number)| number).collect::<Vec<_>>()
    };
    assert_eq!(flagged(&thinned), flagged(&all));
    // What has to be seen has its room; beside it there is little.
    assert!(thinned.points.len() <= 30.max(flagged(&all).len() + 15 + 8), "{}", thinned.points.len());
    assert_eq!((all.places, thinned.places), (200, 200));
    assert!(thinned.points.iter().any(|point| point.number == 78));
    // What is drawn is as it is among all.
    for (i, point) in thinned.points.iter().enumerate() {
        assert_eq!(all.points[point.place].number, point.number);
        for (few, many) in thinned.panels.iter().zip(&all.panels) {
            assert_eq!(few.points[i], many.points[point.place]);
        }
    }
    let spans = |view: &ChartView| view.episodes.iter().map(|e| (e.id, e.from, e.to)).collect::<Vec<_>>();
    assert_eq!(spans(&thinned), spans(&all));
}

#[sqlx::test]
async fn the_first_moving_range_shown_reaches_back_to_what_is_not_shown(pool: PgPool) {
    let site = site(&pool, "").await;
    for (i, reading) in [300.0, 310.0, 304.0].into_iter().enumerate() {
        store::samples::save(&pool, &sample(&site, site.viscosity, i as i64, &[reading])).await.unwrap();
    }
    let view = store::charts::view(&pool, site.viscosity, &store::charts::Asked::last(2)).await.unwrap();
    let moving: Vec<_> = view.panels[1].points.iter().map(|p| p.value.get()).collect();
    assert_eq!(moving, [Some(10.0), Some(6.0)]);
}

#[sqlx::test]
async fn a_new_phase_has_its_own_trial_limits_and_leaves_the_old_ones(pool: PgPool) {
    let site = site(&pool, "").await;
    for i in 0..5 {
        save_wall(&pool, &site, i, 5.0).await;
    }
    let first = save_wall(&pool, &site, 5, 7.0).await;
    let (sample, name) = (first.sample, "New mould".to_owned());
    let start = LimitsChange::StartPhase { sample, name, limits: PhaseLimits::Trial };
    act(&pool, site.wall, &start, site.engineer, site.since + Duration::minutes(6)).await.unwrap();
    for i in 6..17 {
        // Far from the old limits: judged by the new phase alone, none is beyond anything.
        let saved = save_wall(&pool, &site, i, 7.0 + ((i - 5) % 3) as f64 / 100.0).await;
        assert!(saved.asking.is_empty(), "sample {i}");
    }
    let view = store::charts::view(&pool, site.wall, &store::charts::Asked::last(100)).await.unwrap();
    let phases: Vec<_> = view.phases.iter().map(|p| (p.limits.name.as_str(), p.start, p.end, p.limits.state)).collect();
    assert_eq!(phases, [("First limits", 0, 4, LimitsState::Retired), ("New mould", 5, 16, LimitsState::Trial)]);
    assert_eq!(view.panels[0].points[4].center.get(), Some(5.0));
    assert!((view.panels[0].points[5].center.get().unwrap() - 7.01).abs() < 1e-9);
}

#[sqlx::test]
async fn episodes_are_listed_by_state_characteristic_and_station(pool: PgPool) {
    let site = site(&pool, "").await;
    let first = save_wall(&pool, &site, 0, 5.9).await.asking[0];
    assert!(save_wall(&pool, &site, 10, 5.0).await.asking.is_empty());
    let third = save_wall(&pool, &site, 20, 4.1).await.asking[0];
    let list = async |filter: EpisodeFilter| {
        let all = store::episodes::list(&pool, &filter, 10).await.unwrap();
        all.into_iter().map(|s| s.id).collect::<Vec<_>>()
    };
    assert_eq!(list(EpisodeFilter::default()).await, [third, first]);
    assert_eq!(list(EpisodeFilter { station: Some(site.station), ..EpisodeFilter::default() }).await, [third, first]);
    assert!(list(EpisodeFilter { states: vec![SignalState::Answered], ..EpisodeFilter::default() }).await.is_empty());
    assert!(list(EpisodeFilter { characteristic: Some(site.viscosity), ..EpisodeFilter::default() }).await.is_empty());
    assert!(list(EpisodeFilter { station: Some(Uuid::nil()), ..EpisodeFilter::default() }).await.is_empty());
}

#[sqlx::test]
async fn episodes_are_found_by_what_is_said_of_them(pool: PgPool) {
    let site = site(&pool, "").await;
    let one = save_wall(&pool, &site, 0, 5.9).await.asking[0];
    save_wall(&pool, &site, 10, 5.0).await;
    let two = save_wall(&pool, &site, 20, 4.1).await.asking[0];
    let cause = store::causes::list(&pool, Some(site.wall)).await.unwrap()[0].id;
    let answer = Answer { cause: Some(cause), action: "Changed it.".into(), ..Answer::default() };
    let by = By::at(site.technician, site.since);
    store::answers::answer(&pool, one, 1, by, answer).await.unwrap();
    let back = decided(site.supervisor, site.since, Decision::SentBack, Some("which die?"));
    store::answers::review(&pool, one, 2, &back).await.unwrap();
    let (area, product): (Uuid, Uuid) = sqlx::query_as(
        "select s.area_id, c.product_id from characteristic c join station s on s.id = c.station_id where c.id = $1",
    )
    .bind(site.wall)
    .fetch_one(&pool)
    .await
    .unwrap();
    let at = episode(&pool, two).await.raised_at;
    let all = EpisodeFilter::default;
    let some = Some(Uuid::from_u128(7));
    let rule = |kind: &str| Some(kind.to_owned());
    for (filter, expected) in [
        (EpisodeFilter { order: EpisodeOrder::Queue, ..all() }, vec![one, two]),
        (EpisodeFilter { area: Some(area), product: Some(product), ..all() }, vec![two, one]),
        (EpisodeFilter { area: some, ..all() }, vec![]),
        (EpisodeFilter { product: some, ..all() }, vec![]),
        (EpisodeFilter { rule: rule("beyond"), ..all() }, vec![two, one]),
        (EpisodeFilter { rule: rule("one_side"), ..all() }, vec![]),
        (EpisodeFilter { cause: Some(cause), ..all() }, vec![one]),
        (EpisodeFilter { cause: some, ..all() }, vec![]),
        (EpisodeFilter { person: Some(site.technician), ..all() }, vec![one]),
        (EpisodeFilter { person: Some(site.supervisor), ..all() }, vec![one]),
        (EpisodeFilter { person: Some(site.engineer), ..all() }, vec![]),
        (EpisodeFilter { from: Some(at), ..all() }, vec![two]),
        (EpisodeFilter { until: Some(at), ..all() }, vec![one]),
        (EpisodeFilter { laboratory: Some(false), ..all() }, vec![two, one]),
        (EpisodeFilter { laboratory: Some(true), ..all() }, vec![]),
    ] {
        let found = store::episodes::list(&pool, &filter, 10).await.unwrap();
        assert_eq!(found.iter().map(|row| row.id).collect::<Vec<_>>(), expected, "{filter:?}");
        assert_eq!(store::episodes::count(&pool, &filter).await.unwrap(), expected.len() as i64, "{filter:?}");
    }
}

#[sqlx::test]
async fn a_person_keeps_filters_under_names_of_their_own(pool: PgPool) {
    let site = site(&pool, "").await;
    let of = async |person| {
        let filters = store::filters::list(&pool, person).await.unwrap();
        filters.into_iter().map(|filter| (filter.name, filter.query)).collect::<Vec<_>>()
    };
    for query in ["state=open", "state=answered"] {
        store::filters::keep(&pool, site.supervisor, " Mine ", query).await.unwrap();
    }
    store::filters::keep(&pool, site.engineer, "Mine", "state=all").await.unwrap();
    assert_eq!(of(site.supervisor).await, [("Mine".to_owned(), "state=answered".to_owned())]);
    let theirs = store::filters::list(&pool, site.engineer).await.unwrap()[0].id;
    store::filters::forget(&pool, site.supervisor, theirs).await.unwrap();
    assert_eq!(of(site.engineer).await.len(), 1);
    store::filters::forget(&pool, site.engineer, theirs).await.unwrap();
    assert!(of(site.engineer).await.is_empty());
    for i in 1..30 {
        store::filters::keep(&pool, site.supervisor, &format!("F{i}"), "state=all").await.unwrap();
    }
    assert!(store::filters::keep(&pool, site.supervisor, "One more", "state=all").await.is_err());
    assert!(store::filters::keep(&pool, site.supervisor, "Mine", "state=open").await.is_ok());
}

/// Many were raised at one moment; no page skips one of them or shows it twice.
#[rstest]
#[case::newest(EpisodeOrder::Newest)]
#[case::queue(EpisodeOrder::Queue)]
#[sqlx::test]
async fn pages_of_episodes_neither_skip_nor_repeat(#[ignore] pool: PgPool, #[case] order: EpisodeOrder) {
    let site = site(&pool, "").await;
    // Too far apart for two of three, and with ranges on both sides: clean points lie between them.
    for i in 0..36 {
        let (mean, half) = (if i % 3 == 0 { 5.9 } else { 5.0 }, if i % 2 == 0 { 0.01 } else { 0.12 });
        store::samples::save(&pool, &sample(&site, site.wall, i, &[mean - half, mean, mean + half])).await.unwrap();
    }
    sqlx::query("update episode set raised_at = $1 where from_number > 5")
        .bind(site.since)
        .execute(&pool)
        .await
        .unwrap();
    sqlx::query("update episode set sent_back = true where from_number > 20").execute(&pool).await.unwrap();
    let (mut seen, mut filter) = (Vec::new(), EpisodeFilter { order, ..EpisodeFilter::default() });
    loop {
        let page = store::episodes::list(&pool, &filter, 5).await.unwrap();
        filter.behind =
            page.last().map(|last| Behind { id: last.id, raised_at: last.raised_at, sent_back: last.sent_back });
        seen.extend(page.iter().map(|episode| episode.id));
        if page.len() < 5 {
            break;
        }
    }
    let once: std::collections::BTreeSet<_> = seen.iter().collect();
    assert_eq!((seen.len(), once.len()), (12, 12));
    let all = store::episodes::list(&pool, &EpisodeFilter { order, ..EpisodeFilter::default() }, 50).await.unwrap();
    assert_eq!(seen, all.iter().map(|episode| episode.id).collect::<Vec<_>>());
}
