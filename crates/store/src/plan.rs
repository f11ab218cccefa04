//! Setting up: stations, products and characteristics, one at a time or many at once.

use chrono::{DateTime, Utc};
use quality::characteristic::{Characteristic, Kind};
use quality::field::name;
use quality::limits::TRIAL_POINTS_AT_MOST;
use quality::object::ObjectKind;
use quality::trail::{Action, Deed};
use quality::version::same_version;
use serde::{Deserialize, Serialize};
use serde_json::{Value, json};
use spc::points::Points;
use sqlx::PgPool;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::act::Act;
use crate::characteristics::{self, Belongs, CharacteristicView};
use crate::limits::{NewPhase, begin_phase};
use crate::news::News;
use crate::once::compiled_once;
use crate::rule_sets::check_named;
use crate::series::Stretch;
use crate::trail::SITE_CHAIN;
use crate::{StoreError, sites};

/// A place to hang things on: an area, a station or a product.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct Named {
    pub id: Uuid,
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
    pub characteristics: Vec<CharacteristicView>,
}

impl Plan {
    /// What of it stands at some stations.
    #[must_use]
    pub fn within(mut self, stations: &[Uuid]) -> Self {
        self.characteristics.retain(|one| stations.contains(&one.station_id));
        self.stations.retain(|station| stations.contains(&station.id));
        self.areas.retain(|area| self.stations.iter().any(|station| station.area.as_ref() == Some(&area.name)));
        self.products.retain(|product| self.characteristics.iter().any(|one| one.product_id == product.id));
        self
    }
}

/// Everything that is set up.
#[compiled_once]
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
#[compiled_once]
pub async fn add_station(
    pool: &PgPool,
    area: &str,
    given: &str,
    person: Uuid,
    at: DateTime<Utc>,
) -> Result<Uuid, StoreError> {
    let (area, name) = (name("area", area)?, name("name", given)?);
    let mut act = Act::begin(pool).await?;
    let area_id = sqlx::query_scalar!("select id from area where name = $1", area).fetch_optional(act.conn()).await?;
    let area_id = match area_id {
        Some(id) => id,
        None => sites::add_area(act.conn(), &area).await?,
    };
    let place = sqlx::query_scalar!("select coalesce(max(place), 0) + 1 as \"place!\" from station")
        .fetch_one(act.conn())
        .await?;
    let id = sites::add_station(act.conn(), area_id, &name, place).await?;
    let detail = json!({"name": name, "area": area});
    act.did(SITE_CHAIN, Deed::new(at, Some(person), Action::StationSetUp, id, &detail), News::Plan);
    act.commit().await?;
    Ok(id)
}

/// Sets up a product.
#[compiled_once]
pub async fn add_product(pool: &PgPool, given: &str, person: Uuid, at: DateTime<Utc>) -> Result<Uuid, StoreError> {
    let name = name("name", given)?;
    let mut act = Act::begin(pool).await?;
    let id = sites::add_product(act.conn(), &name).await?;
    act.did(SITE_CHAIN, Deed::new(at, Some(person), Action::ProductSetUp, id, &json!({"name": name})), News::Plan);
    act.commit().await?;
    Ok(id)
}

/// Sets up a characteristic, with a first phase on trial limits.
///
/// # Errors
/// When the set-up cannot be, station or product are missing, or the name is taken there.
#[compiled_once]
pub async fn add_characteristic(
    pool: &PgPool,
    belongs: Belongs,
    new: &Characteristic,
    person: Uuid,
) -> Result<Uuid, StoreError> {
    let mut act = Act::begin(pool).await?;
    let id = set_up(&mut act, belongs, new, person).await?;
    let first = NewPhase { characteristic: id, name: "First limits", starts_at: belongs.since };
    begin_phase(&mut act, new, first, (Some(person), belongs.since)).await?;
    act.commit().await?;
    Ok(id)
}

/// Sets up a characteristic without any phase, within an act.
pub(crate) async fn set_up(
    act: &mut Act,
    belongs: Belongs,
    new: &Characteristic,
    person: Uuid,
) -> Result<Uuid, StoreError> {
    new.check()?;
    check_named(act.conn(), new).await?;
    let id = characteristics::insert(act.conn(), belongs, new).await?;
    // The site's chain lists the others, so that one that is gone is missed.
    act.did(SITE_CHAIN, Deed::new(belongs.since, None, Action::ChainBegun, id, &json!({})), News::Plan);
    let deed = Deed::new(belongs.since, Some(person), Action::CharacteristicSetUp, id, &serde_json::to_value(new)?);
    act.did(id, deed, News::Plan);
    Ok(id)
}

/// A change of one characteristic, made on the version that was seen.
#[derive(Debug, Clone, Deserialize, ToSchema)]
pub struct CharacteristicChange {
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
#[compiled_once]
pub async fn change(
    pool: &PgPool,
    changes: &[CharacteristicChange],
    person: Uuid,
    at: DateTime<Utc>,
) -> Result<(), StoreError> {
    if changes.is_empty() {
        return Ok(());
    }
    let mut act = Act::begin(pool).await?;
    let mut in_order: Vec<&CharacteristicChange> = changes.iter().collect();
    // Whoever changes many at once takes them in the same order, so that nobody waits in a circle.
    in_order.sort_by_key(|change| change.id);
    for change in in_order {
        change_one(&mut act, change, person, at).await?;
    }
    act.commit().await
}

/// What a change would do, or why it cannot be made.
pub type Foreseen = Result<Differing, StoreError>;

/// What each of the changes would do, in the order given; nothing is changed.
#[compiled_once]
pub async fn foresee(
    pool: &PgPool,
    changes: &[CharacteristicChange],
    person: Uuid,
    at: DateTime<Utc>,
) -> Result<Vec<Foreseen>, StoreError> {
    let mut act = Act::begin(pool).await?;
    let mut foreseen = Vec::with_capacity(changes.len());
    for change in changes {
        // Made for real and taken back, so that what is foreseen is what happens.
        act.begin_part().await?;
        let made = change_one(&mut act, change, person, at).await;
        act.end_part(made.is_ok()).await?;
        foreseen.push(made);
    }
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
    act: &mut Act,
    change: &CharacteristicChange,
    person: Uuid,
    at: DateTime<Utc>,
) -> Result<Differing, StoreError> {
    let new = &change.characteristic;
    new.check()?;
    check_named(act.conn(), new).await?;
    let old = act.take(change.id).await?;
    same_version(ObjectKind::Characteristic, change.version, old.version)?;
    let sampled = sqlx::query_scalar!(
        r#"select exists (select from sample where characteristic_id = $1) as "sampled!""#,
        change.id
    )
    .fetch_one(act.conn())
    .await?;
    old.characteristic.may_become(new, sampled)?;
    let belongs = Belongs { station: old.station_id, product: old.product_id, since: old.created_at };
    characteristics::write(act.conn(), change.id, belongs, new).await?;
    let differing = Differing::between(&old.characteristic, new)?;
    // Points keep what they were judged by.
    let scheme = old.characteristic.scheme();
    let keeps_scheme = sampled && scheme != new.scheme();
    if keeps_scheme {
        characteristics::keep_scheme(act.conn(), change.id, at, &scheme).await?;
    }
    let detail = json!({"old": differing.old, "new": differing.new, "keeps_scheme": keeps_scheme});
    let deed = Deed::new(at, Some(person), Action::CharacteristicChanged, change.id, &detail);
    act.did(change.id, deed, News::Plan);
    // Figures of another chart would not fit: points are judged against new trial limits from now on.
    if differing.starts_phase {
        let name = format!("Since the change of chart, {}", at.format("%Y-%m-%d"));
        let phase = NewPhase { characteristic: change.id, name: &name, starts_at: at };
        begin_phase(act, new, phase, (Some(person), at)).await?;
    }
    Ok(differing)
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

/// The counts of a characteristic recorded so far, for the chooser; `None` where values are measured.
#[compiled_once]
pub async fn counts_so_far(pool: &PgPool, id: Uuid) -> Result<Option<Points>, StoreError> {
    let mut conn = pool.acquire().await?;
    let setup = characteristics::find(&mut *conn, id).await?;
    let kind = setup.characteristic.kind;
    if matches!(kind, Kind::Measured | Kind::RareEvent) {
        return Ok(None);
    }
    let schemes = setup.schemes();
    let points = Stretch::all(&setup, &schemes).before(&mut conn, None, TRIAL_POINTS_AT_MOST).await?;
    Ok(Some(quality::place::points(kind, points.iter().map(|point| &point.place))))
}
