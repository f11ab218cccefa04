//! Tries to sign in: where they come from, how they are counted, whether they fit.

use std::net::IpAddr;

use axum_extra::extract::CookieJar;
use chrono::Utc;
use quality::trail::{Action, Deed};
use serde_json::{Value, json};
use store::access::Try;
use store::people::Person;
use store::terminals::PinTry;
use uuid::Uuid;

use super::cookie::hash_of;
use crate::app::App;
use crate::client::place;
use crate::failure::Failure;
use crate::gate::{Lane, Passage, too_many_tries};
use crate::problem::Problem;

/// A longer password is not hashed; hashing is made to be costly.
const PASSWORD_AT_MOST: usize = 200;

/// Nor is a longer PIN.
const PIN_AT_MOST: usize = 16;

/// Where somebody tries to sign in.
pub(crate) struct Origin {
    pub address: IpAddr,
    /// Hash of the terminal's cookie.
    pub terminal: Option<Vec<u8>>,
}

/// Where tries are counted, and a place in the queue there.
pub(crate) struct Heard {
    pub place: String,
    _passage: Passage,
}

impl Origin {
    /// An address, and the terminal whose cookie came along.
    pub(crate) fn of(address: IpAddr, jar: &CookieJar) -> Self {
        Self { address, terminal: hash_of(jar) }
    }

    /// Takes a place in the queue. At a terminal that knows `login` (or, without one, anybody) tries are
    /// counted apart, so that nobody elsewhere can make its people wait.
    pub(crate) async fn enter(&self, app: &App, login: Option<&str>) -> Result<Heard, Problem> {
        let known = match &self.terminal {
            Some(terminal) if store::terminals::knows(&app.pool, terminal, login).await? => Some(terminal),
            _ => None,
        };
        let (lane, place) = match known {
            Some(terminal) => (Lane::Known, format!("terminal {}", hex::encode(&terminal[..8]))),
            None => (Lane::Place(place(self.address)), place(self.address).to_string()),
        };
        Ok(Heard { place, _passage: app.gate.enter(lane)? })
    }
}

impl Heard {
    /// A try of `name`, unless there were too many. It counts as one that does not fit until it is taken back.
    pub(crate) async fn begin_try(&self, app: &App, name: &str) -> Result<i64, Problem> {
        match store::access::begin_try(&app.pool, name, &self.place, Utc::now()).await? {
            Try::Heard(id) => Ok(id),
            Try::Wait(wait) => Err(too_many_tries(wait.num_seconds().max(0) + 1).into()),
        }
    }

    /// Tells the trail that a try did not fit: whose name it was, if anybody's, and what was shown.
    pub(crate) async fn failed(&self, app: &App, person: Option<Uuid>, mut shown: Value) -> Result<(), Problem> {
        shown["place"] = json!(self.place);
        let deed = Deed::new(Utc::now(), None, Action::SignInFailed, person.unwrap_or_default(), &shown);
        Ok(store::access::record(&app.pool, deed).await?)
    }
}

/// The person whose name and password these are.
pub(crate) async fn check_password(
    app: &App,
    login: &str,
    password: String,
    origin: &Origin,
) -> Result<Person, Problem> {
    let heard = origin.enter(app, Some(login)).await?;
    let this_try = heard.begin_try(app, login).await?;
    let known = store::people::credentials(&app.pool, login).await?;
    let (id, hash) = known.map(|known| (known.person, known.password_hash)).unzip();
    let password = password.chars().take(PASSWORD_AT_MOST).collect();
    let fits = app.passwords.fits(password, hash).await?;
    let person = match id {
        Some(id) if fits => store::people::find(&app.pool, id).await?,
        _ => None,
    };
    let Some(person) = person else {
        heard.failed(app, id, json!({"by": "password", "login": login})).await?;
        return Err(Failure::WrongSignIn {}.into());
    };
    store::access::try_fitted(&app.pool, this_try).await?;
    Ok(person)
}

/// Checks a PIN, which is heard at a terminal that knows the person alone. Five that do not fit, and only the password
/// helps.
pub(crate) async fn check_pin(app: &App, person: Uuid, pin: String, origin: &Origin) -> Result<(), Problem> {
    let heard = origin.enter(app, None).await?;
    let terminal = origin.terminal.as_deref().ok_or(Failure::UnknownHere {})?;
    match store::terminals::try_pin(&app.pool, terminal, person).await? {
        PinTry::Unknown => Err(Failure::UnknownHere {}.into()),
        PinTry::Blocked => Err(Failure::PinBlocked {}.into()),
        PinTry::Check(hash, tries_left) => {
            let pin = pin.chars().take(PIN_AT_MOST).collect();
            if !app.passwords.fits(pin, Some(hash)).await? {
                heard.failed(app, Some(person), json!({"by": "pin"})).await?;
                return Err(Failure::WrongPin { tries_left }.into());
            }
            Ok(store::terminals::pin_fitted(&app.pool, person).await?)
        }
    }
}
