//! News as server-sent events, so that every instance on one database tells of what happened on the others.

use std::convert::Infallible;
use std::time::Duration;

use axum::Extension;
use axum::extract::State;
use axum::http::{HeaderMap, HeaderName};
use axum::response::Sse;
use axum::response::sse::{Event, KeepAlive};
use futures::{Stream, StreamExt};
use serde::Deserialize;
use sqlx::PgPool;
use store::people::Person;
use tower_sessions::Session;
use tower_sessions::session::Id;
use utoipa::IntoParams;
use uuid::Uuid;

use crate::app::App;
use crate::json::Query;
use crate::listener::LiveNews;
use crate::sessions;
use crate::told::Message;

/// A stream ends after this time. The browser connects again, and its session is looked at again.
pub(crate) const STREAM_AT_MOST: Duration = Duration::from_secs(600);

/// How often a stream looks whether its session goes on.
pub(crate) const ASKED_AGAIN: Duration = Duration::from_secs(10);

/// How often an idle stream says that it still stands.
pub(crate) const KEPT_ALIVE: Duration = Duration::from_secs(15);

/// Which number the answers of the interface bear: what is read then knows all that was told up to it.
pub(crate) const POSITION: HeaderName = HeaderName::from_static("news-position");

/// As the browser says by itself which event it heard last, when it connects again.
const LAST_HEARD: HeaderName = HeaderName::from_static("last-event-id");

/// From where on a stream tells.
#[derive(Debug, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct Since {
    /// A position: the least `news-position` of the answers that are kept up by this stream.
    since: Option<u64>,
}

impl From<Message> for Event {
    fn from(message: Message) -> Self {
        let event =
            |name: &str, position: u64, data: &str| Self::default().event(name).id(position.to_string()).data(data);
        match message {
            Message::News(position, _, json) => event("news", position, &json),
            Message::Standing(position) => event("standing", position, "{}"),
            Message::Resync(position) => event("resync", position, "{}"),
            // Never sent: the stream of that session ends, others pass it over.
            Message::Ended(_) => Self::default(),
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

/// News as it happens: `news` events carry a `LiveNews` object, in the order of their ids. A stream begins with `standing`
/// where all that was told since a position is still known, and tells it again (but offers, which are of their moment);
/// otherwise with `resync`, which says to look at everything again. The id that the browser heard last goes before `since`.
#[utoipa::path(get, path = "/api/live", tag = "live", params(Since),
    responses((status = 200, content_type = "text/event-stream", body = LiveNews)))]
pub async fn live(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    session: Session,
    headers: HeaderMap,
    Query(Since { since }): Query<Since>,
) -> Sse<impl Stream<Item = Result<Event, Infallible>>> {
    let heard = headers.get(LAST_HEARD).and_then(|heard| heard.to_str().ok()?.parse().ok());
    let own = session.id();
    let (news, pool) = (app.news.clone(), app.pool.clone());
    let kept_to = person.sees_only().map(<[Uuid]>::to_vec);
    let events = app
        .news
        .messages(heard.or(since))
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
                    (Message::News(_, told, _), Some(stations)) => news.concerns(&pool, &stations, &told).await,
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
