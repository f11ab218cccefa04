//! Figures of a bench: per level and reagent lot, of the current period and of all results.

use quality::run::Summary;
use serde::Serialize;
use sqlx::PgPool;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::StoreError;
use crate::once::compiled_once;

/// Figures of one level with one reagent lot.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct LevelFigures {
    /// The analyte's name.
    pub analyte: String,
    /// The level's name.
    pub level: String,
    /// The level's characteristic.
    pub characteristic: Uuid,
    /// The level that it runs beside: a new control lot.
    pub beside: Option<Uuid>,
    /// Unit of the results.
    pub unit: String,
    /// Decimals of a result.
    pub decimals: i16,
    /// The reagent lot; nothing where none was named.
    pub reagent_lot: Option<String>,
    /// Since mean and sd were last assigned: every result.
    pub current: Summary,
    /// Of all time, without the results of rejected runs.
    pub cumulative: Summary,
    /// How many results were left out of the cumulative figures.
    pub left_out: usize,
}

/// Figures of a bench, in the order of its levels, newest reagent lot first.
#[compiled_once]
pub async fn figures(pool: &PgPool, station: Uuid) -> Result<Vec<LevelFigures>, StoreError> {
    let rows = sqlx::query!(
        r#"select a.name as analyte, v.name as level, v.beside, c.id, c.unit, c.decimals, s.tags->>'reagent lot' as reagent_lot,
                  array_agg(s.readings[1]) filter (where s.taken_at >= f.starts_at) as current,
                  array_agg(s.readings[1]) filter (where not j.rejected) as accepted,
                  count(*) filter (where j.rejected) as "left_out!"
           from analyte a
           join level v on v.analyte_id = a.id
           join characteristic c on c.id = v.characteristic_id
           join sample s on s.characteristic_id = c.id and not s.gap
           join run r on r.id = s.run_id
           join lateral (select max(starts_at) as starts_at from phase
                         where characteristic_id = c.id and merged_at is null) f on true
           join lateral (
               select r.overridden_at is null and exists (
                   select from jsonb_array_elements(r.judgements) j
                   where j->>'analyte' = a.id::text and j->>'verdict' = 'rejected') as rejected
           ) j on true
           where a.station_id = $1 and v.took_over_at is null
           group by a.place, a.name, v.place, v.name, v.beside, c.id, c.unit, c.decimals, s.tags->>'reagent lot'
           order by a.place, a.name, v.place, max(s.taken_at) desc"#,
        station
    )
    .fetch_all(pool)
    .await?;
    let of = |results: Option<Vec<f64>>| Summary::of(&results.unwrap_or_default());
    Ok(rows
        .into_iter()
        .map(|row| LevelFigures {
            analyte: row.analyte,
            level: row.level,
            characteristic: row.id,
            beside: row.beside,
            unit: row.unit,
            decimals: row.decimals,
            reagent_lot: row.reagent_lot,
            current: of(row.current),
            cumulative: of(row.accepted),
            left_out: row.left_out.try_into().unwrap_or_default(),
        })
        .collect())
}
