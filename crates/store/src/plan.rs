//! Setting up: stations, products and characteristics, one at a time or many at once.

use chrono::{DateTime, Utc};
use quality::characteristic::{Characteristic, Kind};
use quality::limits::TRIAL_POINTS_AT_MOST;
use quality::setup::Wrong;
use quality::trail::{Action, Deed};
use serde::{Deserialize, Serialize};
use serde_json::{Value, json};
use spc::points::Points;
use sqlx::{Connection, PgConnection, PgPool};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::characteristics::{self, Belongs, Setup};
use crate::limits::start_phase;
use crate::news::{News, tell};
use crate::window::Stretch;
use crate::{StoreError, sites, trail};

/// A place to hang things on: an area, a station or a product.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct Named {
    /// Identity.
    pub id: Uuid,
    /// Its name.
    pub name: String,
    /// The area of a station.
    pub area: Option<String>,
}

/// Everything that is set up.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct Plan {
    /// Areas in order.
    pub areas: Vec<Named>,
    /// Stations in order.
    pub stations: Vec<Named>,
    /// Products in order.
    pub products: Vec<Named>,
    /// Characteristics in the order of their stations.
    pub characteristics: Vec<Setup>,
}

/// Everything that is set up.
pub async fn plan(pool: &PgPool) -> Result<Plan, StoreError> {
    let areas = sqlx::query_as!(Named, r#"select id, name, null::text as area from area order by name"#);
    let stations = sqlx::query_as!(
        Named,
        r#"select s.id, s.name, a.name as "area?" from station s join area a on a.id = s.area_id
           order by s.place, s.name"#
    );
    let products = sqlx::query_as!(Named, r#"select id, name, null::text as area from product order by name"#);
    Ok(Plan {
        areas: areas.fetch_all(pool).await?,
        stations: stations.fetch_all(pool).await?,
        products: products.fetch_all(pool).await?,
        characteristics: characteristics::list(pool).await?,
    })
}

/// Sets up a station in an area, which is made when there is none of that name.
pub async fn add_station(
    pool: &PgPool,
    area: &str,
    name: &str,
    person: Uuid,
    at: DateTime<Utc>,
) -> Result<Uuid, StoreError> {
    let (area, name) = (sites::name("area", area)?, sites::name("name", name)?);
    let mut tx = pool.begin().await?;
    let area_id = sqlx::query_scalar!("select id from area where name = $1", area).fetch_optional(&mut *tx).await?;
    let area_id = match area_id {
        Some(id) => id,
        None => sites::add_area(&mut tx, &area).await?,
    };
    let place = sqlx::query_scalar!("select coalesce(max(place), 0) + 1 as \"place!\" from station")
        .fetch_one(&mut *tx)
        .await?;
    let id = sites::add_station(&mut tx, area_id, &name, place).await?;
    done(&mut tx, trail::SITE_CHAIN, person, at, Action::StationSetUp, id, json!({"name": name, "area": area})).await?;
    tx.commit().await?;
    Ok(id)
}

/// Sets up a product.
pub async fn add_product(pool: &PgPool, name: &str, person: Uuid, at: DateTime<Utc>) -> Result<Uuid, StoreError> {
    let name = sites::name("name", name)?;
    let mut tx = pool.begin().await?;
    let id = sites::add_product(&mut tx, &name).await?;
    done(&mut tx, trail::SITE_CHAIN, person, at, Action::ProductSetUp, id, json!({"name": name})).await?;
    tx.commit().await?;
    Ok(id)
}

/// Sets up a characteristic.
///
/// # Errors
/// When the set-up cannot be, station or product are missing, or the name is taken there.
pub async fn add_characteristic(
    pool: &PgPool,
    at: Belongs,
    new: &Characteristic,
    person: Uuid,
) -> Result<Uuid, StoreError> {
    check(new)?;
    let mut tx = pool.begin().await?;
    let id = characteristics::add(&mut tx, at, new).await?;
    done(&mut tx, id, person, at.since, Action::CharacteristicSetUp, id, serde_json::to_value(new)?).await?;
    tx.commit().await?;
    Ok(id)
}

/// A change of one characteristic, made on the version that was seen.
#[derive(Debug, Clone, Deserialize, ToSchema)]
pub struct Change {
    /// Which.
    pub id: Uuid,
    /// The version that was seen.
    pub version: i32,
    /// As it shall be.
    pub characteristic: Characteristic,
}

/// Changes characteristics, all or none.
///
/// # Errors
/// When one is missing, has changed since it was seen, cannot be as it is given, or has samples that
/// would mean something else.
pub async fn change(pool: &PgPool, changes: &[Change], person: Uuid, at: DateTime<Utc>) -> Result<(), StoreError> {
    let mut tx = pool.begin().await?;
    let mut in_order: Vec<&Change> = changes.iter().collect();
    // Whoever changes many at once takes them in the same order, so that nobody waits in a circle.
    in_order.sort_by_key(|change| change.id);
    for change in in_order {
        change_one(&mut tx, change, person, at).await?;
    }
    tx.commit().await?;
    Ok(())
}

/// What a change would do, or why it cannot be made.
pub type Foreseen = Result<Differing, StoreError>;

/// What each of the changes would do, in the order given; nothing is changed.
pub async fn foresee(
    pool: &PgPool,
    changes: &[Change],
    person: Uuid,
    at: DateTime<Utc>,
) -> Result<Vec<Foreseen>, StoreError> {
    let mut tx = pool.begin().await?;
    let mut foreseen = Vec::with_capacity(changes.len());
    for change in changes {
        // Made for real and taken back, so that what is foreseen is what happens.
        let mut step = Connection::begin(&mut *tx).await?;
        let made = change_one(&mut step, change, person, at).await;
        match &made {
            Ok(_) => step.commit().await?,
            Err(_) => step.rollback().await?,
        }
        foreseen.push(made);
    }
    tx.rollback().await?;
    Ok(foreseen)
}

/// Fields that a change changes, with their old and new values.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Differing {
    /// Old values by field.
    pub old: serde_json::Map<String, Value>,
    /// New values by field.
    pub new: serde_json::Map<String, Value>,
    /// Another chart: points are judged against trial limits from the change on.
    pub starts_phase: bool,
}

async fn change_one(
    conn: &mut PgConnection,
    change: &Change,
    person: Uuid,
    at: DateTime<Utc>,
) -> Result<Differing, StoreError> {
    let new = &change.characteristic;
    check(new)?;
    let old = characteristics::lock(conn, change.id).await?;
    if old.version != change.version {
        return Err(quality::signal::StepError::Changed.into());
    }
    let sampled = sqlx::query_scalar!(
        r#"select exists (select from sample where characteristic_id = $1) as "sampled!""#,
        change.id
    )
    .fetch_one(&mut *conn)
    .await?;
    if sampled && !new.keeps_its_data(&old.characteristic) {
        return Err(StoreError::HasSamples);
    }
    let belongs = Belongs { station: old.station_id, product: old.product_id, since: old.created_at };
    characteristics::write(conn, change.id, belongs, new).await?;
    let differing = Differing::between(&old.characteristic, new)?;
    let detail = json!({"old": differing.old, "new": differing.new});
    done(conn, change.id, person, at, Action::CharacteristicChanged, change.id, detail).await?;
    // Figures of another chart would not fit: points are judged against new trial limits from now on.
    if differing.starts_phase {
        let name = format!("Since the change of chart, {}", at.format("%Y-%m-%d"));
        let phase = start_phase(conn, change.id, &name, at).await?;
        done(conn, change.id, person, at, Action::PhaseStarted, phase, json!({"name": name})).await?;
    }
    Ok(differing)
}

fn check(new: &Characteristic) -> Result<(), StoreError> {
    let wrong: Vec<Wrong> = new.wrong();
    if wrong.is_empty() { Ok(()) } else { Err(StoreError::Wrong(wrong)) }
}

impl Differing {
    fn between(old: &Characteristic, new: &Characteristic) -> Result<Self, StoreError> {
        let starts_phase = old.chart != new.chart;
        let (mut old, mut new): (serde_json::Map<String, Value>, serde_json::Map<String, Value>) =
            (serde_json::from_value(serde_json::to_value(old)?)?, serde_json::from_value(serde_json::to_value(new)?)?);
        let same: Vec<String> = old.keys().filter(|field| old.get(*field) == new.get(*field)).cloned().collect();
        for field in same {
            old.remove(&field);
            new.remove(&field);
        }
        Ok(Self { old, new, starts_phase })
    }
}

async fn done(
    conn: &mut PgConnection,
    chain: Uuid,
    person: Uuid,
    at: DateTime<Utc>,
    action: Action,
    object: Uuid,
    detail: Value,
) -> Result<(), StoreError> {
    trail::append(conn, chain, &[Deed::new(at, Some(person), action, object, &detail)]).await?;
    tell(conn, News::Plan).await
}

/// The counts of a characteristic recorded so far, for the chooser; `None` where values are measured.
pub async fn counts_so_far(pool: &PgPool, id: Uuid) -> Result<Option<Points>, StoreError> {
    let mut conn = pool.acquire().await?;
    let kind = characteristics::find(&mut *conn, id).await?.characteristic.kind;
    if kind == Kind::Measured {
        return Ok(None);
    }
    let all = Stretch { characteristic: id, kind, starts_at: None, ends_before: None };
    let places = all.before(&mut conn, None, TRIAL_POINTS_AT_MOST).await?;
    Ok(Some(quality::sample::points(kind, places.iter().map(|point| &point.plotted))))
}
