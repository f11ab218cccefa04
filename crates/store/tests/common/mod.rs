//! A small site to test with: one station, two characteristics, a person of each role.

use chrono::{DateTime, Duration, SubsecRound, Utc};
use quality::characteristic::Bounds;
use quality::role::Role;
use spc::chart::ChartKind;
use spc::rules::{Preset, RuleSet};
use sqlx::PgPool;
use store::characteristics::NewCharacteristic;
use store::samples::{NewSample, Saved};
use uuid::Uuid;

#[derive(Debug, Clone, Copy)]
#[allow(dead_code)] // each test crate uses its own part of the site
pub struct Site {
    pub technician: Uuid,
    pub other_technician: Uuid,
    pub supervisor: Uuid,
    /// Wall thickness, three pieces, two decimals, limits in force at centre 5 and sigma 0.1.
    pub wall: Uuid,
    /// Viscosity, single readings, on trial limits.
    pub viscosity: Uuid,
    pub since: DateTime<Utc>,
}

/// `hash` is everybody's password.
pub async fn site(pool: &PgPool, hash: &str) -> Site {
    // To the microsecond, as the database keeps it.
    let since = Utc::now().trunc_subsecs(6) - Duration::days(30);
    let mut conn = pool.acquire().await.unwrap();
    let mut people = Vec::new();
    for (login, role) in [
        ("tess", Role::Technician),
        ("tom", Role::Technician),
        ("sue", Role::Supervisor),
        ("eve", Role::Engineer),
        ("ann", Role::Administrator),
    ] {
        people.push(store::people::add(&mut conn, login, login, role, hash).await.unwrap());
    }
    store::causes::add(&mut conn, "Tool worn", 0).await.unwrap();
    let area = store::sites::add_area(&mut conn, "Forming").await.unwrap();
    let station = store::sites::add_station(&mut conn, area, "Casting line 9", 0).await.unwrap();
    let product = store::sites::add_product(&mut conn, "Cartridge C-1").await.unwrap();
    let wall = NewCharacteristic {
        station,
        product,
        name: "Wall thickness".into(),
        unit: "mm".into(),
        decimals: 2,
        chart: ChartKind::XbarR,
        subgroup_size: 3,
        rule_set: RuleSet::Preset(Preset::WesternElectric),
        interval_minutes: 60,
        hard_bounds: Bounds { lower: Some(1.0), upper: Some(9.0) },
        soft_bounds: Bounds { lower: Some(4.0), upper: Some(6.0) },
        reaction_plan: vec!["Measure again.".into()],
        created_at: since,
    };
    let viscosity = NewCharacteristic {
        name: "Viscosity".into(),
        unit: "mPa·s".into(),
        decimals: 0,
        chart: ChartKind::IMr,
        subgroup_size: 1,
        hard_bounds: Bounds::default(),
        soft_bounds: Bounds::default(),
        ..wall.clone()
    };
    let wall = store::characteristics::add(&mut conn, &wall).await.unwrap();
    let viscosity = store::characteristics::add(&mut conn, &viscosity).await.unwrap();
    sqlx::query(
        "update limits set state = 'in_force', center = 5, sigma = 0.1, used = 25, put_in_force_at = $2,
         put_in_force_by = $3 from phase p where p.id = phase_id and p.characteristic_id = $1",
    )
    .bind(wall)
    .bind(since)
    .bind(people[3])
    .execute(&mut *conn)
    .await
    .unwrap();
    Site { technician: people[0], other_technician: people[1], supervisor: people[2], wall, viscosity, since }
}

/// A sample of `characteristic` taken `minutes` after the site came to be.
#[allow(dead_code)] // not every test crate saves by hand
pub fn sample(site: &Site, characteristic: Uuid, minutes: i64, readings: &[f64]) -> NewSample {
    let taken_at = site.since + Duration::minutes(minutes);
    NewSample {
        characteristic,
        device: Uuid::from_u128(7),
        entry: Uuid::new_v4(),
        taken_at,
        arrived_at: taken_at,
        person: site.technician,
        readings: readings.to_vec(),
    }
}

/// Saves three pieces of equal thickness, so that the mean is `mean` and the range 0.02.
#[allow(dead_code)]
pub async fn save_wall(pool: &PgPool, site: &Site, minutes: i64, mean: f64) -> Saved {
    let readings = [mean - 0.01, mean, mean + 0.01];
    store::samples::save(pool, &sample(site, site.wall, minutes, &readings)).await.unwrap()
}
