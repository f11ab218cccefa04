//! News as server-sent events, so that every instance on one database tells of what happened on the others.

use std::convert::Infallible;
use std::time::Duration;

use axum::Extension;
use axum::extract::State;
use axum::response::Sse;
use axum::response::sse::{Event, KeepAlive};
use futures::{Stream, StreamExt, stream};
use sqlx::PgPool;
use store::people::Person;
use tower_sessions::Session;
use tower_sessions::session::Id;
use uuid::Uuid;

use crate::app::App;
use crate::listener::{LiveNews, Message};
use crate::sessions;

/// A stream ends after this time. The browser connects again, and its session is looked at again.
pub(crate) const STREAM_AT_MOST: Duration = Duration::from_secs(600);

/// How often a stream looks whether its session goes on.
pub(crate) const ASKED_AGAIN: Duration = Duration::from_secs(10);

/// How often an idle stream says that it still stands.
pub(crate) const KEPT_ALIVE: Duration = Duration::from_secs(15);

impl From<Message> for Event {
    fn from(message: Message) -> Self {
        match message {
            Message::News(json) => Event::default().event("news").data(json),
            // Never sent: the stream of that session ends, others pass it over.
            Message::Resync | Message::Ended(_) => Event::default().event("resync").data("{}"),
        }
    }
}

/// Waits until a session has ended: on another instance, in its time, or with its person.
async fn ended(pool: PgPool, session: Option<Id>) {
    loop {
        tokio::time::sleep(ASKED_AGAIN).await;
        // While the database is away nothing is told either.
        if let Ok(false) = sessions::goes_on(&pool, session).await {
            return;
        }
    }
}

/// News as it happens: `news` events carry a `LiveNews` object; `resync` says to look at everything
/// again. A stream begins with `resync`, since what happened before it is not repeated.
#[utoipa::path(get, path = "/api/live", tag = "live",
    responses((status = 200, content_type = "text/event-stream", body = LiveNews)))]
pub async fn live(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    session: Session,
) -> Sse<impl Stream<Item = Result<Event, Infallible>>> {
    let own = session.id();
    let (news, pool) = (app.news.clone(), app.pool.clone());
    let kept_to = person.sees_only().map(<[Uuid]>::to_vec);
    let messages = stream::once(async { Message::Resync }).chain(app.news.messages());
    let events = messages
        .take_while(move |message| {
            let ended = matches!(message, Message::Ended(session) if Some(*session) == own);
            async move { !ended }
        })
        .filter(move |message| {
            let (message, kept_to) = (message.clone(), kept_to.clone());
            let (news, pool) = (news.clone(), pool.clone());
            async move {
                match (message, kept_to) {
                    (Message::Ended(_), _) => false,
                    (Message::News(told), Some(stations)) => news.concerns(&pool, &stations, &told).await,
                    _ => true,
                }
            }
        })
        .map(|message| Ok(message.into()))
        .take_until(ended(app.pool.clone(), own))
        .take_until(app.shutdown.clone().cancelled_owned())
        .take_until(tokio::time::sleep(STREAM_AT_MOST));
    Sse::new(events).keep_alive(KeepAlive::new().interval(KEPT_ALIVE))
}
