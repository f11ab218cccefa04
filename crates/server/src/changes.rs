//! Samples for programs that keep a copy of them, page by page in the order in which they changed.

use axum::Json;
use axum::extract::State;
use chrono::{DateTime, Utc};
use quality::field::{Allowed, WrongField};
use serde::Deserialize;
use store::changes::{Begin, ChangedSamples, Cursor, PAGE_AT_MOST, changed};
use utoipa::IntoParams;
use uuid::Uuid;

use crate::app::App;
use crate::json::{Path, Query};
use crate::problem::Problem;

/// Samples of a page where it is not said how many.
const USUAL: usize = 1_000;

/// Which page.
#[derive(Deserialize, IntoParams)]
#[serde(deny_unknown_fields)]
pub struct Page {
    /// `next` of the page before; all samples from the first on when left out.
    #[param(example = "4711.0")]
    after: Option<String>,
    /// Instead of `after`: what changed at this time or later.
    #[param(example = "2026-05-04T06:00:00Z")]
    since: Option<DateTime<Utc>>,
    /// Samples at most, 1 to 10 000; 1000 when left out.
    #[param(example = 1000)]
    limit: Option<usize>,
}

impl Page {
    fn begin(&self) -> Result<Begin, WrongField> {
        let not_so = WrongField::new("after", Allowed::NextOfAPage);
        match (&self.after, self.since) {
            (Some(_), Some(_)) => Err(not_so),
            (Some(after), None) => Ok(Begin::After(after.parse().map_err(|()| not_so)?)),
            (None, Some(at)) => Ok(Begin::Since(at)),
            (None, None) => Ok(Begin::After(Cursor::default())),
        }
    }

    fn limit(&self) -> Result<usize, WrongField> {
        let allowed = Allowed::Whole { least: 1, most: PAGE_AT_MOST as u32 };
        let limit = self.limit.unwrap_or(USUAL);
        (1..=PAGE_AT_MOST).contains(&limit).then_some(limit).ok_or(WrongField::new("limit", allowed))
    }
}

/// Samples of a characteristic in the order in which they were saved, corrected, withdrawn, set aside or taken back, as
/// they are now. Ask again with `next` until there are no more, and at any later time for what has changed since.
#[utoipa::path(get, path = "/api/characteristics/{id}/samples", tag = "data", params(("id" = Uuid, Path), Page),
    responses((status = 200, body = ChangedSamples), (status = 404, body = Problem, description = "`missing`"),
    (status = 422, body = Problem, description = "`field_refused`")))]
pub async fn changed_samples(
    State(app): State<App>,
    Path(id): Path<Uuid>,
    Query(page): Query<Page>,
) -> Result<Json<ChangedSamples>, Problem> {
    Ok(Json(changed(&app.pool, id, page.begin()?, page.limit()?).await?))
}
