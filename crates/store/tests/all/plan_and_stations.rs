//! What is set up, changed many at once, and what happens at the stations.

use chrono::Duration;
use quality::characteristic::{Characteristic, Sampling};
use quality::due::DueState;
use quality::field::WrongField;
use quality::object::ObjectKind;
use quality::setup::SetUpRefusal;
use quality::shift::Shift;
use quality::version::Changed;
use spc::chart::ChartKind;
use sqlx::PgPool;
use store::StoreError;
use store::characteristics::{Belongs, CharacteristicView};
use store::events::{NewEvent, NewPieces, count_pieces, kinds, record};
use store::plan::{CharacteristicChange, add_characteristic, add_product, add_station, change, counts_so_far, plan};
use store::samples::NewSample;
use uuid::Uuid;

use crate::common::{self, leaked, sample, save_wall, site, wall_thickness};

async fn setup(pool: &PgPool, id: Uuid) -> CharacteristicView {
    store::characteristics::find(pool, id).await.unwrap()
}

fn to(setup: &CharacteristicView, characteristic: Characteristic) -> CharacteristicChange {
    CharacteristicChange { id: setup.id, version: setup.version, characteristic }
}

#[sqlx::test]
async fn a_station_a_product_and_a_characteristic_are_set_up(pool: PgPool) {
    let site = site(&pool, "").await;
    let at = site.since;
    let station = add_station(&pool, " Finishing ", "Leak test 2", site.engineer, at).await.unwrap();
    let product = add_product(&pool, "Cartridge C-9", site.engineer, at).await.unwrap();
    let belongs = Belongs { station, product, since: at };
    let new = Characteristic { name: " Bore ".into(), labels: vec!["bore".into()], ..wall_thickness() };
    let id = add_characteristic(&pool, belongs, &new, site.engineer).await.unwrap();
    let kept = setup(&pool, id).await;
    assert_eq!((kept.station.as_str(), kept.version), ("Leak test 2", 1));
    assert_eq!(kept.characteristic, Characteristic { name: "Bore".into(), ..new.clone() });
    let all = plan(&pool).await.unwrap();
    assert_eq!(all.stations.last().unwrap().area.as_deref(), Some("Finishing"));

    let taken = add_station(&pool, "Finishing", "Leak test 2", site.engineer, at).await;
    assert!(matches!(taken, Err(StoreError::SetUp(SetUpRefusal::Taken("name")))), "{taken:?}");
    let taken = add_product(&pool, "Cartridge C-9", site.engineer, at).await;
    assert!(matches!(taken, Err(StoreError::SetUp(SetUpRefusal::Taken("name")))));
    let taken = add_characteristic(&pool, belongs, &new, site.engineer).await;
    assert!(matches!(taken, Err(StoreError::SetUp(SetUpRefusal::Taken("name")))));
    let nowhere = Belongs { station: Uuid::nil(), ..belongs };
    let missing = add_characteristic(&pool, nowhere, &new, site.engineer).await;
    assert!(matches!(missing, Err(StoreError::Missing(ObjectKind::Station))), "{missing:?}");
    let wrong = Characteristic { decimals: 12, ..new };
    let refused = add_characteristic(&pool, belongs, &wrong, site.engineer).await;
    assert!(matches!(refused, Err(StoreError::SetUp(SetUpRefusal::Fields(wrong))) if wrong[0].field == "decimals"));
}

#[sqlx::test]
async fn many_are_changed_at_once_or_none(pool: PgPool) {
    let site = site(&pool, "").await;
    let (wall, viscosity) = (setup(&pool, site.wall).await, setup(&pool, site.viscosity).await);
    let hourly = |setup: &CharacteristicView| Characteristic {
        sampling: Sampling::Minutes { count: 30 },
        labels: vec!["wall".into()],
        ..setup.characteristic.clone()
    };
    let changes = [to(&wall, hourly(&wall)), to(&viscosity, hourly(&viscosity))];
    change(&pool, &changes, site.engineer, site.since).await.unwrap();
    assert_eq!(setup(&pool, site.wall).await.characteristic, hourly(&wall));
    let entries = common::trail_of(&pool, site.wall, 1).await;
    assert_eq!(entries[0].detail["old"]["sampling"]["count"], 60);
    assert_eq!(entries[0].detail["new"]["labels"][0], "wall");
    assert_eq!(entries[0].detail["new"].as_object().unwrap().len(), 2, "only what differs");

    // One that somebody else changed meanwhile holds all of them up.
    let now = setup(&pool, site.viscosity).await;
    let changes = [to(&now, viscosity.characteristic.clone()), to(&wall, wall.characteristic.clone())];
    let refused = change(&pool, &changes, site.engineer, site.since).await;
    assert!(matches!(refused, Err(StoreError::Changed(Changed(ObjectKind::Characteristic)))), "{refused:?}");
    assert_eq!(setup(&pool, site.viscosity).await.version, now.version);
}

#[sqlx::test]
async fn what_old_points_mean_stays_and_another_chart_begins_a_phase(pool: PgPool) {
    let site = site(&pool, "").await;
    let wall = setup(&pool, site.wall).await;
    let inches = Characteristic { unit: "in".into(), ..wall.characteristic.clone() };
    save_wall(&pool, &site, 0, 5.0).await;
    let refused = change(&pool, &[to(&wall, inches)], site.engineer, site.since).await;
    assert!(matches!(refused, Err(StoreError::SetUp(SetUpRefusal::HasSamples))));
    let mean_and_s = Characteristic { chart: ChartKind::XbarS, ..wall.characteristic.clone() };
    let at = site.since + Duration::minutes(5);
    change(&pool, &[to(&wall, mean_and_s)], site.engineer, at).await.unwrap();
    save_wall(&pool, &site, 10, 5.0).await;
    let view = store::charts::view(&pool, site.wall, &store::charts::Asked::last(10)).await.unwrap();
    assert_eq!(view.phases.len(), 2);
    assert!(view.panels[0].points[0].upper.get().is_some(), "the old phase keeps its limits");
    assert!(view.panels[0].points[1].upper.get().is_none(), "the new one has too few points");
}

#[sqlx::test]
async fn the_chooser_is_given_the_counts_so_far(pool: PgPool) {
    let site = site(&pool, "").await;
    for i in 0..3 {
        let new = NewSample { visit: leaked(i, 50), ..sample(&site, site.leaks, i64::from(i), &[]) };
        store::samples::save(&pool, &new).await.unwrap();
    }
    assert_eq!(counts_so_far(&pool, site.leaks).await.unwrap().unwrap().len(), 3);
    assert!(counts_so_far(&pool, site.wall).await.unwrap().is_none());
}

async fn event(pool: &PgPool, site: &common::Site, name: &str, minutes: i64, lot: Option<&str>) -> NewEvent {
    let kind = kinds(pool).await.unwrap().into_iter().find(|kind| kind.name == name).unwrap().id;
    let at = site.since + Duration::minutes(minutes);
    NewEvent {
        station: site.station,
        kind,
        at,
        arrived_at: at,
        person: site.technician,
        lot: lot.map(str::to_owned),
        text: None,
        device: Uuid::from_u128(7),
        entry: Uuid::new_v4(),
    }
}

#[sqlx::test]
async fn an_event_stands_on_every_chart_of_its_station_once(pool: PgPool) {
    let site = site(&pool, "").await;
    save_wall(&pool, &site, 0, 5.0).await;
    let change = event(&pool, &site, "Tool change", 5, None).await;
    let first = record(&pool, &change).await.unwrap();
    assert_eq!(record(&pool, &change).await.unwrap(), first);
    record(&pool, &event(&pool, &site, "Tool change", -60, None).await).await.unwrap();
    let view = store::charts::view(&pool, site.wall, &store::charts::Asked::last(10)).await.unwrap();
    assert_eq!(view.events.iter().map(|e| e.kind.as_str()).collect::<Vec<_>>(), ["Tool change"]);
    let nameless = record(&pool, &event(&pool, &site, "New lot", 5, Some(" ")).await).await;
    assert!(matches!(nameless, Err(StoreError::Field(WrongField { field: "lot", .. }))));
}

#[sqlx::test]
async fn samples_fall_due_by_lot_by_pieces_and_by_shift(pool: PgPool) {
    let site = site(&pool, "").await;
    let shift = |name: &str, begins: &str| Shift { name: name.into(), begins: begins.parse().unwrap() };
    let clock = store::sites::Site {
        name: "Test works".into(),
        time_zone: "UTC".into(),
        shifts: vec![shift("Day", "06:00:00"), shift("Night", "18:00:00")],
    };
    store::sites::set_site(&mut pool.acquire().await.unwrap(), &clock).await.unwrap();
    let plan_by = |id, sampling| {
        let pool = &pool;
        async move {
            let old = setup(pool, id).await;
            let new = Characteristic { sampling, ..old.characteristic.clone() };
            change(pool, &[to(&old, new)], site.engineer, site.since).await.unwrap();
        }
    };
    plan_by(site.wall, Sampling::Lot).await;
    plan_by(site.viscosity, Sampling::Shift).await;
    plan_by(site.leaks, Sampling::Pieces { count: 100 }).await;
    let now = site.since + Duration::days(2);
    let states = |pool: PgPool| async move {
        let stations = store::rounds::list(&pool, Some(site.technician), now).await.unwrap();
        let state = |id| stations[0].characteristics.iter().find(|stop| stop.id == id).unwrap().state;
        (state(site.wall), state(site.leaks))
    };
    assert_eq!(states(pool.clone()).await, (DueState::Done, DueState::Done));
    let minutes = 2 * 24 * 60;
    record(&pool, &event(&pool, &site, "New lot", minutes - 10, Some("K-18")).await).await.unwrap();
    record(&pool, &event(&pool, &site, "New lot", minutes - 90, Some("K-17")).await).await.unwrap();
    let (person, device, entry) = (site.technician, Uuid::from_u128(3), Uuid::new_v4());
    let pieces = NewPieces { station: site.station, pieces: 110, at: now, arrived_at: now, person, device, entry };
    let (one, again) = tokio::join!(count_pieces(&pool, &pieces), count_pieces(&pool, &pieces));
    assert_eq!((one.unwrap(), again.unwrap()), (110, 110), "sent twice, counted once");
    let other = count_pieces(&pool, &NewPieces { pieces: 111, ..pieces }).await;
    assert!(matches!(other, Err(StoreError::EntryReused)));
    assert_eq!(states(pool.clone()).await, (DueState::Due, DueState::Due), "the lot told late was not the last");
    save_wall(&pool, &site, minutes - 5, 5.0).await;
    let counted = NewSample { visit: leaked(0, 50), ..sample(&site, site.leaks, minutes - 5, &[]) };
    store::samples::save(&pool, &counted).await.unwrap();
    assert_eq!(states(pool.clone()).await, (DueState::Done, DueState::Done));
    let stations = store::rounds::list(&pool, Some(site.technician), now).await.unwrap();
    assert_eq!(stations[0].lot.as_deref(), Some("K-18"));
    let tags = &store::charts::view(&pool, site.wall, &store::charts::Asked::last(1)).await.unwrap().points[0].tags;
    assert!(["Day", "Night"].contains(&tags["shift"].as_str()));
}

#[sqlx::test]
async fn pins_are_ones_own(pool: PgPool) {
    let site = site(&pool, "").await;
    store::rounds::pin(&pool, site.technician, site.station, true).await.unwrap();
    store::rounds::pin(&pool, site.technician, site.station, true).await.unwrap();
    let pinned = |person| {
        let pool = &pool;
        async move { store::rounds::list(pool, Some(person), site.since).await.unwrap()[0].pinned }
    };
    assert!(pinned(site.technician).await && !pinned(site.supervisor).await);
    store::rounds::pin(&pool, site.technician, site.station, false).await.unwrap();
    assert!(!pinned(site.technician).await);
    let nowhere = store::rounds::pin(&pool, site.technician, Uuid::nil(), true).await;
    assert!(matches!(nowhere, Err(StoreError::Missing(ObjectKind::Station))));
}
