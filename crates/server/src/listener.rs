//! Listens to PostgreSQL's notifications, and hands them to every open stream of this instance.

use std::time::Duration;

use futures::{Stream, StreamExt};
use sqlx::PgPool;
use sqlx::postgres::PgListener;
use tokio::sync::broadcast;
use tokio_stream::wrappers::BroadcastStream;
use tokio_util::sync::CancellationToken;
use tower_sessions::session::Id;

/// How many messages a slow stream may fall behind before it is told to look at everything again.
const BEHIND_AT_MOST: usize = 256;

/// What streams are told.
#[derive(Debug, Clone)]
pub enum Message {
    /// News, as JSON text.
    News(String),
    /// A session of this instance has ended, and its streams with it.
    Ended(Id),
    /// Something may have been missed.
    Resync,
}

/// Hands news to every open stream of this instance.
#[derive(Clone)]
pub struct Listener(broadcast::Sender<Message>);

impl Listener {
    /// Starts listening on the database.
    pub fn start(pool: PgPool, shutdown: CancellationToken) -> Self {
        let (sender, _) = broadcast::channel(BEHIND_AT_MOST);
        let told = Self(sender);
        let listening = told.clone();
        tokio::spawn(async move { shutdown.run_until_cancelled(listening.listen(pool)).await });
        told
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

    pub fn messages(&self) -> impl Stream<Item = Message> + use<> {
        BroadcastStream::new(self.0.subscribe()).map(|message| message.unwrap_or(Message::Resync))
    }
}
