//! Where the objects of the job belong: to which stations.

use quality::object::ObjectKind;
use sqlx::PgPool;
use uuid::Uuid;

use crate::StoreError;
use crate::once::compiled_once;

/// The stations that an object belongs to: none where there is no such object; nothing where objects of its kind
/// belong to no station.
#[compiled_once]
pub async fn stations_of(pool: &PgPool, kind: ObjectKind, id: Uuid) -> Result<Option<Vec<Uuid>>, StoreError> {
    let stations = match kind {
        ObjectKind::Station => sqlx::query_scalar!("select id from station where id = $1", id).fetch_all(pool).await?,
        ObjectKind::Characteristic => {
            sqlx::query_scalar!("select station_id from characteristic where id = $1", id).fetch_all(pool).await?
        }
        ObjectKind::Sample => {
            sqlx::query_scalar!(
                "select c.station_id from sample s join characteristic c on c.id = s.characteristic_id where s.id = $1",
                id
            )
            .fetch_all(pool)
            .await?
        }
        ObjectKind::Episode => sqlx::query_scalar!(
            "select c.station_id from episode e join characteristic c on c.id = e.characteristic_id where e.id = $1",
            id
        )
        .fetch_all(pool)
        .await?,
        ObjectKind::Run => sqlx::query_scalar!("select station_id from run where id = $1", id).fetch_all(pool).await?,
        ObjectKind::Offer => {
            sqlx::query_scalar!("select station_id from offer where id = $1", id).fetch_all(pool).await?
        }
        ObjectKind::File => {
            sqlx::query_scalar!(
                "select distinct c.station_id from file f
                 left join addition d on d.id = f.addition_id
                 join answer_of o on o.answer_id = coalesce(f.answer_id, d.answer_id)
                 join signal g on g.id = o.signal_id join characteristic c on c.id = g.characteristic_id
                 where f.id = $1",
                id
            )
            .fetch_all(pool)
            .await?
        }
        ObjectKind::Signature => {
            sqlx::query_scalar!(
                "select distinct c.station_id from signed d join review_of r on r.review_id = d.review_id
                 join signal g on g.id = r.signal_id join characteristic c on c.id = g.characteristic_id
                 where d.signature_id = $1",
                id
            )
            .fetch_all(pool)
            .await?
        }
        ObjectKind::Study => {
            sqlx::query_scalar!(
                "select distinct c.station_id from study_of o join characteristic c on c.id = o.characteristic_id
                 where o.study_id = $1",
                id
            )
            .fetch_all(pool)
            .await?
        }
        ObjectKind::CauseTree => sqlx::query_scalar!(
            "select c.station_id from cause_tree t join characteristic c on c.id = t.characteristic_id where t.id = $1",
            id
        )
        .fetch_all(pool)
        .await?,
        _ => return Ok(None),
    };
    Ok(Some(stations))
}
