//! Passwords and PINs, hashed and checked.

use std::sync::LazyLock;

use argon2::Argon2;
use argon2::password_hash::phc::PasswordHash;
use argon2::password_hash::{PasswordHasher, PasswordVerifier};

use crate::problem::Problem;

/// Passwords checked at once. Each takes about 20 MB, which the allocator keeps for its thread.
const CHECKED_AT_ONCE: usize = 2;

/// What an unknown name is checked against, so that the answer takes the same time. An empty hash never matches; it would
/// only make unknown names answer faster.
static NOBODY: LazyLock<String> = LazyLock::new(|| hash_password("nobody").unwrap_or_default());

/// Checks passwords, a few at a time and on threads of their own.
pub struct Passwords {
    threads: rayon::ThreadPool,
}

/// Argon2id with the recommended parameters and a fresh salt, as a PHC string.
///
/// # Errors
/// When the system has no random numbers.
pub fn hash_password(password: &str) -> Result<String, String> {
    Argon2::default().hash_password(password.as_bytes()).map(|hash| hash.to_string()).map_err(|e| e.to_string())
}

impl Passwords {
    /// With its threads waiting.
    ///
    /// # Errors
    /// When the system has no threads left.
    pub fn new() -> Result<Self, rayon::ThreadPoolBuildError> {
        // Whoever waits for what panicked is told that the server failed.
        let threads = rayon::ThreadPoolBuilder::new().num_threads(CHECKED_AT_ONCE).panic_handler(|_| {}).build()?;
        // The first unknown name is not to wait for it.
        LazyLock::force(&NOBODY);
        Ok(Self { threads })
    }

    async fn aside<T: Send + 'static>(&self, work: impl FnOnce() -> T + Send + 'static) -> Result<T, Problem> {
        let (tell, told) = tokio::sync::oneshot::channel();
        self.threads.spawn(move || {
            let _ = tell.send(work());
        });
        told.await.map_err(|error| Problem::internal(&error))
    }

    /// As [`hash_password`], off the runtime and a few at a time.
    pub(crate) async fn hash(&self, password: String) -> Result<String, Problem> {
        self.aside(move || hash_password(&password)).await?.map_err(|error| Problem::internal(&error))
    }

    pub(crate) async fn fits(&self, password: String, hash: Option<String>) -> Result<bool, Problem> {
        let exists = hash.is_some();
        let hash = hash.unwrap_or_else(|| NOBODY.clone());
        let fits = self.aside(move || {
            PasswordHash::new(&hash)
                .is_ok_and(|hash| Argon2::default().verify_password(password.as_bytes(), &hash).is_ok())
        });
        Ok(fits.await? && exists)
    }
}
