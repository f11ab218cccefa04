//! Giving up what nobody waits for any more. Long work looks now and then whether it is still wanted.

use crate::wrong_request::{Need, WrongRequest};

use std::cell::RefCell;
use std::sync::Arc;
use std::sync::atomic::{AtomicBool, Ordering};

thread_local! {
    static UNWANTED: RefCell<Option<Arc<AtomicBool>>> = const { RefCell::new(None) };
}

/// Does `work` on this thread, which is given up soon after `unwanted` becomes true.
pub fn until<T>(unwanted: Arc<AtomicBool>, work: impl FnOnce() -> T) -> T {
    /// The thread may do other work later, also when this one panics.
    struct Forget;
    impl Drop for Forget {
        fn drop(&mut self) {
            UNWANTED.set(None);
        }
    }
    UNWANTED.set(Some(unwanted));
    let _forget = Forget;
    work()
}

/// Whether to go on.
///
/// # Errors
/// When the work is no longer wanted.
pub(crate) fn check() -> Result<(), WrongRequest> {
    let unwanted = UNWANTED.with_borrow(|unwanted| unwanted.as_ref().is_some_and(|it| it.load(Ordering::Relaxed)));
    if unwanted { Err(WrongRequest::new("request", "given up", Need::SomebodyWaiting)) } else { Ok(()) }
}
