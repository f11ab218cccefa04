//! What an EWMA or CUSUM has come to, kept beside each point, so that the next one is judged without the history.

use sqlx::PgConnection;
use uuid::Uuid;

use crate::StoreError;
use crate::series::Window;

/// Keeps the sums of a window beside its points, from the first that changed on.
pub(crate) async fn keep(conn: &mut PgConnection, window: &Window) -> Result<(), StoreError> {
    let (mut samples, mut first, mut second): (Vec<Uuid>, Vec<f64>, Vec<f64>) = (vec![], vec![], vec![]);
    for (point, sums) in window.points.iter().zip(&window.chart.sums).skip(window.changed) {
        if let Some(sample) = point.sample.filter(|_| point.place.sums != Some(*sums)) {
            samples.push(sample);
            first.push(sums[0]);
            second.push(sums[1]);
        }
    }
    sqlx::query!(
        "update sample s set sums = array[k.first, k.second]
         from unnest($1::uuid[], $2::double precision[], $3::double precision[]) as k(id, first, second)
         where s.id = k.id",
        &samples,
        &first,
        &second
    )
    .execute(conn)
    .await?;
    Ok(())
}
