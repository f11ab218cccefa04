//! News as server-sent events, from PostgreSQL's notifications, so that every instance on one
//! database tells of what happened on the others.

use std::convert::Infallible;
use std::time::Duration;

use axum::extract::State;
use axum::response::Sse;
use axum::response::sse::{Event, KeepAlive};
use futures::{Stream, StreamExt, stream};
use sqlx::PgPool;
use sqlx::postgres::PgListener;
use tokio::sync::broadcast;
use tokio_stream::wrappers::BroadcastStream;
use tokio_util::sync::CancellationToken;

use tower_sessions::Session;
use tower_sessions::session::Id;

use crate::{App, sessions};

/// A stream ends after this time. The browser connects again, and its session is looked at again.
const STREAM_AT_MOST: Duration = Duration::from_secs(600);

/// How often a stream looks whether its session goes on.
const ASKED_AGAIN: Duration = Duration::from_secs(10);

/// How many messages a slow stream may fall behind before it is told to look at everything again.
const BEHIND_AT_MOST: usize = 256;

/// What streams are told.
#[derive(Debug, Clone)]
enum Message {
    /// News, as JSON text.
    News(String),
    /// A session of this instance has ended, and its streams with it.
    Ended(Id),
    /// Something may have been missed.
    Resync,
}

/// Hands news to every open stream of this instance.
#[derive(Clone)]
pub struct Live(broadcast::Sender<Message>);

impl Live {
    /// Starts listening on the database.
    pub fn start(pool: PgPool, shutdown: CancellationToken) -> Self {
        let (sender, _) = broadcast::channel(BEHIND_AT_MOST);
        let live = Self(sender);
        let listening = live.clone();
        tokio::spawn(async move { shutdown.run_until_cancelled(listening.listen(pool)).await });
        live
    }

    /// Listens until the pool closes; a lost connection is made again, and streams are told that
    /// something may have been missed.
    async fn listen(&self, pool: PgPool) {
        loop {
            match self.listen_once(&pool).await {
                Err(sqlx::Error::PoolClosed) => return,
                Err(error) => tracing::warn!(%error, "listening for news failed; trying again"),
                Ok(()) => {}
            }
            self.tell(Message::Resync);
            tokio::time::sleep(Duration::from_secs(1)).await;
        }
    }

    async fn listen_once(&self, pool: &PgPool) -> Result<(), sqlx::Error> {
        let mut listener = PgListener::connect_with(pool).await?;
        listener.listen(store::news::CHANNEL).await?;
        loop {
            match listener.try_recv().await? {
                Some(notification) => self.tell(Message::News(notification.payload().to_owned())),
                // The listener has connected again; what was told in between is lost.
                None => self.tell(Message::Resync),
            }
        }
    }

    fn tell(&self, message: Message) {
        // Without any open stream there is nobody to tell.
        let _ = self.0.send(message);
    }

    /// Ends the streams of a session that was signed out.
    pub fn end(&self, session: Option<Id>) {
        if let Some(session) = session {
            self.tell(Message::Ended(session));
        }
    }

    fn messages(&self) -> impl Stream<Item = Message> + use<> {
        BroadcastStream::new(self.0.subscribe()).map(|message| message.unwrap_or(Message::Resync))
    }
}

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

/// News as it happens: `news` events carry a `News` object; `resync` says to look at everything
/// again. A stream begins with `resync`, since what happened before it is not repeated.
#[utoipa::path(get, path = "/api/live", tag = "live",
    responses((status = 200, content_type = "text/event-stream", body = store::news::News)))]
pub async fn live(State(app): State<App>, session: Session) -> Sse<impl Stream<Item = Result<Event, Infallible>>> {
    let own = session.id();
    let messages = stream::once(async { Message::Resync }).chain(app.live.messages());
    let events = messages
        .take_while(move |message| {
            let ended = matches!(message, Message::Ended(session) if Some(*session) == own);
            async move { !ended }
        })
        .filter(|message| {
            let shown = !matches!(message, Message::Ended(_));
            async move { shown }
        })
        .map(|message| Ok(message.into()))
        .take_until(ended(app.pool.clone(), own))
        .take_until(app.shutdown.clone().cancelled_owned())
        .take_until(tokio::time::sleep(STREAM_AT_MOST));
    Sse::new(events).keep_alive(KeepAlive::new().interval(Duration::from_secs(15)))
}
