//! Tables in watched folders, fetched by hand: one that was refused gets its shape as one that was sent.

use std::io;
use std::path::PathBuf;

use axum::extract::State;
use axum::http::StatusCode;
use axum::{Extension, Json};
use chrono::{DateTime, Utc};
use formats::shape::BYTES_AT_MOST;
use quality::device::is_folder_name;
use quality::object::ObjectKind;
use serde::{Deserialize, Serialize};
use store::imports::ImportFileView;
use store::people::Person;
use tokio::fs;
use utoipa::ToSchema;

use crate::app::App;
use crate::failure::Failure;
use crate::json::Body;
use crate::problem::Problem;

/// What became of a table in a watched folder.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum FolderPlace {
    /// It waits to be taken.
    Waiting,
    /// It was brought in.
    Done,
    /// It was not.
    Refused,
}

impl FolderPlace {
    const ALL: [Self; 3] = [Self::Refused, Self::Waiting, Self::Done];

    fn below(self) -> &'static str {
        match self {
            Self::Waiting => "",
            Self::Done => "done",
            Self::Refused => "refused",
        }
    }
}

/// A table in a watched folder, by its name.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct FolderTable {
    /// The folder, below the one that the installation sets apart for tables.
    folder: String,
    place: FolderPlace,
    /// Its file.
    name: String,
}

/// A table in a watched folder, as it stands there.
#[derive(Debug, Serialize, ToSchema)]
pub struct FolderTableView {
    #[serde(flatten)]
    table: FolderTable,
    bytes: u64,
    /// When it was last written.
    written_at: DateTime<Utc>,
}

/// Tables that are listed.
const LISTED: usize = 100;

/// One step down and nowhere else; no report, and nothing that is still written by its name.
fn is_table(name: &str) -> bool {
    !name.starts_with('.')
        && !name.contains(['/', '\\'])
        && ![".part", ".tmp", "~", ".report.json"].iter().any(|end| name.ends_with(end))
}

async fn of_place(root: &std::path::Path, folder: &str, place: FolderPlace) -> Vec<FolderTableView> {
    let mut tables = vec![];
    // A folder that was never used is none.
    let Ok(mut entries) = fs::read_dir(root.join(folder).join(place.below())).await else { return tables };
    while let Ok(Some(entry)) = entries.next_entry().await {
        let Ok(name) = entry.file_name().into_string() else { continue };
        // What a link points to is not of this folder.
        let Ok(meta) = fs::symlink_metadata(entry.path()).await else { continue };
        if let (true, true, Ok(written)) = (meta.is_file(), is_table(&name), meta.modified()) {
            let table = FolderTable { folder: folder.into(), place, name };
            tables.push(FolderTableView { table, bytes: meta.len(), written_at: written.into() });
        }
    }
    tables
}

/// Tables in the folders below the one that the installation sets apart for them, the newest first; none where there is
/// no such folder.
#[utoipa::path(get, path = "/api/data/folders", tag = "data", responses((status = 200, body = [FolderTableView])))]
pub async fn folder_tables(State(app): State<App>) -> Result<Json<Vec<FolderTableView>>, Problem> {
    let mut tables = vec![];
    let Some(root) = &app.settings.tables else { return Ok(Json(tables)) };
    if let Ok(mut entries) = fs::read_dir(root).await {
        while let Ok(Some(entry)) = entries.next_entry().await {
            let Ok(folder) = entry.file_name().into_string() else { continue };
            for place in FolderPlace::ALL.into_iter().filter(|_| is_folder_name(&folder)) {
                tables.extend(of_place(root, &folder, place).await);
            }
        }
    }
    tables.sort_by(|a, b| b.written_at.cmp(&a.written_at).then_with(|| a.table.name.cmp(&b.table.name)));
    tables.truncate(LISTED);
    Ok(Json(tables))
}

/// Takes a copy of a table in a watched folder, as if it had been sent; it stays where it is.
#[utoipa::path(post, path = "/api/data/folders", tag = "data", request_body = FolderTable, responses(
    (status = 201, body = ImportFileView), (status = 404, body = Problem, description = "`missing`"),
    (status = 422, body = Problem, description = "`recipe_refused`: it is larger than what can be read")))]
pub async fn fetch_table(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Body(FolderTable { folder, place, name }): Body<FolderTable>,
) -> Result<(StatusCode, Json<ImportFileView>), Problem> {
    let gone = || Failure::Missing { object: ObjectKind::File };
    let root = app.settings.tables.as_ref().filter(|_| is_folder_name(&folder) && is_table(&name)).ok_or_else(gone)?;
    let path = root.join(folder).join(place.below()).join(&name);
    let content = content(path).await.map_err(|_| gone())??;
    let kept = store::imports::keep_file(&app.pool, &name, &content, (person.id, Utc::now())).await?;
    Ok((StatusCode::CREATED, Json(kept)))
}

async fn content(path: PathBuf) -> io::Result<Result<Vec<u8>, Failure>> {
    let meta = fs::symlink_metadata(&path).await?;
    if !meta.is_file() {
        return Err(io::ErrorKind::NotFound.into());
    }
    if meta.len() > BYTES_AT_MOST as u64 {
        let (given, allowed) = (format!("{} bytes", meta.len()), format!("at most {BYTES_AT_MOST} bytes"));
        return Ok(Err(Failure::RecipeRefused { path: "read".into(), given, allowed }));
    }
    Ok(Ok(fs::read(path).await?))
}
