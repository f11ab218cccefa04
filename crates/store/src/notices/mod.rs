//! Notices: raised with what they tell of, listed under a bell, sent by mail and to other programs.

mod deliver;
mod list;
mod raise;
mod webhooks;
mod wishes;

pub use deliver::{Due, Letter, To, due, failed, sent};
pub use list::{Bell, NotedPoint, NoticeView, bell, seen};
pub(crate) use raise::{About, NewNotice, raise};
pub use webhooks::{Webhook, WebhookView, change_webhook, set_up_webhook, webhooks};
pub use wishes::{Wishes, choose, wishes};
