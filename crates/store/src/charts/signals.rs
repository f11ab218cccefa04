//! Signals on a chart, as they were raised.

use chrono::{DateTime, Utc};
use spc::rules::Rule;
use sqlx::PgConnection;
use sqlx::types::Json;
use uuid::Uuid;

use super::types::ChartSignal;
use crate::{StoreError, word};

/// Signals that touch the samples shown on a chart.
pub(super) async fn shown(
    conn: &mut PgConnection,
    characteristic: Uuid,
    samples: &[Uuid],
    first: DateTime<Utc>,
    last: DateTime<Utc>,
) -> Result<Vec<ChartSignal>, StoreError> {
    let place = |sample: Uuid| samples.iter().position(|id| *id == sample);
    let rows = sqlx::query!(
        r#"select id, panel, rule as "rule: Json<Rule>", side, from_sample, at_sample, to_sample, state, trial
           from signal
           where characteristic_id = $1 and withdrawn_at is null and to_taken_at >= $2 and at_taken_at <= $3
           order by at_taken_at, raised_at"#,
        characteristic,
        first,
        last
    )
    .fetch_all(conn)
    .await?;
    let mut shown = Vec::with_capacity(rows.len());
    for row in rows {
        // A pattern that ends behind the last point shown is drawn to the edge.
        let to = place(row.to_sample).unwrap_or(samples.len() - 1);
        shown.push(ChartSignal {
            id: row.id,
            panel: word::value(row.panel)?,
            rule: row.rule.0,
            side: row.side.map(word::value).transpose()?,
            from: place(row.from_sample).unwrap_or(0),
            at: place(row.at_sample).unwrap_or(0),
            to,
            state: word::value(row.state)?,
            trial: row.trial,
        });
    }
    Ok(shown)
}
