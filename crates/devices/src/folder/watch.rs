//! A folder is looked at, time and again.

use std::time::{Duration, Instant};

use quality::device::{Reason, WatchedFolder};
use tokio::time::sleep;

use super::look::{Seen, files};
use super::root::Folders;
use super::take::Taker;
use crate::sink::Sink;

/// How often a folder is looked at.
const LOOKS_EVERY: Duration = Duration::from_secs(1);

/// Before a folder that cannot be read is counted as such again.
const NOT_THERE: Duration = Duration::from_secs(60);

/// Watches a folder for as long as it is this instance's turn.
pub(crate) async fn watch(sink: Sink, folders: Folders, link: WatchedFolder) {
    loop {
        let why = match folders.path(&link) {
            Some(path) => look(&Taker { sink: &sink, link: &link, folder: &path }).await,
            None => "no folder is set apart for tables".into(),
        };
        sink.refuse(Reason::Folder, &why).await;
        sleep(NOT_THERE).await;
    }
}

/// Takes what is whole until the folder cannot be read or written; gives why.
async fn look(taker: &Taker<'_>) -> String {
    let mut seen = Seen::default();
    loop {
        let there = match files(taker.folder).await {
            Ok(there) => there,
            Err(error) => return error.to_string(),
        };
        for (name, mark) in seen.whole(there, Instant::now()) {
            if let Err(error) = taker.take(&name, mark).await {
                return format!("{name}: {error}");
            }
        }
        sleep(LOOKS_EVERY).await;
    }
}
