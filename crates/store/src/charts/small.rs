//! Many charts at once, each small: its first panel, the newest point, and what is open.

use chrono::{DateTime, Utc};
use futures::{StreamExt, TryStreamExt, stream};
use quality::characteristic::Kind;
use quality::object::ObjectKind;
use serde::Serialize;
use spc::Figure;
use sqlx::PgPool;
use utoipa::ToSchema;
use uuid::Uuid;

use super::columns::PanelColumns;
use super::drawn_points::drawn;
use super::gather::gather;
use crate::characteristics::{self, CharacteristicView};
use crate::once::compiled_once;
use crate::{StoreError, episodes};

/// More points are not drawn on so little room.
const DRAWN: usize = 160;
/// More points are not looked at.
const LAST_AT_MOST: u32 = 10_000;
/// So many are put together at a time.
const AT_ONCE: usize = 4;

/// Which points of each.
#[derive(Debug, Clone, Copy)]
pub struct SmallAsked {
    /// How many of the last.
    pub last: u32,
    /// Taken at this time or later.
    pub since: Option<DateTime<Utc>>,
}

/// A chart as small as a card.
#[derive(Debug, Serialize, ToSchema)]
pub struct SmallChart {
    /// The characteristic.
    pub id: Uuid,
    pub name: String,
    pub product: String,
    pub station_id: Uuid,
    pub station: String,
    /// The area that the station stands in.
    pub area: String,
    /// Words to find it by.
    pub labels: Vec<String>,
    /// Pinned by who asks.
    pub pinned: bool,
    pub kind: Kind,
    pub unit: String,
    pub decimals: u8,
    /// Episodes that wait for an answer.
    pub open_episodes: i64,
    /// How many places its axis has.
    places: usize,
    /// Where each mark stands on it, and when it was taken, in milliseconds since 1970, UTC.
    place: Vec<usize>,
    taken_at: Vec<i64>,
    /// Places that a phase begins at.
    phases: Vec<usize>,
    /// Its first panel; nothing where there is no point.
    panel: Option<PanelColumns>,
    /// How many sigma the newest point lies from the centre line.
    #[schema(value_type = Option<f64>)]
    newest_z: Figure,
}

/// What a card says of a characteristic beside its points.
struct Around {
    area: String,
    pinned: bool,
    open_episodes: i64,
}

/// A small chart of each characteristic that is not hidden, in the order of their stations; `only` at some of them.
#[compiled_once]
pub async fn small(
    pool: &PgPool,
    person: Option<Uuid>,
    only: Option<&[Uuid]>,
    asked: &SmallAsked,
) -> Result<Vec<SmallChart>, StoreError> {
    let mut setups = characteristics::list(pool).await?;
    let rows = sqlx::query!(
        r#"select c.id, a.name as area,
                  exists (select from pinned_chart where person_id = $1 and characteristic_id = c.id) as "pinned!",
                  -- A control lot that took over is its level now.
                  exists (select from level where characteristic_id = c.id and took_over_at is not null) as "gone!"
           from characteristic c join station s on s.id = c.station_id join area a on a.id = s.area_id"#,
        person
    )
    .fetch_all(pool)
    .await?;
    let waiting = episodes::how_many_wait(pool).await?;
    let around = |id: Uuid| rows.iter().find(|row| row.id == id && !row.gone);
    setups.retain(|setup| {
        let seen = only.is_none_or(|stations| stations.contains(&setup.station_id));
        seen && !setup.characteristic.hidden && around(setup.id).is_some()
    });
    let charts = setups.into_iter().filter_map(|setup| {
        let row = around(setup.id)?;
        let open_episodes = waiting.get(&setup.id).copied().unwrap_or(0);
        let around = Around { area: row.area.clone(), pinned: row.pinned, open_episodes };
        Some(one(pool, setup, around, asked))
    });
    stream::iter(charts).buffered(AT_ONCE).try_collect().await
}

async fn one(
    pool: &PgPool,
    setup: CharacteristicView,
    around: Around,
    asked: &SmallAsked,
) -> Result<SmallChart, StoreError> {
    let mut conn = pool.acquire().await?;
    let from = asked.since.map(|at| (at, 0));
    let last = asked.last.clamp(1, LAST_AT_MOST) as usize;
    let mut gathered = gather(&mut conn, &setup, (from, None), last).await?;
    gathered.panels.truncate(1);
    let told = vec![false; gathered.series.len()];
    let marks = drawn(&gathered.panels, &gathered.phases, &told, DRAWN).places;
    let newest =
        gathered.panels.first().and_then(|panel| panel.points.iter().rfind(|point| point.value.get().is_some()));
    let CharacteristicView { id, station, station_id, product, characteristic: c, .. } = setup;
    Ok(SmallChart {
        id,
        product,
        station_id,
        station,
        area: around.area,
        pinned: around.pinned,
        open_episodes: around.open_episodes,
        places: gathered.series.len(),
        phases: gathered.phases.iter().map(|phase| phase.start).collect(),
        taken_at: marks.iter().map(|place| gathered.series[*place].taken_at.timestamp_millis()).collect(),
        newest_z: newest.map_or(Figure::NONE, |point| point.z),
        panel: gathered.panels.first().filter(|_| !marks.is_empty()).map(|panel| PanelColumns::of(&panel.at(&marks))),
        place: marks,
        name: c.name,
        labels: c.labels,
        kind: c.kind,
        unit: c.unit,
        decimals: c.decimals,
    })
}

/// Pins a chart for a person, or takes the pin away.
#[compiled_once]
pub async fn pin(pool: &PgPool, person: Uuid, characteristic: Uuid, pinned: bool) -> Result<(), StoreError> {
    if !pinned {
        sqlx::query!(
            "delete from pinned_chart where person_id = $1 and characteristic_id = $2",
            person,
            characteristic
        )
        .execute(pool)
        .await?;
        return Ok(());
    }
    sqlx::query!(
        "insert into pinned_chart (person_id, characteristic_id) values ($1, $2) on conflict do nothing",
        person,
        characteristic
    )
    .execute(pool)
    .await
    .map_err(|error| {
        StoreError::of_constraint(error, |name| {
            (name == "pinned_chart_characteristic_id_fkey").then_some(StoreError::Missing(ObjectKind::Characteristic))
        })
    })?;
    Ok(())
}
