//! Devices: what they are, whether they are heard, what of theirs was refused.

mod heard;
mod offers;
mod samples;
mod setup;
mod stream;
mod view;

pub use heard::{heard, refuse};
pub use offers::{NewOffer, Offer, offer, open_offers, take};
pub use samples::{DeviceSample, reason_of, save_batch};
pub use setup::{NewDevice, add, change, revoke};
pub use stream::{StepAt, step};
pub use view::{Device, DeviceRefusal, DeviceStation, DeviceView, by_token, linked, list};
