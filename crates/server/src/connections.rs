//! Connections: so many at once, none that says nothing, and an end that comes.

use std::collections::HashMap;
use std::net::{IpAddr, SocketAddr};
use std::sync::{Arc, Mutex, PoisonError};
use std::time::Duration;

use axum::Router;
use hyper::server::conn::http1;
use hyper_util::rt::{TokioIo, TokioTimer};
use hyper_util::server::graceful::GracefulShutdown;
use hyper_util::service::TowerToHyperService;
use rustix::process::{Resource, getrlimit};
use tokio::net::{TcpListener, TcpStream};
use tokio::sync::{OwnedSemaphorePermit, Semaphore};
use tokio_util::sync::CancellationToken;
use tower::Service;

use crate::client::place;
use crate::settings::Settings;

/// Who has not sent a whole request header by then is cut off; so is a connection that waits idle.
const HEADER_WITHIN: Duration = Duration::from_secs(15);

/// Requests under way have so long to end when the server stops.
const STOP_WITHIN: Duration = Duration::from_secs(10);

/// Files that are no connections: the pool's, devices', the program's own.
const OTHER_FILES: u64 = 64;

/// More are of no use: it is one machine.
const MOST: u64 = 10_000;

/// Connections open at once, by what the limit of open files leaves.
fn by_open_files() -> usize {
    let files = getrlimit(Resource::Nofile).current.unwrap_or(MOST);
    usize::try_from(files.saturating_sub(OTHER_FILES).clamp(16, MOST)).unwrap_or(16)
}

/// Connections of each place.
#[derive(Default)]
struct Open(Mutex<HashMap<IpAddr, usize>>);

/// One connection's share of what may be open, until it is dropped.
struct Share {
    open: Arc<Open>,
    place: IpAddr,
    _permit: OwnedSemaphorePermit,
}

impl Open {
    /// Half of all is for others, however many connections one place opens.
    fn enter(self: &Arc<Self>, place: IpAddr, most: usize, permit: OwnedSemaphorePermit) -> Option<Share> {
        let mut open = self.0.lock().unwrap_or_else(PoisonError::into_inner);
        let here = open.entry(place).or_default();
        if *here >= most {
            return None;
        }
        *here += 1;
        Some(Share { open: Arc::clone(self), place, _permit: permit })
    }
}

impl Drop for Share {
    fn drop(&mut self) {
        let mut open = self.open.0.lock().unwrap_or_else(PoisonError::into_inner);
        if let Some(here) = open.get_mut(&self.place) {
            *here -= 1;
            if *here == 0 {
                open.remove(&self.place);
            }
        }
    }
}

/// Accepts and serves connections until `shutdown`.
pub async fn serve(listener: TcpListener, router: Router, settings: Arc<Settings>, shutdown: CancellationToken) {
    let most = settings.connections.unwrap_or_else(by_open_files);
    let (free, open) = (Arc::new(Semaphore::new(most)), Arc::new(Open::default()));
    let graceful = GracefulShutdown::new();
    let mut services = router.into_make_service_with_connect_info::<SocketAddr>();
    loop {
        let accepted = shutdown.run_until_cancelled(accept(&listener, &free)).await;
        let Some((stream, peer, permit)) = accepted else { break };
        // A proxy brings everybody.
        let here = if settings.trusts(peer.ip()) { most } else { most.div_ceil(2) };
        let Some(share) = open.enter(place(peer.ip()), here, permit) else { continue };
        let Ok(service) = services.call(peer).await;
        let connection = http1::Builder::new()
            .timer(TokioTimer::new())
            .header_read_timeout(HEADER_WITHIN)
            .serve_connection(TokioIo::new(stream), TowerToHyperService::new(service));
        let connection = graceful.watch(connection);
        tokio::spawn(async move {
            if let Err(error) = connection.await {
                tracing::debug!(%error, %peer, "a connection ended");
            }
            drop(share);
        });
    }
    drop(listener);
    if tokio::time::timeout(STOP_WITHIN, graceful.shutdown()).await.is_err() {
        tracing::warn!("requests were still under way at the end, and are given up");
    }
}

/// The next connection, once there is room for one. Whoever waits until then waits in the system's queue.
async fn accept(listener: &TcpListener, free: &Arc<Semaphore>) -> (TcpStream, SocketAddr, OwnedSemaphorePermit) {
    loop {
        let Ok(permit) = Arc::clone(free).acquire_owned().await else { std::future::pending().await };
        match listener.accept().await {
            Ok((stream, peer)) => {
                stream.set_nodelay(true).ok();
                return (stream, peer, permit);
            }
            Err(error) => {
                // As when the system has no files left: a moment later it may have.
                tracing::warn!(%error, "a connection could not be accepted");
                tokio::time::sleep(Duration::from_millis(200)).await;
            }
        }
    }
}
