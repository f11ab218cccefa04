//! Which tables of a folder are whole.

use std::collections::HashMap;
use std::io;
use std::path::Path;
use std::time::{Duration, Instant, SystemTime};

/// A table that has stayed as it is for so long is whole.
pub(super) const QUIET: Duration = Duration::from_secs(3);

/// How long a table is, and when it was last written: as long as both stay, nobody writes it.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) struct Mark {
    pub bytes: u64,
    pub written: SystemTime,
}

/// Tables of a folder, and since when each is as it is.
#[derive(Debug, Default)]
pub(super) struct Seen(HashMap<String, (Mark, Instant)>);

impl Seen {
    /// Takes what stands there now; gives what is whole, oldest first.
    pub fn whole(&mut self, files: Vec<(String, Mark)>, now: Instant) -> Vec<(String, Mark)> {
        self.0.retain(|name, _| files.iter().any(|(there, _)| there == name));
        let mut whole = vec![];
        for (name, mark) in files {
            let (before, since) = self.0.entry(name.clone()).or_insert((mark, now));
            if *before != mark {
                (*before, *since) = (mark, now);
            }
            if now.duration_since(*since) >= QUIET {
                whole.push((name, mark));
            }
        }
        whole.sort_by(|(a, x), (b, y)| (x.written, a).cmp(&(y.written, b)));
        whole
    }
}

/// Files of a folder but those that are under way by their names: hidden, `.part`, `.tmp`, or ending with `~`.
pub(super) async fn files(folder: &Path) -> io::Result<Vec<(String, Mark)>> {
    let mut files = vec![];
    let mut entries = tokio::fs::read_dir(folder).await?;
    while let Some(entry) = entries.next_entry().await? {
        // A name that is no text has no list that it could be.
        let Ok(name) = entry.file_name().into_string() else { continue };
        let under_way = name.starts_with('.') || [".part", ".tmp", "~"].iter().any(|end| name.ends_with(end));
        // It may be gone by now.
        let Ok(meta) = entry.metadata().await else { continue };
        if meta.is_file() && !under_way {
            files.push((name, Mark { bytes: meta.len(), written: meta.modified()? }));
        }
    }
    Ok(files)
}

#[cfg(test)]
mod tests {
    use super::*;

    fn file(name: &str, bytes: u64, written: u64) -> (String, Mark) {
        (name.into(), Mark { bytes, written: SystemTime::UNIX_EPOCH + Duration::from_secs(written) })
    }

    #[test]
    fn a_table_is_whole_when_nobody_wrote_it_for_a_while() {
        let (mut seen, begin) = (Seen::default(), Instant::now());
        let at = |seconds| begin + Duration::from_secs(seconds);
        assert_eq!(seen.whole(vec![file("b", 10, 9), file("a", 10, 5)], at(0)), []);
        assert_eq!(seen.whole(vec![file("b", 20, 9), file("a", 10, 5)], at(2)), []);
        assert_eq!(seen.whole(vec![file("b", 20, 9), file("a", 10, 5)], at(3)), [file("a", 10, 5)]);
        assert_eq!(seen.whole(vec![file("b", 20, 9), file("a", 10, 5)], at(5)), [file("a", 10, 5), file("b", 20, 9)]);
        // One that was written over at the same length is begun again, and so is one that was away.
        assert_eq!(seen.whole(vec![file("a", 10, 6)], at(6)), []);
        assert_eq!(seen.whole(vec![file("b", 20, 9)], at(7)), []);
    }
}
