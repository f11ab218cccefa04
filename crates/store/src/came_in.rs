//! Everything that came in: samples of all characteristics by their time, and what became of each.

use chrono::{DateTime, Utc};
use quality::characteristic::DefectKind;
use quality::entry::Tags;
use quality::object::ObjectKind;
use quality::sample::{Content, Defects};
use quality::signal::SignalState;
use serde::{Deserialize, Serialize};
use sqlx::types::Json;
use sqlx::{PgPool, Postgres, QueryBuilder};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::charts::{Gap, Said, content};
use crate::episodes::EpisodeRun;
use crate::once::compiled_once;
use crate::{StoreError, word};

/// A sample as a line of the list.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct CameIn {
    pub sample: Uuid,
    pub characteristic: Uuid,
    pub name: String,
    pub station: String,
    /// On what.
    pub product: String,
    /// Unit of the readings.
    pub unit: String,
    /// Decimals of the unit.
    pub decimals: i16,
    /// Kinds of defects, where they are counted.
    pub defect_kinds: Vec<DefectKind>,
    pub number: i64,
    pub taken_at: DateTime<Utc>,
    /// When it reached the server.
    pub arrived_at: DateTime<Utc>,
    /// Who entered it.
    pub person: String,
    pub tags: Tags,
    /// What it recorded; of a withdrawn sample what it had recorded, of a skipped one nothing.
    pub content: Option<Content>,
    /// Why there is a gap.
    pub gap: Option<Gap>,
    /// Earlier contents are on record.
    pub corrected: bool,
    /// It was unusual when it came, and kept.
    pub doubted: bool,
    /// Left out of limits and rules, with the cause.
    pub aside: Option<Said>,
    /// The run of the laboratory that measured it.
    pub run: Option<EpisodeRun>,
    /// The least settled episode that flags it.
    pub episode: Option<Flagging>,
}

/// An episode that flags a sample.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct Flagging {
    pub id: Uuid,
    pub state: SignalState,
}

/// What became of a sample.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Became {
    /// A signal that holds flags it.
    Flagged,
    /// No signal does.
    InControl,
    /// It was not taken.
    Skipped,
    /// It was withdrawn.
    Withdrawn,
    /// It was corrected.
    Corrected,
    /// It is left out of limits and rules.
    SetAside,
    /// It was unusual when it came, and kept.
    Doubted,
}

/// Which samples; what is left out does not narrow them.
#[derive(Debug, Clone, Default)]
pub struct CameInFilter {
    /// Only of this area.
    pub area: Option<Uuid>,
    /// Only of this station.
    pub station: Option<Uuid>,
    /// Only of these stations.
    pub within: Option<Vec<Uuid>>,
    /// Only of this product.
    pub product: Option<Uuid>,
    /// Only entered by this person.
    pub person: Option<Uuid>,
    /// Only taken from then on.
    pub from: Option<DateTime<Utc>>,
    /// Only taken before then.
    pub until: Option<DateTime<Utc>>,
    /// Only of the laboratory, or only of the floor.
    pub laboratory: Option<bool>,
    /// Only what became this.
    pub became: Option<Became>,
    /// Only those behind this sample.
    pub behind: Option<Uuid>,
}

/// A signal that holds and flags the sample `s`.
const FLAGS: &str = "select from signal g join sample a on a.id = g.at_sample join sample t on t.id = g.to_sample
    where g.characteristic_id = s.characteristic_id and g.withdrawn_at is null
      and g.at_taken_at <= s.taken_at and g.to_taken_at >= s.taken_at
      and (a.taken_at, a.number) <= (s.taken_at, s.number) and (t.taken_at, t.number) >= (s.taken_at, s.number)";

/// At most `most` samples, the last taken first.
///
/// # Errors
/// When there is no such sample to go on behind.
#[compiled_once]
pub async fn list(pool: &PgPool, filter: &CameInFilter, most: i64) -> Result<Vec<CameIn>, StoreError> {
    rows(pool, &filter.page(pool, most).await?).await
}

impl CameInFilter {
    /// The samples of a page. Each characteristic is read from its end, as far as the page could need: so a page costs
    /// the same however long the history is.
    async fn page(&self, pool: &PgPool, most: i64) -> Result<Vec<Uuid>, StoreError> {
        let behind = match self.behind {
            None => None,
            Some(id) => Some(
                sqlx::query!("select taken_at, characteristic_id, number from sample where id = $1", id)
                    .fetch_optional(pool)
                    .await?
                    .ok_or(StoreError::Missing(ObjectKind::Sample))?,
            ),
        };
        let mut query = QueryBuilder::new(
            "select s.id from characteristic c join station st on st.id = c.station_id
             cross join lateral (select s.id, s.taken_at, s.characteristic_id, s.number from sample s
                                 where s.characteristic_id = c.id",
        );
        for (compare, at) in [(" >= ", self.from), (" < ", self.until)] {
            if let Some(at) = at {
                query.push(" and s.taken_at").push(compare).push_bind(at);
            }
        }
        if let Some(behind) = behind {
            query.push(" and s.taken_at <= ").push_bind(behind.taken_at);
            query.push(" and (s.taken_at, s.characteristic_id, s.number) < (").push_bind(behind.taken_at);
            query.push(", ").push_bind(behind.characteristic_id).push(", ").push_bind(behind.number).push(")");
        }
        if let Some(person) = self.person {
            query.push(" and s.person_id = ").push_bind(person);
        }
        if let Some(became) = self.became {
            became.narrow(&mut query);
        }
        query.push(" order by s.taken_at desc, s.number desc limit ").push_bind(most).push(") s where true");
        let ids = [("st.area_id", self.area), ("st.id", self.station), ("c.product_id", self.product)];
        for (column, id) in ids.into_iter().filter_map(|(column, id)| Some((column, id?))) {
            query.push(" and ").push(column).push(" = ").push_bind(id);
        }
        if let Some(stations) = &self.within {
            query.push(" and st.id = any(").push_bind(stations.clone()).push(")");
        }
        if let Some(laboratory) = self.laboratory {
            query.push(" and exists (select from level l where l.characteristic_id = c.id) = ").push_bind(laboratory);
        }
        query.push(" order by s.taken_at desc, s.characteristic_id desc, s.number desc limit ").push_bind(most);
        Ok(query.build_query_scalar().fetch_all(pool).await?)
    }
}

impl Became {
    fn narrow(self, query: &mut QueryBuilder<Postgres>) {
        match self {
            Self::Flagged => query.push(" and exists (").push(FLAGS).push(")"),
            Self::InControl => query.push(" and not s.gap and not s.aside and not exists (").push(FLAGS).push(")"),
            Self::Skipped => query.push(" and s.skipped_because is not null"),
            Self::Withdrawn => query.push(" and s.withdrawn_at is not null"),
            Self::Corrected => query.push(" and exists (select from correction k where k.sample_id = s.id)"),
            Self::SetAside => query.push(" and s.aside"),
            Self::Doubted => query.push(" and s.doubts <> '[]'"),
        };
    }
}

/// Samples as lines, in the order in which they are named.
async fn rows(pool: &PgPool, page: &[Uuid]) -> Result<Vec<CameIn>, StoreError> {
    sqlx::query!(
        r#"select s.id, s.characteristic_id, c.name, st.name as station, p.name as product, c.unit, c.decimals,
                  c.defect_kinds as "defect_kinds: Json<Vec<DefectKind>>", s.number, s.taken_at, s.arrived_at,
                  w.name as person, s.tags as "tags: Json<Tags>", s.readings as "readings: Vec<Option<f64>>",
                  s.components as "components: Vec<Option<f64>>", s.inspected, s.event, s.distance,
                  s.defects as "defects: Json<Vec<Defects>>", s.skipped_because, s.withdrawn_because,
                  g.name as "withdrawn_by?", exists (select from correction k where k.sample_id = s.id) as "corrected!",
                  s.doubts <> '[]' as "doubted!", s.run_id, r.number as "run_number?",
                  case when s.aside then (
                      select jsonb_build_object('because', coalesce(k.name, a.cause_text), 'person', by.name, 'at', a.at)
                      from set_aside a join person by on by.id = a.person_id left join cause k on k.id = a.cause_id
                      where a.sample_id = s.id and a.taken_back_at is null) end as "aside: Json<Said>",
                  flagged.id as "episode?", flagged.state as "state?"
           from unnest($1::uuid[]) with ordinality page (id, place)
           join sample s on s.id = page.id
           join characteristic c on c.id = s.characteristic_id
           join station st on st.id = c.station_id
           join product p on p.id = c.product_id
           join person w on w.id = s.person_id
           left join person g on g.id = s.withdrawn_by
           left join run r on r.id = s.run_id
           left join lateral (
               select e.id, e.state
               from signal g join sample a on a.id = g.at_sample join sample t on t.id = g.to_sample
               join episode e on e.id = g.episode_id
               where g.characteristic_id = s.characteristic_id and g.withdrawn_at is null
                 and g.at_taken_at <= s.taken_at and g.to_taken_at >= s.taken_at
                 and (a.taken_at, a.number) <= (s.taken_at, s.number)
                 and (t.taken_at, t.number) >= (s.taken_at, s.number)
               order by array_position(array['sent_back', 'open', 'found_late', 'answered', 'reviewed'], e.state), e.id
               limit 1) flagged on true
           order by page.place"#,
        page
    )
    .fetch_all(pool)
    .await?
    .into_iter()
    .map(|row| {
        let state = row.state.map(word::value).transpose()?;
        let gap = Gap::of(&row.person, row.skipped_because, (row.withdrawn_because, row.withdrawn_by));
        Ok(CameIn {
            sample: row.id,
            characteristic: row.characteristic_id,
            name: row.name,
            station: row.station,
            product: row.product,
            unit: row.unit,
            decimals: row.decimals,
            defect_kinds: row.defect_kinds.0,
            number: row.number,
            taken_at: row.taken_at,
            arrived_at: row.arrived_at,
            gap,
            person: row.person,
            tags: row.tags.0,
            content: content((row.readings, row.components), (row.inspected, row.defects.0), (row.event, row.distance)),
            corrected: row.corrected,
            doubted: row.doubted,
            aside: row.aside.map(|said| said.0),
            run: EpisodeRun::of(row.run_id, row.run_number),
            episode: row.episode.zip(state).map(|(id, state)| Flagging { id, state }),
        })
    })
    .collect()
}
