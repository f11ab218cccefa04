//! A peer group, as it is set up.

use chrono::{DateTime, SubsecRound, Utc};
use serde::{Deserialize, Serialize};
use uuid::Uuid;

use crate::field::{Allowed, WrongField, all_unlike, name, web_address};

/// Levels of a group at most.
pub const LEVELS_AT_MOST: usize = 200;

/// Longest token, in characters.
pub const TOKEN_AT_MOST: usize = 500;

/// Other laboratories with the same control materials, and whoever compares them.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct PeerGroup {
    /// 1 to 80 characters, each once.
    pub name: String,
    /// What this laboratory is called there.
    pub laboratory: String,
    /// Where results go and statistics come from, by `http` or `https`; nothing where files are handed over.
    pub url: Option<String>,
    /// The levels whose results are given, each by the name it has there.
    pub levels: Vec<PeerLevel>,
    /// Results measured from then on are given.
    pub since: DateTime<Utc>,
    /// Is given what is reviewed.
    pub active: bool,
}

/// A level whose results are given.
#[derive(Debug, Clone, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct PeerLevel {
    /// The level's characteristic.
    pub characteristic: Uuid,
    /// What the group calls it, 1 to 80 characters.
    pub code: String,
}

impl PeerGroup {
    /// The group as it is kept: trimmed, its levels in one order.
    ///
    /// # Errors
    /// A field that cannot be as it is given; a level or a code twice, or no level at all.
    pub fn accept(mut self) -> Result<Self, WrongField> {
        self.name = name("name", &self.name)?;
        self.laboratory = name("laboratory", &self.laboratory)?;
        self.url = self.url.filter(|url| !url.trim().is_empty()).map(|url| web_address("url", &url)).transpose()?;
        for level in &mut self.levels {
            level.code = name("levels", &level.code)?;
        }
        self.levels.sort();
        // The precision that a time is kept with.
        self.since = self.since.trunc_subsecs(6);
        let (mut of, mut codes): (Vec<_>, Vec<_>) =
            self.levels.iter().map(|level| (level.characteristic, &level.code)).unzip();
        of.dedup();
        codes.sort();
        let unlike = of.len() == self.levels.len() && all_unlike(&codes);
        if !unlike || !(1..=LEVELS_AT_MOST).contains(&self.levels.len()) {
            return Err(WrongField::new("levels", Allowed::Entries { least: 1, most: LEVELS_AT_MOST }));
        }
        Ok(self)
    }
}

/// A token as it is kept: what this laboratory is known by where results go.
///
/// # Errors
/// When it is blank, too long, or could not stand in a header: anything but visible characters of ASCII.
pub fn token(given: &str) -> Result<String, WrongField> {
    let given = given.trim();
    let visible = given.chars().all(|c| c.is_ascii_graphic());
    if given.is_empty() || !visible || given.len() > TOKEN_AT_MOST {
        return Err(WrongField::new("token", Allowed::Text { most: TOKEN_AT_MOST }));
    }
    Ok(given.to_owned())
}
