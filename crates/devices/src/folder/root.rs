//! Where watched folders are. What is set up in Plan names one of them, and can name nothing else on the machine.

use std::path::PathBuf;
use std::sync::Arc;

use quality::device::WatchedFolder;

/// The folder that the installation sets apart for tables. Default: none.
#[derive(Debug, Clone, Default)]
pub struct Folders(Option<Arc<PathBuf>>);

impl Folders {
    /// Below this one.
    pub fn below(root: PathBuf) -> Self {
        Self(Some(Arc::new(root)))
    }

    /// Where a watched folder is.
    pub(super) fn path(&self, link: &WatchedFolder) -> Option<PathBuf> {
        self.0.as_ref().map(|root| root.join(&link.folder))
    }
}
