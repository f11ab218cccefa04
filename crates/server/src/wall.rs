//! The wall view: what a display shows, with `Authorization: Bearer <token>`. It reads, and nobody is named to it.

use std::convert::Infallible;

use axum::Json;
use axum::extract::State;
use axum::http::HeaderMap;
use axum::response::Sse;
use axum::response::sse::{Event, KeepAlive};
use chrono::Utc;
use futures::{Stream, StreamExt};
use quality::device::Link;
use serde::Serialize;
use sqlx::PgPool;
use store::StoreError;
use store::devices::Device;
use store::wall::Wall;
use utoipa::ToSchema;

use crate::app::App;
use crate::failure::Failure;
use crate::live::{ASKED_AGAIN, KEPT_ALIVE, STREAM_AT_MOST};
use crate::problem::Problem;
use crate::tokens;
use crate::told::Message;

/// A display with what it shows.
#[derive(Serialize, ToSchema)]
pub struct WallView {
    /// The display's name.
    name: String,
    /// Charts on the screen at a time.
    at_a_time: u32,
    /// Seconds until the next ones come.
    seconds: u32,
    /// Light writing on a dark ground.
    dark: bool,
    #[serde(flatten)]
    wall: Wall,
}

async fn display(pool: &PgPool, headers: &HeaderMap) -> Result<Option<Device>, StoreError> {
    tokens::device(pool, headers, |link| matches!(link, Link::Display { .. })).await
}

/// What a display shows: charts of its stations, what is overdue, what is open.
#[utoipa::path(get, path = "/api/wall", tag = "devices", responses((status = 200, body = WallView),
    (status = 401, body = Problem, description = "`unknown_token`")))]
pub async fn wall(State(app): State<App>, headers: HeaderMap) -> Result<Json<WallView>, Problem> {
    let Some(Device { id, name, stations, link: Link::Display { charts, seconds, dark } }) =
        display(&app.pool, &headers).await?
    else {
        return Err(Failure::UnknownToken {}.into());
    };
    let now = Utc::now();
    store::devices::heard(&app.pool, id, now, 0).await?;
    let wall = store::wall::wall(&app.pool, &stations, now).await?;
    Ok(Json(WallView { name, at_a_time: charts, seconds, dark, wall }))
}

/// Waits until a token is worth nothing any more.
async fn revoked(pool: PgPool, headers: HeaderMap) {
    loop {
        tokio::time::sleep(ASKED_AGAIN).await;
        // While the database is away nothing is told either.
        if let Ok(None) = display(&pool, &headers).await {
            return;
        }
    }
}

/// That something of the display's stations has changed: a `changed` event that says no more, the first at once.
#[utoipa::path(get, path = "/api/wall/live", tag = "devices",
    responses((status = 200, content_type = "text/event-stream", body = String),
    (status = 401, body = Problem, description = "`unknown_token`")))]
pub async fn wall_live(
    State(app): State<App>,
    headers: HeaderMap,
) -> Result<Sse<impl Stream<Item = Result<Event, Infallible>>>, Problem> {
    let Device { stations, .. } = display(&app.pool, &headers).await?.ok_or(Failure::UnknownToken {})?;
    let (news, pool) = (app.news.clone(), app.pool.clone());
    let events = app
        .news
        .messages(None)
        .filter(move |message| {
            let (message, stations) = (message.clone(), stations.clone());
            let (news, pool) = (news.clone(), pool.clone());
            async move {
                match message {
                    Message::News(_, told, _) => news.concerns(&pool, &stations, &told).await,
                    Message::Resync(_) => true,
                    Message::Standing(_) | Message::Ended(_) => false,
                }
            }
        })
        .map(|_| Ok(Event::default().event("changed").data("{}")))
        .take_until(revoked(app.pool.clone(), headers))
        .take_until(app.shutdown.clone().cancelled_owned())
        .take_until(tokio::time::sleep(STREAM_AT_MOST));
    Ok(Sse::new(events).keep_alive(KeepAlive::new().interval(KEPT_ALIVE)))
}
