//! Mail, by SMTP (RFC 5321) through the server of the installation.

use std::time::Duration;

use lettre::message::{Mailbox, Message};
use lettre::transport::smtp::AsyncSmtpTransport;
use lettre::{AsyncTransport, Tokio1Executor};
use uuid::Uuid;

/// The mail server does not take longer for a step than this.
const STEP_WITHIN: Duration = Duration::from_secs(10);

/// The mail server, and who the mail is from.
#[derive(Clone)]
pub struct Mail {
    server: AsyncSmtpTransport<Tokio1Executor>,
    from: Mailbox,
}

/// Why mail cannot be set up so.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum WrongMail {
    /// The address of the server.
    Server(String),
    /// Who the mail is from.
    From(String),
}

impl Mail {
    /// `server` as `smtp://host:port` (`?tls=required` or `?tls=opportunistic` for STARTTLS) or `smtps://host`, with
    /// `user:password@` where it asks for them; `from` as `Nuvek <nuvek@example.org>`.
    ///
    /// # Errors
    /// When either cannot be read.
    pub fn new(server: &str, from: &str) -> Result<Self, WrongMail> {
        let server = AsyncSmtpTransport::<Tokio1Executor>::from_url(server)
            .map_err(|error| WrongMail::Server(error.to_string()))?
            .timeout(Some(STEP_WITHIN))
            .build();
        let from = from.parse().map_err(|error| WrongMail::From(format!("{error}")))?;
        Ok(Self { server, from })
    }

    /// Sends one; why the server did not take it otherwise.
    pub(super) async fn send(
        &self,
        (name, email): (&str, &str),
        id: Uuid,
        subject: String,
        text: String,
    ) -> Result<(), String> {
        let address = email.parse().map_err(|error| format!("{email}: {error}"))?;
        let message = Message::builder()
            .from(self.from.clone())
            .to(Mailbox::new(Some(name.to_owned()), address))
            .subject(subject)
            // The same each time it is tried: a mailbox that has it already knows it again.
            .message_id(Some(format!("<{id}@{}>", self.from.email.domain())))
            .body(text)
            .map_err(|error| error.to_string())?;
        self.server.send(message).await.map(|_| ()).map_err(|error| error.to_string())
    }
}
