//! Who did what.

use axum::body::{Body, Bytes};
use axum::extract::State;
use axum::http::header;
use axum::response::{IntoResponse, Response};
use axum::{Extension, Json};
use chrono::{DateTime, SecondsFormat, Utc};
use futures::stream;
use quality::trail::Action;
use serde::Deserialize;
use sqlx::PgPool;
use store::StoreError;
use store::people::Person;
use store::trail::{TrailEntry, TrailFilter};
use utoipa::IntoParams;
use uuid::Uuid;

use crate::app::App;
use crate::json::{Query, bounded, word};
use crate::problem::Problem;

/// More entries than this are not sent at once; ask for those behind the last one.
const ENTRIES_AT_MOST: i64 = 200;

/// Entries that are read at a time for a file.
const FILE_AT_A_TIME: i64 = 1000;

/// Which entries; what is left out does not narrow them.
#[derive(Deserialize, IntoParams)]
#[serde(deny_unknown_fields)]
pub struct Entries {
    /// Only of this characteristic.
    characteristic: Option<Uuid>,
    /// Only what this person did.
    person: Option<Uuid>,
    /// Only this.
    action: Option<Action>,
    /// Only what was done to this object.
    object: Option<Uuid>,
    /// Only from then on.
    from: Option<DateTime<Utc>>,
    /// Only before then.
    until: Option<DateTime<Utc>>,
    /// Only those behind an entry of the list: its time.
    behind_at: Option<DateTime<Utc>>,
    /// Its chain.
    behind_chain: Option<Uuid>,
    /// Its position.
    behind_position: Option<i64>,
}

impl Entries {
    /// For whoever asks, who may be kept to some stations.
    fn filter(self, asker: &Person) -> TrailFilter {
        let Self { characteristic, person, action, object, from, until, .. } = self;
        let behind = self.behind_at.zip(self.behind_chain).zip(self.behind_position);
        TrailFilter {
            characteristic,
            within: asker.sees_only().map(<[Uuid]>::to_vec),
            person,
            actions: action.into_iter().collect(),
            object,
            from: from.map(bounded),
            until: until.map(bounded),
            behind: behind.map(|((at, chain), position)| (bounded(at), chain, position)),
        }
    }
}

/// The trail, newest first, at most 200 entries; for a reader what concerns their areas.
#[utoipa::path(get, path = "/api/trail", tag = "trail", params(Entries),
    responses((status = 200, body = [TrailEntry])))]
pub async fn trail(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Query(asked): Query<Entries>,
) -> Result<Json<Vec<TrailEntry>>, Problem> {
    Ok(Json(store::trail::list(&app.pool, &asked.filter(&person), ENTRIES_AT_MOST).await?))
}

/// The same as a table (CSV, RFC 4180), whole: chain, position, time, who, what, on what, object, old and new values as
/// JSON. A file that breaks off is not whole.
#[utoipa::path(get, path = "/api/trail.csv", tag = "trail", params(Entries),
    responses((status = 200, content_type = "text/csv", body = String)))]
pub async fn trail_file(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Query(asked): Query<Entries>,
) -> Response {
    let head = stream::once(async { row(&HEAD) });
    let filter = asked.filter(&person);
    let rows = stream::try_unfold((app.pool, Some(filter)), next_rows);
    let headers = [
        (header::CONTENT_TYPE, "text/csv; charset=utf-8"),
        (header::CONTENT_DISPOSITION, "attachment; filename=\"trail.csv\""),
    ];
    (headers, Body::from_stream(stream::StreamExt::chain(head, rows))).into_response()
}

const HEAD: [&str; 9] =
    ["chain", "position", "at", "person", "action", "characteristic", "station", "object", "detail"];

/// The next rows of a file, and where it goes on; nothing more where there are none.
async fn next_rows(
    (pool, filter): (PgPool, Option<TrailFilter>),
) -> Result<Option<(Bytes, (PgPool, Option<TrailFilter>))>, StoreError> {
    let Some(mut filter) = filter else { return Ok(None) };
    let entries = store::trail::list(&pool, &filter, FILE_AT_A_TIME).await?;
    let Some(last) = entries.last() else { return Ok(None) };
    filter.behind = Some((last.at, last.chain, last.position));
    let more = entries.len() as i64 == FILE_AT_A_TIME;
    let mut rows = Vec::new();
    for entry in &entries {
        rows.extend(row(&[
            &entry.chain.to_string(),
            &entry.position.to_string(),
            &entry.at.to_rfc3339_opts(SecondsFormat::Micros, true),
            entry.person.as_deref().unwrap_or_default(),
            word(entry.action).as_str(),
            entry.characteristic.as_deref().unwrap_or_default(),
            entry.station.as_deref().unwrap_or_default(),
            &entry.object.to_string(),
            &entry.detail.to_string(),
        ])?);
    }
    Ok(Some((rows.into(), (pool, more.then_some(filter)))))
}

fn row(cells: &[&str]) -> Result<Bytes, StoreError> {
    let corrupt = |error: &dyn std::fmt::Display| StoreError::Corrupt(error.to_string());
    let mut writer = csv::WriterBuilder::new().terminator(csv::Terminator::CRLF).from_writer(Vec::new());
    writer.write_record(cells).map_err(|error| corrupt(&error))?;
    Ok(writer.into_inner().map_err(|error| corrupt(&error))?.into())
}
