//! A small site to test with: one station, three characteristics, a person of each role.

use chrono::{DateTime, Duration, SubsecRound, Utc};
use quality::account::Account;
use quality::cause::CauseGroup;
use quality::characteristic::{Bounds, Characteristic, DefectKind, Kind, Sampling, Specification, Taken, usual_k};
use quality::entry::{Accepted, Tags};
use quality::limits::{Basis, NewLimits};
use quality::role::Role;
use quality::sample::{Content, Counts, Defects};
use spc::chart::{ChartKind, ChartOptions, Figures};
use spc::rules::{Preset, RuleSet};
use sqlx::PgPool;
use store::StoreError;
use store::characteristics::Belongs;
use store::limits::{LimitsChange, LimitsChanged};
use store::people::{NewPerson, Person};
use store::phases::Phase;
use store::samples::{NewSample, Saved, Visit};
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
    /// Leaks in varying numbers tested, limits in force at a share of 0.05.
    pub leaks: Uuid,
    pub station: Uuid,
    pub engineer: Uuid,
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
        let account = Account::everywhere(login, role);
        let new = NewPerson { login, account, password_hash: hash, password_is_first: false };
        people.push(store::people::add(pool, new, None, Utc::now()).await.unwrap());
    }
    let area = store::sites::add_area(&mut conn, "Forming").await.unwrap();
    store::causes::add(pool, "Tool worn", CauseGroup::Machine, None, (None, Utc::now())).await.unwrap();
    let firing = store::sites::add_area(&mut conn, "Firing").await.unwrap();
    store::causes::add(pool, "Burner out of adjustment", CauseGroup::Machine, Some(firing), (None, Utc::now()))
        .await
        .unwrap();
    store::causes::add(pool, "Mould changed", CauseGroup::Machine, Some(area), (None, Utc::now())).await.unwrap();
    let station = store::sites::add_station(&mut conn, area, "Casting line 9", 0).await.unwrap();
    let product = store::sites::add_product(&mut conn, "Cartridge C-1").await.unwrap();
    store::events::add_kind(&mut conn, "Tool change", 0, false).await.unwrap();
    store::events::add_kind(&mut conn, "New lot", 1, true).await.unwrap();
    let belongs = Belongs { station, product, since };
    let wall = store::plan::add_characteristic(pool, belongs, &wall_thickness(), people[3]).await.unwrap();
    let viscosity = Characteristic {
        name: "Viscosity".into(),
        unit: "mPa·s".into(),
        decimals: 0,
        chart: ChartKind::IMr,
        subgroup_size: 1,
        hard_bounds: Bounds::default(),
        soft_bounds: Bounds::default(),
        ..wall_thickness()
    };
    let viscosity = store::plan::add_characteristic(pool, belongs, &viscosity, people[3]).await.unwrap();
    let leaks = store::plan::add_characteristic(pool, belongs, &leak_failures(), people[3]).await.unwrap();
    for (characteristic, figures) in [(wall, Figures::new(5.0, 0.1)), (leaks, Figures::centered(0.05))] {
        give_limits(pool, characteristic, figures, people[3], since).await;
    }
    Site {
        technician: people[0],
        other_technician: people[1],
        supervisor: people[2],
        engineer: people[3],
        wall,
        viscosity,
        leaks,
        station,
        since,
    }
}

/// Puts given limits in force for the only phase of a characteristic.
pub async fn give_limits(pool: &PgPool, characteristic: Uuid, given: Figures, engineer: Uuid, at: DateTime<Utc>) {
    let basis = Basis::Given { figures: given, source: "Known from long ago.".into() };
    let limits = NewLimits { basis, ..NewLimits::of_phase("As known") };
    let phase = first_phase(pool, characteristic).await.id;
    act(pool, characteristic, &LimitsChange::PutInForce { phase, limits: Box::new(limits) }, engineer, at)
        .await
        .unwrap();
}

/// The first phase of a characteristic.
pub async fn first_phase(pool: &PgPool, characteristic: Uuid) -> Phase {
    let mut conn = pool.acquire().await.unwrap();
    store::phases::phases(&mut conn, characteristic).await.unwrap().remove(0)
}

/// Changes limits as they are now.
pub async fn act(
    pool: &PgPool,
    characteristic: Uuid,
    change: &LimitsChange,
    person: Uuid,
    at: DateTime<Utc>,
) -> Result<LimitsChanged, StoreError> {
    let mut conn = pool.acquire().await.unwrap();
    let seen = store::limits::version(&mut conn, characteristic).await.unwrap();
    drop(conn);
    store::limits::change(pool, characteristic, seen, change, (person, at)).await
}

/// Wall thickness, as it is set up.
pub fn wall_thickness() -> Characteristic {
    Characteristic {
        name: "Wall thickness".into(),
        kind: Kind::Measured,
        unit: "mm".into(),
        decimals: 2,
        chart: ChartKind::XbarR,
        options: ChartOptions::default(),
        k: usual_k(),
        subgroup_size: 3,
        varying: false,
        taken: Taken::Consecutive,
        sampling: Sampling::Minutes { count: 60 },
        rule_set: RuleSet::Preset(Preset::WesternElectric),
        hard_bounds: Bounds { lower: Some(1.0), upper: Some(9.0) },
        soft_bounds: Bounds { lower: Some(4.0), upper: Some(6.0) },
        specification: Specification::default(),
        reaction_plan: vec!["Measure again.".into()],
        escalates_after: 30,
        asked_tags: vec!["lot".into()],
        labels: vec![],
        hidden: false,
        feature: None,
        components: vec![],
        defect_kinds: vec![],
        parts: vec![],
        named_rules: None,
        phase_events: vec![],
        scales: vec![],
        thresholds: Default::default(),
    }
}

/// A kind of leak.
pub const END_CAP: Uuid = Uuid::from_u128(0xE);

/// Leaks, as they are set up.
pub fn leak_failures() -> Characteristic {
    Characteristic {
        name: "Leak-test failures".into(),
        kind: Kind::NonconformingUnits,
        unit: "cartridges".into(),
        decimals: 0,
        chart: ChartKind::P,
        subgroup_size: 50,
        varying: true,
        hard_bounds: Bounds::default(),
        soft_bounds: Bounds::default(),
        defect_kinds: vec![DefectKind { id: END_CAP, name: "End cap".into(), letter: 'E' }],
        ..wall_thickness()
    }
}

/// Somebody as the store knows them.
pub fn person(id: Uuid, role: Role) -> Person {
    Person { id, login: "x".into(), name: "x".into(), role, stations: vec![], bound: false, password_is_first: false }
}

/// What a visit found: `count` leaks in so many tested.
pub fn leaked(count: u32, inspected: u32) -> Visit {
    let defects = if count == 0 { vec![] } else { vec![Defects { kind: Some(END_CAP), word: None, count }] };
    Visit::Taken(accepted(Content::Counts(Counts { inspected, defects })))
}

/// What was accepted, without tags.
pub fn accepted(content: Content) -> Accepted {
    Accepted { content, tags: Tags::default(), typed_first: vec![] }
}

/// A sample of `characteristic` taken `minutes` after the site came to be.
pub fn sample(site: &Site, characteristic: Uuid, minutes: i64, readings: &[f64]) -> NewSample {
    let taken_at = site.since + Duration::minutes(minutes);
    NewSample {
        characteristic,
        device: Uuid::from_u128(7),
        entry: Uuid::new_v4(),
        taken_at,
        arrived_at: taken_at,
        person: site.technician,
        visit: Visit::Taken(accepted(Content::readings(readings.iter().copied()))),
    }
}

/// A signal as it is kept.
#[derive(Debug, Clone, sqlx::FromRow)]
pub struct Kept {
    pub panel: String,
    pub state: String,
    pub from_number: i64,
    pub to_number: i64,
    pub center: f64,
    pub sigma: Option<f64>,
    pub k: f64,
    pub trial: bool,
    pub late: bool,
    pub withdrawn: bool,
}

/// Signals of a characteristic in the order of their points, but for those that went away before anybody answered.
pub async fn kept_signals(pool: &PgPool, of: Uuid) -> Vec<Kept> {
    sqlx::query_as(
        "select g.*, f.number as from_number, t.number as to_number, g.withdrawn_at is not null as withdrawn
         from signal g join sample f on f.id = g.from_sample join sample t on t.id = g.to_sample
         where g.characteristic_id = $1 and (g.withdrawn_at is null or g.state not in ('open', 'found_late'))
         order by g.at_taken_at, g.raised_at, g.id",
    )
    .bind(of)
    .fetch_all(pool)
    .await
    .unwrap()
}

/// A decision of a reviewer.
pub fn decided(
    person: Uuid,
    at: DateTime<Utc>,
    decision: quality::episode::Decision,
    remark: Option<&str>,
) -> store::answers::NewReview {
    store::answers::NewReview { person, at, decision, remark: remark.map(str::to_owned) }
}

/// Where an episode stands.
pub async fn episode(pool: &PgPool, id: Uuid) -> store::episodes::EpisodeView {
    store::episodes::find(pool, Uuid::nil(), id).await.unwrap()
}

/// Saves three pieces of equal thickness, so that the mean is `mean` and the range 0.02.
pub async fn save_wall(pool: &PgPool, site: &Site, minutes: i64, mean: f64) -> Saved {
    let readings = [mean - 0.01, mean, mean + 0.01];
    store::samples::save(pool, &sample(site, site.wall, minutes, &readings)).await.unwrap()
}

/// The last entries of a characteristic's chain, newest first.
#[allow(dead_code)] // each test crate uses its own part of the site
pub async fn trail_of(pool: &PgPool, characteristic: Uuid, most: i64) -> Vec<store::trail::TrailEntry> {
    let filter = store::trail::TrailFilter { characteristic: Some(characteristic), ..Default::default() };
    store::trail::list(pool, &filter, most).await.unwrap()
}
