//! People who are added from the command line, by whoever may write to the database.

use std::io::{BufRead, IsTerminal, stdin};

use anyhow::{Context, Result, bail};
use chrono::Utc;
use quality::account::Account;
use quality::password::{PASSWORD_AT_LEAST, check_password};
use quality::role::Role;
use store::StoreError;
use store::people::NewPerson;

use crate::serve;

/// A role by its name, as it is typed.
pub fn role(typed: &str) -> Result<Role, String> {
    let known = [Role::Technician, Role::Supervisor, Role::Engineer, Role::Administrator];
    let word = |role: &Role| serde_json::to_value(role).ok().and_then(|word| Some(word.as_str()?.to_owned()));
    let names: Vec<String> = known.iter().filter_map(word).collect();
    let found = known.into_iter().find(|role| word(role).as_deref() == Some(typed));
    found.ok_or_else(|| format!("one of {}", names.join(", ")))
}

/// Adds a person, to a database that is up to date afterwards.
pub async fn add(database: &str, login: &str, name: &str, role: Role) -> Result<()> {
    let password = password()?;
    if check_password("password", login, &password).is_err() {
        bail!(
            "the password has at least {PASSWORD_AT_LEAST} characters, does not hold the sign-in, and is not what many \
             people take"
        );
    }
    let hash = server::hash_password(&password).map_err(|error| anyhow::anyhow!(error))?;
    let pool = serve::connect_as_owner(database).await?;
    let account = Account::everywhere(name, role);
    let new = NewPerson { login, account, password_hash: &hash, password_is_first: false };
    match store::people::add(&pool, new, None, Utc::now()).await {
        Ok(_) => println!("{name} signs in as {}.", login.trim().to_lowercase()),
        Err(StoreError::SetUp(_)) => bail!("somebody signs in as {login} already"),
        Err(StoreError::Field(wrong)) => bail!("{}: 1 to 80 characters", wrong.field),
        Err(error) => return Err(error.into()),
    }
    Ok(())
}

/// The password: asked for twice at a terminal, the first line of what comes in anywhere else.
fn password() -> Result<String> {
    if !stdin().is_terminal() {
        let mut line = String::new();
        stdin().lock().read_line(&mut line).context("no password on standard input")?;
        return Ok(line.trim_end_matches(['\r', '\n']).to_owned());
    }
    let password = rpassword::prompt_password("Password: ")?;
    if rpassword::prompt_password("Once more: ")? != password {
        bail!("they differ");
    }
    Ok(password)
}
