//! The samples of a selection, as places of a chart.

use chrono::{DateTime, Utc};
use quality::object::ObjectKind;
use quality::place::Place;
use quality::sample::Plotted;
use quality::study::{Known, Picked, Selection, Split, StudyRefusal};
use spc::points::Count;
use sqlx::PgConnection;
use uuid::Uuid;

use crate::StoreError;
use crate::characteristics::CharacteristicView;
use crate::phases::{Phase, holding, phases};
use crate::sites;

/// The stretch of time that a selection is of.
#[derive(Debug, Clone, Copy)]
pub(super) struct Within {
    pub since: Option<DateTime<Utc>>,
    pub until: Option<DateTime<Utc>>,
}

/// Narrowed by its phase, where it names one.
pub(super) fn within(selection: &Selection, phases: &[Phase]) -> Result<Within, StoreError> {
    let Selection { since, until, phase, .. } = *selection;
    let Some(phase) = phase else { return Ok(Within { since, until }) };
    let held = phases.iter().position(|one| one.id == phase).ok_or(StoreError::Missing(ObjectKind::Phase))?;
    // What was sampled before the first phase counts to it.
    let begins = (held > 0).then(|| phases[held].starts_at);
    let ends = phases.get(held + 1).map(|next| next.starts_at);
    let earlier = |a: Option<DateTime<Utc>>, b: Option<DateTime<Utc>>| a.into_iter().chain(b).min();
    Ok(Within { since: since.into_iter().chain(begins).max(), until: earlier(until, ends) })
}

/// The tags that narrow a selection, as the database asks for them; nothing where none do.
pub(super) fn asked_tags(selection: &Selection) -> Result<Option<serde_json::Value>, StoreError> {
    Ok((!selection.tags.is_empty()).then(|| serde_json::to_value(&selection.tags)).transpose()?)
}

/// The places of a selection in their order, gaps among them, each with the part that it belongs to.
///
/// # Errors
/// More samples than a study looks at; a phase of something else.
pub(super) async fn pick(
    conn: &mut PgConnection,
    setup: &CharacteristicView,
    selection: &Selection,
    split: Option<&Split>,
) -> Result<Vec<Picked>, StoreError> {
    let phases = phases(&mut *conn, setup.id).await?;
    let Within { since, until } = within(selection, &phases)?;
    let by_tag = if let Some(Split::Tag { name }) = split { Some(name.as_str()) } else { None };
    let calendar = sites::calendar(&mut *conn).await?;
    let narrowed = Narrowed { of: setup.id, within: Within { since, until }, tags: asked_tags(selection)? };
    let from = match selection.last {
        Some(last) => narrowed.nth(&mut *conn, last).await?,
        // Where there never were so many, none need be counted.
        None if numbered(&mut *conn, setup.id).await? <= i64::from(Selection::SAMPLES_AT_MOST)
            || narrowed.nth(&mut *conn, Selection::SAMPLES_AT_MOST + 1).await?.is_none() =>
        {
            None
        }
        None => return Err(StudyRefusal::TooMany { most: Selection::SAMPLES_AT_MOST }.into()),
    };
    let rows = sqlx::query!(
        r#"select number, taken_at, readings as "readings: Vec<Option<f64>>", count, inspected, distance,
                  tags->>'part' as part, aside, gap as "gap!", tags->>$7 as label
           from sample
           where characteristic_id = $1
             and taken_at >= coalesce($2, '-infinity'::timestamptz) and taken_at < coalesce($3, 'infinity'::timestamptz)
             and (taken_at, number) >= (coalesce($5, '-infinity'::timestamptz), $6)
             and ($4::jsonb is null or not gap and not exists (
                  select from jsonb_each($4) asked where not coalesce(asked.value ? (tags->>asked.key), false)))
           order by taken_at, number"#,
        setup.id,
        since,
        until,
        narrowed.tags,
        from.map(|(at, _)| at),
        from.map_or(0, |(_, number)| number),
        by_tag
    )
    .fetch_all(conn)
    .await?;
    let kind = setup.characteristic.kind;
    let picked = rows.into_iter().map(|row| {
        let part = row.part.and_then(|name| setup.characteristic.parts.iter().find(|part| part.name == name));
        let plotted = match (row.gap, row.readings, row.count.zip(row.inspected), row.distance) {
            (false, Some(readings), _, _) => Plotted::readings(readings, part),
            (false, None, Some((count, size)), _) => {
                Plotted::Count(Some(Count { count: f64::from(count), size: f64::from(size) }))
            }
            (false, None, None, distance) => Plotted::Between(distance),
            (true, ..) => Plotted::gap(kind),
        };
        let place = Place { aside: row.aside, ..Place::of(plotted) };
        let group = match split {
            Some(Split::Phase) => phases.get(holding(&phases, row.taken_at)).map(|phase| phase.name.clone()),
            Some(Split::Tag { .. }) => row.label,
            Some(split) => split.part(row.taken_at, &calendar),
            None => None,
        };
        Picked { number: row.number, taken_at: row.taken_at, place, group }
    });
    Ok(picked.collect())
}

/// How many samples a characteristic ever had.
async fn numbered(conn: &mut PgConnection, of: Uuid) -> Result<i64, StoreError> {
    let next = sqlx::query_scalar!("select next_number from sample_head where characteristic_id = $1", of);
    Ok(next.fetch_optional(conn).await?.map_or(0, |next| next - 1))
}

/// Samples narrowed by time and tags.
struct Narrowed {
    of: Uuid,
    within: Within,
    tags: Option<serde_json::Value>,
}

impl Narrowed {
    /// The rank of the nth of them from the end, gaps not counted; nothing where there are fewer.
    async fn nth(&self, conn: &mut PgConnection, nth: u32) -> Result<Option<(DateTime<Utc>, i64)>, StoreError> {
        let row = sqlx::query!(
            "select taken_at, number from sample
             where characteristic_id = $1 and not gap
               and taken_at >= coalesce($2, '-infinity'::timestamptz) and taken_at < coalesce($3, 'infinity'::timestamptz)
               and ($4::jsonb is null or not exists (
                    select from jsonb_each($4) asked where not coalesce(asked.value ? (tags->>asked.key), false)))
             order by taken_at desc, number desc offset $5 limit 1",
            self.of,
            self.within.since,
            self.within.until,
            self.tags,
            i64::from(nth) - 1
        )
        .fetch_optional(conn)
        .await?;
        Ok(row.map(|row| (row.taken_at, row.number)))
    }
}

/// Episodes that stand among the samples used, and whether the limits in force are to be looked at.
pub(super) async fn known(conn: &mut PgConnection, of: Uuid, picked: &[Picked]) -> Result<Known, StoreError> {
    let (first, last) = (picked.first().map(|one| one.taken_at), picked.last().map(|one| one.taken_at));
    let row = sqlx::query!(
        r#"select count(distinct g.episode_id) as "episodes!",
                  count(distinct g.episode_id) filter (where g.state <> 'reviewed') as "unsettled!"
           from signal g join sample s on s.id = g.at_sample
           where g.characteristic_id = $1 and g.withdrawn_at is null and not s.aside
             and g.at_taken_at >= $2 and g.at_taken_at <= $3"#,
        of,
        first,
        last
    )
    .fetch_one(&mut *conn)
    .await?;
    let limits_stale = sqlx::query_scalar!(
        r#"select exists (select from limits_look k join limits l on l.id = k.limits_id and l.state = 'in_force'
                          join phase p on p.id = l.phase_id and p.merged_at is null
                          where p.characteristic_id = $1 and k.listed_since is not null) as "stale!""#,
        of
    )
    .fetch_one(conn)
    .await?;
    let count = |n: i64| u32::try_from(n).unwrap_or(u32::MAX);
    Ok(Known { episodes: count(row.episodes), unsettled: count(row.unsettled), limits_stale })
}
