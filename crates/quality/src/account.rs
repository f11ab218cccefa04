//! Accounts: what part a person plays, and where.

use serde::{Deserialize, Serialize};
use thiserror::Error;
use uuid::Uuid;

use crate::field::{Allowed, WrongField, all_unlike, name};
use crate::role::Role;

/// Areas and stations of a person at most.
const PLACES_AT_MOST: usize = 200;

/// What an administrator says of a person.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Account {
    /// The name to show: 1 to 80 characters.
    pub name: String,
    /// The part the person plays.
    pub role: Role,
    /// Areas that they belong to; none in particular where neither areas nor stations are named. A reader sees these
    /// alone.
    pub areas: Vec<Uuid>,
    /// Stations that they belong to beside those of their areas.
    pub stations: Vec<Uuid>,
    /// Enters samples at their own stations alone: technicians.
    pub bound: bool,
}

impl Account {
    /// Of somebody who belongs nowhere in particular.
    pub fn everywhere(name: &str, role: Role) -> Self {
        Self { name: name.to_owned(), role, areas: vec![], stations: vec![], bound: false }
    }

    /// Takes it with its name trimmed and its places in order.
    ///
    /// # Errors
    /// When the name cannot be; when the role is no person's; when a place is named twice, or too many are; when a
    /// reader is given no area, or a station; when somebody is bound who is no technician or belongs nowhere.
    pub fn accept(mut self) -> Result<Self, WrongField> {
        self.name = name("name", &self.name)?;
        let reader = self.role == Role::Reader;
        let no_place = self.areas.is_empty() && self.stations.is_empty();
        let areas = Allowed::Entries { least: usize::from(reader), most: PLACES_AT_MOST };
        let stations = Allowed::Entries { least: 0, most: if reader { 0 } else { PLACES_AT_MOST } };
        let checks = [
            ("role", self.role != Role::Device, Allowed::RoleOfAPerson),
            ("areas", fits(&self.areas, areas), areas),
            ("stations", fits(&self.stations, stations), stations),
            ("bound", !self.bound || self.role == Role::Technician && !no_place, Allowed::BoundWhereTheyBelong),
        ];
        if let Some((field, _, allowed)) = checks.into_iter().find(|(_, holds, _)| !holds) {
            return Err(WrongField::new(field, allowed));
        }
        self.areas.sort();
        self.stations.sort();
        Ok(self)
    }
}

fn fits(places: &[Uuid], allowed: Allowed) -> bool {
    let Allowed::Entries { least, most } = allowed else { return false };
    (least..=most).contains(&places.len()) && all_unlike(places)
}

/// Why a step with an account is refused.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Error)]
pub enum AccountRefusal {
    /// Nobody would be left to look after people.
    #[error("nobody would be left to look after people")]
    LastAdministrator,
}

/// Whether an administrator may be taken from the people: `others` are those who would be left.
///
/// # Errors
/// When nobody would be.
pub fn may_lose_administrator(others: i64) -> Result<(), AccountRefusal> {
    if others > 0 { Ok(()) } else { Err(AccountRefusal::LastAdministrator) }
}
