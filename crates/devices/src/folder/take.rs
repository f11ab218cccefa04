//! One table: read, brought in, reported on, moved away. The move comes last: a table whose server ends in the middle is
//! taken again by the next one, which knows its rows.

use std::io;
use std::path::Path;
use std::sync::Arc;
use std::time::Duration;

use chrono::Utc;
use formats::shape::{BYTES_AT_MOST, WrongRecipe};
use intake::{Asked, ReadTable};
use quality::device::{Reason, WatchedFolder};
use quality::import::{ImportSource, ImportTimes};
use quality::role::Role;
use quality::run::RunRefusal;
use sha2::{Digest, Sha256};
use store::characteristics;
use store::imports::{Import, ImportState, Started, correct_rows, import, imports_of, known, start};
use store::recipes;
use store::{StoreError, sites};
use tokio::fs;
use tokio::time::sleep;
use uuid::Uuid;

use super::look::Mark;
use super::report::Report;
use super::table::Table;
use crate::sink::{Sink, insist};

/// How often an import that is judged aside is looked at.
const LOOKS_EVERY: Duration = Duration::from_millis(300);

/// Takes the tables of a folder.
pub(super) struct Taker<'a> {
    pub sink: &'a Sink,
    pub link: &'a WatchedFolder,
    pub folder: &'a Path,
}

impl Taker<'_> {
    /// Takes a table that is whole. What was written on while it was taken stays, and is taken when it is whole again.
    ///
    /// # Errors
    /// When the folder cannot be read or written, or the database fails for good.
    pub async fn take(&self, name: &str, mark: Mark) -> io::Result<()> {
        let path = self.folder.join(name);
        let content = if mark.bytes > BYTES_AT_MOST as u64 { vec![] } else { fs::read(&path).await? };
        let digest = hex::encode(Sha256::digest(&content));
        let pool = &self.sink.pool;
        let fault = |error: StoreError| io::Error::other(error.to_string());
        let recipe = insist(|| recipes::recipe(pool, self.link.recipe)).await.map_err(fault)?;
        let setup = insist(|| characteristics::find(pool, self.link.characteristic)).await.map_err(fault)?;
        let table = Table { name, content: content.into(), digest, recipe, setup };
        let report = self.bring_in(table, mark).await.map_err(fault)?;
        let now = fs::metadata(&path).await?;
        if (Mark { bytes: now.len(), written: now.modified()? }) != mark {
            return Ok(());
        }
        self.put_away(&path, name, &report).await?;
        match report.refused {
            None => self.sink.heard(report.stored()).await,
            Some(reason) => self.sink.refuse(reason, name).await,
        }
        Ok(())
    }

    fn list<'n>(&'n self, name: &'n str) -> ImportSource<'n> {
        let list = self.link.list.as_deref().unwrap_or(name);
        ImportSource { name: list, characteristic: self.link.characteristic }
    }

    async fn bring_in(&self, table: Table<'_>, mark: Mark) -> Result<Report, StoreError> {
        let list = self.list(table.name);
        let mut report = Report::of(&table, (self.sink.device.name.clone(), list.name.to_owned()));
        if !self.sink.may_send_for(table.setup.station_id) {
            return Ok(report.refused(Reason::OtherStation));
        }
        if mark.bytes > BYTES_AT_MOST as u64 {
            return Ok(report.refused(Reason::Table));
        }
        let read = match self.read(&table).await? {
            Err(wrong) => {
                report.wrong_recipe = Some(wrong);
                return Ok(report.refused(Reason::Table));
            }
            Ok(read) => Arc::new(read),
        };
        report.read(&read);
        if let Some(reason) = report.first_reason().filter(|_| !self.link.only_right) {
            return Ok(report.refused(reason));
        }
        report.refused = self.import(&table, list, read.clone()).await?;
        if report.refused.is_none() && self.link.follows {
            report.corrected = self.follow(table.name, list, &read).await?;
        }
        let imports = insist(|| imports_of(&self.sink.pool, list, &table.digest)).await?;
        report.imports = imports.into_iter().map(Into::into).collect();
        Ok(report)
    }

    /// Imports what was read, and waits until it is there; gives why it is not.
    async fn import(
        &self,
        table: &Table<'_>,
        list: ImportSource<'_>,
        read: Arc<ReadTable>,
    ) -> Result<Option<Reason>, StoreError> {
        let pool = &self.sink.pool;
        // What the instance before has staged is not staged again.
        let begun = insist(|| imports_of(pool, list, &table.digest)).await?;
        let id = match begun.iter().find(|it| it.state == ImportState::Waiting) {
            Some(it) => it.id,
            None => {
                let import = Import {
                    characteristic: list.characteristic,
                    file: (table.name.into(), table.digest.clone()),
                    source: list.name.into(),
                    recipe: table.recipe.recipe.clone(),
                    key: table.recipe.key.clone(),
                    recipe_id: Some(self.link.recipe),
                    stated: None,
                    same_list: false,
                    person: self.sink.device.id,
                    at: Utc::now(),
                };
                match insist(|| self.start(&import, read.clone())).await {
                    Ok(id) => id,
                    Err(refusal) => return reason_of(refusal).map(Some),
                }
            }
        };
        loop {
            match insist(|| import(pool, id)).await?.state {
                ImportState::Done => return Ok(None),
                ImportState::Cancelled | ImportState::Failed => return Ok(Some(Reason::Refused)),
                ImportState::Staged | ImportState::Waiting => sleep(LOOKS_EVERY).await,
            }
        }
    }

    async fn start(&self, import: &Import, read: Arc<ReadTable>) -> Result<Uuid, StoreError> {
        let Started { id, left } = start(&self.sink.pool, import, read).await?;
        if let Some(left) = left {
            left.bring_in(&self.sink.pool).await?;
        }
        Ok(id)
    }

    /// Corrects samples whose rows say something else now; gives how many. What a person brought in or changed meanwhile
    /// is left as it is.
    async fn follow(&self, name: &str, list: ImportSource<'_>, read: &ReadTable) -> Result<usize, StoreError> {
        let pool = &self.sink.pool;
        let device = self.sink.device.clone().person(Role::Device);
        let reason = format!("{name}: {}", self.sink.device.name);
        let mut all = 0;
        loop {
            let changed =
                insist(|| async { Ok(known(&mut *pool.acquire().await?, list, read).await?.changed) }).await?;
            let corrected = correct_rows(pool, list, &changed, (&device, Utc::now()), &reason).await;
            match corrected {
                Ok(0) => return Ok(all),
                Ok(many) => all += many,
                Err(fault) if fault.is_fault() => return Err(fault),
                Err(refusal) => {
                    tracing::info!("{name} is not followed further: {refusal}");
                    return Ok(all);
                }
            }
        }
    }

    /// Reads it beside what else goes on.
    async fn read(&self, table: &Table<'_>) -> Result<Result<ReadTable, WrongRecipe>, StoreError> {
        let zone = insist(|| sites::calendar(&self.sink.pool)).await?.zone;
        let content = table.content.clone();
        let asked = Asked {
            recipe: table.recipe.recipe.clone(),
            key: table.recipe.key.clone(),
            without_tags: self.link.without_tags.clone(),
            list: self.list(table.name).name.to_owned(),
            into: (self.link.characteristic, table.setup.characteristic.clone()),
            times: ImportTimes { zone, stated: None },
            now: Utc::now(),
        };
        let work = move || intake::read(&content, asked);
        tokio::task::spawn_blocking(work).await.map_err(|error| StoreError::Corrupt(error.to_string()))
    }

    /// Writes the report and moves the table.
    async fn put_away(&self, path: &Path, name: &str, report: &Report) -> io::Result<()> {
        let to = self.folder.join(if report.refused.is_none() { "done" } else { "refused" });
        fs::create_dir_all(&to).await?;
        let moved = free(&to, name, &report.digest).await;
        let beside = |ending: &str| to.join(format!("{moved}.{ending}"));
        let json = serde_json::to_vec_pretty(report)?;
        fs::write(beside("report.tmp"), json).await?;
        fs::rename(beside("report.tmp"), beside("report.json")).await?;
        fs::rename(path, to.join(&moved)).await
    }
}

/// Its own name, or, where another table has taken it, the name with the beginning of its digest.
async fn free(to: &Path, name: &str, digest: &str) -> String {
    if !fs::try_exists(to.join(name)).await.unwrap_or(false) {
        return name.to_owned();
    }
    let short = &digest[..8];
    match name.rsplit_once('.') {
        Some((stem, ending)) => format!("{stem}.{short}.{ending}"),
        None => format!("{name}.{short}"),
    }
}

/// Why nothing of a table is kept, unless the fault is ours.
fn reason_of(refusal: StoreError) -> Result<Reason, StoreError> {
    match refusal {
        StoreError::AnotherList { .. } => Ok(Reason::AnotherList),
        StoreError::KnownOtherwise { .. } => Ok(Reason::KnownOtherwise),
        StoreError::Run(RunRefusal::InARun) => Ok(Reason::InARun),
        StoreError::EventThere => Ok(Reason::EventThere),
        fault if fault.is_fault() => Err(fault),
        _ => Ok(Reason::Refused),
    }
}
