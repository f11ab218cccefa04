//! How far events that are entered by their time lie apart. One that comes late or is withdrawn changes the next one too.

use chrono::{DateTime, Utc};
use quality::place::Place;
use quality::sample::Plotted;
use sqlx::PgConnection;
use uuid::Uuid;

use crate::StoreError;
use crate::characteristics::CharacteristicView;
use crate::series::Rank;

/// The event after one that changed.
pub(super) struct Next {
    pub sample: Uuid,
    pub number: i64,
    pub taken_at: DateTime<Utc>,
    pub place: Place,
}

/// Whether an event was entered for this very moment.
pub(super) async fn is_taken(
    conn: &mut PgConnection,
    characteristic: Uuid,
    taken_at: DateTime<Utc>,
) -> Result<bool, StoreError> {
    Ok(sqlx::query_scalar!(
        r#"select exists (select from sample where characteristic_id = $1 and taken_at = $2 and not gap) as "there!""#,
        characteristic,
        taken_at
    )
    .fetch_one(conn)
    .await?)
}

/// Tells the event of this rank, where there is one, and the one after it how many hours lie between each and the
/// event before it; gives those of the first, and the second.
pub(super) async fn renew(
    conn: &mut PgConnection,
    setup: &CharacteristicView,
    (taken_at, number): Rank,
) -> Result<(Option<f64>, Option<Next>), StoreError> {
    let rows = sqlx::query!(
        r#"with events as (
               (select id, taken_at, number from sample
                where characteristic_id = $1 and not gap and (taken_at, number) <= ($2, $3)
                order by taken_at desc, number desc limit 2)
               union all
               (select id, taken_at, number from sample
                where characteristic_id = $1 and not gap and (taken_at, number) > ($2, $3)
                order by taken_at, number limit 1)),
           apart as (
               select id, (extract(epoch from taken_at - lag(taken_at) over (order by taken_at, number)) / 3600)::double precision as hours
               from events)
           update sample s set distance = apart.hours from apart
           where s.id = apart.id and (s.taken_at, s.number) >= ($2, $3)
           returning s.id, s.number, s.taken_at, s.distance, s.aside, s.restart"#,
        setup.id,
        taken_at,
        number
    )
    .fetch_all(conn)
    .await?;
    let (mut hours, mut next) = (None, None);
    for row in rows {
        if (row.taken_at, row.number) == (taken_at, number) {
            hours = row.distance;
        } else {
            let plotted = Plotted::Between(row.distance);
            let place = Place { aside: row.aside, restart: row.restart, ..Place::of(plotted) };
            next = Some(Next { sample: row.id, number: row.number, taken_at: row.taken_at, place });
        }
    }
    Ok((hours, next))
}
