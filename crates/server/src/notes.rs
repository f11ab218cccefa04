//! Notes on points.

use axum::extract::State;
use axum::http::StatusCode;
use axum::{Extension, Json};
use chrono::Utc;
use serde::Deserialize;
use store::notes;
use store::people::Person;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::app::App;
use crate::created::Created;
use crate::json::{Body, Path};
use crate::problem::Problem;

/// A remark on a point.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NewNote {
    /// 1 to 2000 characters.
    text: String,
    /// Made by the device; sending it twice writes one note.
    entry: Uuid,
    /// The note of the same sample that it answers.
    answers_to: Option<Uuid>,
    /// Whom it is meant for: people with a bell, at most 20, each once. It rings.
    #[serde(default)]
    mentions: Vec<Uuid>,
}

/// Writes a note on a sample.
#[utoipa::path(post, path = "/api/samples/{id}/notes", tag = "charts", params(("id" = Uuid, Path)),
    request_body = NewNote, responses(
    (status = 201, body = Created),
    (status = 404, body = Problem, description = "`missing`: the sample, or the note that it answers"),
    (status = 409, body = Problem, description = "`entry_reused`"),
    (status = 422, body = Problem, description = "`field_refused`")))]
pub async fn write_note(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Path(sample): Path<Uuid>,
    Body(note): Body<NewNote>,
) -> Result<(StatusCode, Json<Created>), Problem> {
    let NewNote { text, entry, answers_to, mentions } = note;
    let new = notes::NewNote { entry, text: &text, answers_to, mentions: &mentions };
    let id = notes::write(&app.pool, sample, (person.id, Utc::now()), new).await?;
    Ok((StatusCode::CREATED, Json(Created { id })))
}

/// A note as it shall be.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NoteChange {
    /// The version that was seen.
    version: i32,
    /// 1 to 2000 characters.
    text: String,
    /// Whom it is meant for; those who are new are told.
    #[serde(default)]
    mentions: Vec<Uuid>,
}

/// Changes a note of one's own.
#[utoipa::path(put, path = "/api/notes/{id}", tag = "charts", params(("id" = Uuid, Path)),
    request_body = NoteChange, responses(
    (status = 204), (status = 403, body = Problem, description = "`not_your_note`"),
    (status = 404, body = Problem, description = "`missing`"),
    (status = 409, body = Problem, description = "`changed`: it was changed since that version"),
    (status = 422, body = Problem, description = "`field_refused`")))]
pub async fn change_note(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Path(id): Path<Uuid>,
    Body(NoteChange { version, text, mentions }): Body<NoteChange>,
) -> Result<StatusCode, Problem> {
    notes::change(&app.pool, id, version, (&text, &mentions), (person.id, Utc::now())).await?;
    Ok(StatusCode::NO_CONTENT)
}
