//! A program that writes tables into a folder.

use std::io;
use std::path::PathBuf;
use std::time::Duration;

use chrono::{DateTime, Utc};
use tokio::fs;
use tokio::io::AsyncWriteExt;
use tokio::time::sleep;

use super::values::Values;

/// A logger that writes a table, time and again: `taken,value`, a line a minute up to now, in UTC.
#[derive(Debug, Clone)]
pub struct Tables {
    /// Where it writes.
    pub folder: PathBuf,
    /// What it logs.
    pub values: Values,
    /// Lines of a table.
    pub rows: u32,
    /// Between tables.
    pub every: Duration,
}

/// Between the two goes that a table is written in: a program may pause.
const PAUSE: Duration = Duration::from_secs(1);

impl Tables {
    /// Writes tables until it is dropped; `tell` hears the name of each.
    ///
    /// # Errors
    /// When it cannot write there.
    pub async fn run(&self, mut tell: impl FnMut(&str)) -> io::Result<()> {
        loop {
            let now = Utc::now();
            let name = format!("{}.csv", now.format("%Y%m%dT%H%M%S"));
            let table = self.table(now);
            let (first, rest) = table.split_at(table.len() / 2);
            let mut file = fs::File::create(self.folder.join(&name)).await?;
            file.write_all(first.as_bytes()).await?;
            file.flush().await?;
            sleep(PAUSE).await;
            file.write_all(rest.as_bytes()).await?;
            file.flush().await?;
            tell(&name);
            sleep(self.every).await;
        }
    }

    fn table(&self, now: DateTime<Utc>) -> String {
        let row = |back: u32| {
            let taken = now - chrono::Duration::minutes(i64::from(back));
            format!("{},{}\n", taken.format("%Y-%m-%d %H:%M"), self.values.next())
        };
        (0..self.rows).rev().map(row).fold("taken,value\n".to_owned(), |table, row| table + &row)
    }
}
