//! Which episodes a list shows, and in which order.

use chrono::{DateTime, Utc};
use quality::signal::SignalState;
use serde::{Deserialize, Serialize};
use sqlx::{PgPool, Postgres, QueryBuilder};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::once::compiled_once;
use crate::{StoreError, word};

/// The order of a list.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum EpisodeOrder {
    /// The latest raised first.
    #[default]
    Newest,
    /// The earliest raised first.
    Oldest,
    /// What was sent back once first, then the oldest: as it is worked through.
    Queue,
}

/// A place in a list: that of an episode that was there.
#[derive(Debug, Clone, Copy)]
pub struct Behind {
    pub id: Uuid,
    pub raised_at: DateTime<Utc>,
    /// Where what was sent back goes first.
    pub sent_back: bool,
}

/// Which episodes to list; what is left out does not narrow it.
#[derive(Debug, Clone, Default)]
pub struct EpisodeFilter {
    /// Only in one of these states.
    pub states: Vec<SignalState>,
    /// Only of this characteristic.
    pub characteristic: Option<Uuid>,
    /// Only of this station.
    pub station: Option<Uuid>,
    /// Only of these stations.
    pub within: Option<Vec<Uuid>>,
    /// Only of this area.
    pub area: Option<Uuid>,
    /// Only of the levels of this analyte.
    pub analyte: Option<Uuid>,
    /// Only of this product.
    pub product: Option<Uuid>,
    /// Only where a rule of this kind was broken.
    pub rule: Option<String>,
    /// Only where an answer names this cause.
    pub cause: Option<Uuid>,
    /// Only what this person answered or reviewed.
    pub person: Option<Uuid>,
    /// Only raised from then on.
    pub from: Option<DateTime<Utc>>,
    /// Only raised before then.
    pub until: Option<DateTime<Utc>>,
    /// Only of the laboratory, or only of the floor.
    pub laboratory: Option<bool>,
    /// Only against trial limits alone, or only against limits in force.
    pub trial: Option<bool>,
    /// Only those that were raised to the supervisors.
    pub escalated: bool,
    pub order: EpisodeOrder,
    /// Only those behind this one.
    pub behind: Option<Behind>,
}

impl EpisodeFilter {
    /// The episodes of a page.
    pub(super) async fn page(&self, pool: &PgPool, most: i64) -> Result<Vec<Uuid>, StoreError> {
        let mut query = QueryBuilder::new("select e.id");
        self.narrow(&mut query)?;
        match (self.order, self.behind) {
            (EpisodeOrder::Newest, Some(Behind { id, raised_at, .. })) => {
                query.push(" and (e.raised_at, e.id) < (").push_bind(raised_at).push(", ").push_bind(id).push(")");
            }
            (EpisodeOrder::Oldest, Some(Behind { id, raised_at, .. })) => {
                query.push(" and (e.raised_at, e.id) > (").push_bind(raised_at).push(", ").push_bind(id).push(")");
            }
            (EpisodeOrder::Queue, Some(Behind { id, raised_at, sent_back })) => {
                query.push(" and (not e.sent_back, e.raised_at, e.id) > (not ").push_bind(sent_back);
                query.push(", ").push_bind(raised_at).push(", ").push_bind(id).push(")");
            }
            (_, None) => {}
        }
        query.push(match self.order {
            EpisodeOrder::Newest => " order by e.raised_at desc, e.id desc limit ",
            EpisodeOrder::Oldest => " order by e.raised_at, e.id limit ",
            EpisodeOrder::Queue => " order by e.sent_back desc, e.raised_at, e.id limit ",
        });
        query.push_bind(most);
        Ok(query.build_query_scalar().fetch_all(pool).await?)
    }

    /// Asks for those that it lets through.
    fn narrow(&self, query: &mut QueryBuilder<Postgres>) -> Result<(), StoreError> {
        query.push(
            " from episode e join characteristic c on c.id = e.characteristic_id join station s on s.id = c.station_id
              where (not e.gone or e.state in ('answered', 'reviewed')) and e.joined is null",
        );
        if !self.states.is_empty() {
            // Words of ours, and as such in the statement: the indexes of those that ask something are of these alone.
            let states = self.states.iter().map(|state| Ok(format!("'{}'", word::word(state)?)));
            let states = states.collect::<Result<Vec<_>, StoreError>>()?.join(", ");
            query.push(" and e.state in (").push(states).push(")");
        }
        if let Some(characteristic) = self.characteristic {
            // A run is one episode of several levels.
            query.push(" and (e.characteristic_id = ").push_bind(characteristic);
            query.push(
                " or e.run_id is not null and exists (
                  select from signal g where g.episode_id = e.id and g.characteristic_id = ",
            );
            query.push_bind(characteristic).push("))");
        }
        let ids = [("s.id", self.station), ("s.area_id", self.area), ("c.product_id", self.product)];
        for (column, id) in ids.into_iter().filter_map(|(column, id)| Some((column, id?))) {
            query.push(" and ").push(column).push(" = ").push_bind(id);
        }
        if let Some(analyte) = self.analyte {
            query.push(" and exists (select from level l where l.characteristic_id = c.id and l.analyte_id = ");
            query.push_bind(analyte).push(")");
        }
        if let Some(stations) = &self.within {
            query.push(" and s.id = any(").push_bind(stations.clone()).push(")");
        }
        if let Some(rule) = &self.rule {
            // Found by the rule first: in the order of the list, one that few broke would be looked for in each.
            query.push(
                " and e.id = any(array(select g.episode_id from signal g join episode o on o.id = g.episode_id
                  where (g.withdrawn_at is null or o.gone) and g.rule->>'kind' = ",
            );
            query.push_bind(rule.clone()).push("))");
        }
        if let Some(cause) = self.cause {
            query.push(
                " and exists (select from signal g join answer_of o on o.signal_id = g.id join answer a on a.id = o.answer_id
                  where g.episode_id = e.id and a.cause_id = ",
            );
            query.push_bind(cause).push(")");
        }
        if let Some(person) = self.person {
            query.push(
                " and e.id in (
                  select g.episode_id from answer a join answer_of o on o.answer_id = a.id join signal g on g.id = o.signal_id
                  where a.person_id = ",
            );
            query.push_bind(person);
            query.push(
                " union select g.episode_id from review_of r join signal g on g.id = r.signal_id where r.reviewer = ",
            );
            query.push_bind(person).push(")");
        }
        for (compare, at) in [(" >= ", self.from), (" < ", self.until)] {
            if let Some(at) = at {
                query.push(" and e.raised_at").push(compare).push_bind(at);
            }
        }
        if let Some(trial) = self.trial {
            query.push(" and e.trial = ").push_bind(trial);
        }
        if self.escalated {
            query.push(" and e.escalated_at is not null");
        }
        if let Some(laboratory) = self.laboratory {
            query.push(" and exists (select from level l where l.characteristic_id = c.id) = ").push_bind(laboratory);
        }
        Ok(())
    }
}

/// How many episodes a filter lets through.
#[compiled_once]
pub async fn count(pool: &PgPool, filter: &EpisodeFilter) -> Result<i64, StoreError> {
    let mut query = QueryBuilder::new("select count(*)");
    filter.narrow(&mut query)?;
    Ok(query.build_query_scalar().fetch_one(pool).await?)
}
