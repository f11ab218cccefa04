//! A folder that another program writes tables into.

use serde::{Deserialize, Serialize};
use uuid::Uuid;

use crate::field::{Allowed, LIST_AT_MOST, WrongField, broken};

/// A folder that is watched: each table in it is brought into a characteristic by a kept recipe.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct WatchedFolder {
    /// Its name, below the folder that the installation sets apart for tables.
    pub folder: String,
    /// The kept recipe that its tables are read by.
    pub recipe: Uuid,
    /// What their samples are brought into.
    pub characteristic: Uuid,
    /// All its tables are this one list, each longer than the one before; each is a list of its own where left out.
    pub list: Option<String>,
    /// Tags of the tables that are left out.
    #[serde(default)]
    pub without_tags: Vec<String>,
    /// What is right is brought in, whatever is refused; otherwise a table is taken whole or not at all.
    #[serde(default)]
    pub only_right: bool,
    /// Samples follow their rows: where a row that was brought in from here says something else, its sample is corrected.
    #[serde(default)]
    pub follows: bool,
}

/// Longest name of a folder, in characters.
const FOLDER_AT_MOST: usize = 80;

/// Longest name of a list, in characters.
const LIST_NAME_AT_MOST: usize = 200;

impl WatchedFolder {
    pub(super) fn wrong(&self) -> Vec<WrongField> {
        let folder = is_folder_name(&self.folder);
        let is_name = |name: &String| {
            (1..=LIST_NAME_AT_MOST).contains(&name.chars().count()) && !name.chars().any(char::is_control)
        };
        broken([
            ("folder", folder, Allowed::FolderName { most: FOLDER_AT_MOST }),
            ("list", self.list.iter().all(is_name), Allowed::Text { most: LIST_NAME_AT_MOST }),
            ("without_tags", self.without_tags.len() <= LIST_AT_MOST, Allowed::Names { most: LIST_AT_MOST }),
        ])
    }
}

/// One step down and nowhere else: no way up, no hidden folder, nothing that a system reads otherwise.
pub fn is_folder_name(name: &str) -> bool {
    let signs = |c: char| c.is_ascii_alphanumeric() || matches!(c, '-' | '_' | '.');
    (1..=FOLDER_AT_MOST).contains(&name.len()) && name.chars().all(signs) && !name.starts_with('.')
}
