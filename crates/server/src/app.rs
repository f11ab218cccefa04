//! What every handler can reach.

use std::sync::Arc;

use sqlx::PgPool;
use tokio_util::sync::CancellationToken;

use crate::analyses::Analyses;
use crate::gate::Gate;
use crate::listener::Listener;
use crate::passwords::Passwords;
use crate::settings::Settings;

/// What every handler can reach.
#[derive(Clone)]
pub struct App {
    pub(crate) pool: PgPool,
    pub(crate) settings: Arc<Settings>,
    pub(crate) news: Listener,
    pub(crate) passwords: Arc<Passwords>,
    pub(crate) gate: Arc<Gate>,
    pub(crate) analyses: Arc<Analyses>,
    pub(crate) shutdown: CancellationToken,
}

impl App {
    /// An application on a migrated database. It listens for news until `shutdown` or until the
    /// pool closes.
    ///
    /// # Errors
    /// When the system has no threads left.
    pub fn new(pool: PgPool, settings: Settings, shutdown: CancellationToken) -> std::io::Result<Self> {
        Ok(Self {
            news: Listener::start(pool.clone(), shutdown.clone()),
            pool,
            settings: Arc::new(settings),
            passwords: Arc::new(Passwords::new().map_err(std::io::Error::other)?),
            gate: Arc::default(),
            analyses: Arc::default(),
            shutdown,
        })
    }
}
