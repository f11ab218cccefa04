//! Connections of a device, whoever opens them.

use std::sync::Arc;
use std::time::Duration;

use quality::device::{Address, Opens, ResultMapping};
use tokio::net::{TcpListener, TcpStream};
use tokio::task::JoinSet;
use tokio::time::sleep;

use crate::{Sink, astm, gauge};

/// Before another try to connect or to listen.
const AGAIN: Duration = Duration::from_secs(1);

/// Connections at a time that a device may open: its own, and one that it has lost without a word.
const CONNECTIONS_AT_MOST: usize = 2;

/// What is spoken on a connection.
#[derive(Clone)]
pub(crate) enum Speech {
    Gauge,
    Analyser(Arc<[ResultMapping]>),
}

impl Speech {
    /// Speaks until the connection ends.
    async fn speak(self, sink: Sink, stream: TcpStream, opens: Opens) {
        let ended = match self {
            Self::Gauge => gauge::speak(&sink, stream).await,
            Self::Analyser(results) => astm::speak(&sink, &results, stream).await,
        };
        match (ended, opens) {
            // A device that opens a connection may close it when it has said all.
            (Ok(()), Opens::Device) => {}
            (Ok(()), Opens::Server) => sink.refuse("connection_lost", "").await,
            (Err(error), _) => sink.refuse("connection_lost", &error.to_string()).await,
        }
    }
}

/// Speaks with a device over one connection after another, until it is cancelled.
pub(crate) async fn meet(sink: Sink, address: Address, speech: Speech) {
    loop {
        match address.opens {
            Opens::Server => {
                if let Ok(stream) = TcpStream::connect(&address.at).await {
                    speech.clone().speak(sink.clone(), stream, address.opens).await;
                }
            }
            Opens::Device => match TcpListener::bind(&address.at).await {
                Ok(listener) => listen(&sink, &listener, &speech).await,
                Err(error) => tracing::warn!(%error, at = address.at, "cannot listen for a device"),
            },
        }
        sleep(AGAIN).await;
    }
}

async fn listen(sink: &Sink, listener: &TcpListener, speech: &Speech) {
    let mut open = JoinSet::new();
    while let Ok((stream, from)) = listener.accept().await {
        while open.try_join_next().is_some() {}
        if open.len() >= CONNECTIONS_AT_MOST {
            sink.refuse("too_many_connections", &from.to_string()).await;
            continue;
        }
        open.spawn(speech.clone().speak(sink.clone(), stream, Opens::Device));
    }
}
