//! What is due.

use axum::Json;
use axum::extract::State;
use chrono::Utc;
use store::rounds::Station;

use crate::App;
use crate::problem::Problem;

/// Every station with what is due, overdue and done there.
#[utoipa::path(get, path = "/api/rounds", tag = "rounds", responses((status = 200, body = [Station])))]
pub async fn rounds(State(app): State<App>) -> Result<Json<Vec<Station>>, Problem> {
    Ok(Json(store::rounds::list(&app.pool, Utc::now()).await?))
}
