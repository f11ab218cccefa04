//! Devices that are where the server does not connect.

use std::time::Duration;

use quality::device::Reason;
use tokio::time::sleep;

use crate::networks::NotThere;
use crate::sink::Sink;

/// Before a host that is not known is looked for again.
const AGAIN: Duration = Duration::from_secs(1);

/// Before an address that is not allowed is looked at again: its name may stand for another by then.
const NOT_ALLOWED: Duration = Duration::from_secs(60);

/// Says that a device is where the server does not connect, and lets some time pass.
pub(crate) async fn not_there(sink: &Sink, why: NotThere) {
    match why {
        NotThere::Unknown => sleep(AGAIN).await,
        NotThere::Elsewhere(host) => {
            sink.refuse(Reason::AddressNotAllowed, &host.to_string()).await;
            sleep(NOT_ALLOWED).await;
        }
    }
}
