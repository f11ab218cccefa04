//! What a question needs, read from one state of the data.

use chrono::{DateTime, Utc};
use quality::shift::Calendar;
use quality::study::{
    CapabilityQuestion, Counted, DefectsQuestion, DesignRules, DistributionQuestion, Known, Measure, OverTimeQuestion,
    Picked, Question, RuleSetsQuestion, SetPicked, SideBySideQuestion, Split, StudyRefusal, capability, defects,
    distribution, over_time, rule_sets, side_by_side,
};
use spc::rules::RuleSet;
use sqlx::PgConnection;

use super::count::count;
use super::found::{
    About, CapabilityFound, DefectsFound, DistributionFound, OverTimeFound, RuleSetsFound, SideBySideFound, StudyAnswer,
};
use super::pick::{known, pick};
use crate::characteristics::{self, CharacteristicView};
use crate::once::compiled_once;
use crate::{StoreError, rule_sets as named, sites};

/// A question with the data that answer it.
pub(super) enum Read {
    Capability(CapabilityQuestion, Box<CharacteristicView>, Vec<Picked>, Known),
    Distribution(DistributionQuestion, Box<CharacteristicView>, Vec<Picked>),
    Defects(DefectsQuestion, Box<CharacteristicView>, Counts),
    SideBySide(SideBySideQuestion, Vec<(CharacteristicView, Vec<Picked>)>),
    RuleSets(RuleSetsQuestion, Option<Box<CharacteristicView>>, Vec<RuleSet>),
    OverTime(OverTimeQuestion, Box<CharacteristicView>, Vec<Picked>, Calendar),
}

/// What was counted.
pub(super) struct Counts {
    whole: Counted,
    against: Option<Counted>,
    parts: Vec<(String, Counted)>,
}

impl Read {
    /// Reads it.
    #[compiled_once]
    pub async fn of(conn: &mut PgConnection, question: &Question) -> Result<Self, StoreError> {
        match question.clone() {
            Question::Capability(asked) => {
                let setup = characteristics::find(&mut *conn, asked.of.characteristic).await?;
                let picked = pick(&mut *conn, &setup, &asked.of, asked.split.as_ref()).await?;
                let known = known(conn, setup.id, &picked).await?;
                Ok(Self::Capability(asked, Box::new(setup), picked, known))
            }
            Question::Distribution(asked) => {
                let setup = characteristics::find(&mut *conn, asked.of.characteristic).await?;
                let picked = pick(conn, &setup, &asked.of, None).await?;
                Ok(Self::Distribution(asked, Box::new(setup), picked))
            }
            Question::Defects(asked) => {
                let setup = characteristics::find(&mut *conn, asked.of.characteristic).await?;
                let (whole, parts) = count(&mut *conn, &setup, &asked.of, asked.split.as_ref()).await?;
                let against = match &asked.against {
                    None => None,
                    Some(against) => {
                        let of = characteristics::find(&mut *conn, against.characteristic).await?;
                        Some(count(conn, &of, against, None).await?.0)
                    }
                };
                Ok(Self::Defects(asked, Box::new(setup), Counts { whole, against, parts }))
            }
            Question::SideBySide(asked) => {
                let mut sets = vec![];
                for set in &asked.sets {
                    let setup = characteristics::find(&mut *conn, set.of.characteristic).await?;
                    let picked = pick(&mut *conn, &setup, &set.of, asked.split.as_ref()).await?;
                    sets.push((setup, picked));
                }
                Ok(Self::SideBySide(asked, sets))
            }
            Question::RuleSets(asked) => {
                let of = match asked.of {
                    Some(of) => Some(Box::new(characteristics::find(&mut *conn, of).await?)),
                    None => None,
                };
                let mut rules = vec![];
                for design in &asked.designs {
                    rules.push(match (design.rules, &of) {
                        (DesignRules::Preset { preset }, _) => RuleSet::Preset(preset),
                        (DesignRules::Named { set }, _) => named::latest(&mut *conn, set).await?,
                        (DesignRules::Own, Some(of)) => of.characteristic.rule_set.clone(),
                        // Refused by its field.
                        (DesignRules::Own, None) => continue,
                    });
                }
                Ok(Self::RuleSets(asked, of, rules))
            }
            Question::OverTime(asked) => {
                let setup = characteristics::find(&mut *conn, asked.of.characteristic).await?;
                let tag = if let Measure::Tag { name } = &asked.measure { Some(name.clone()) } else { None };
                let by_tag = tag.map(|name| Split::Tag { name });
                let picked = pick(&mut *conn, &setup, &asked.of, by_tag.as_ref()).await?;
                let calendar = sites::calendar(conn).await?;
                Ok(Self::OverTime(asked, Box::new(setup), picked, calendar))
            }
        }
    }

    /// Answers it.
    pub fn answer(&self, now: DateTime<Utc>) -> Result<StudyAnswer, StudyRefusal> {
        Ok(match self {
            Self::Capability(asked, of, picked, known) => {
                let answer = capability(asked, &of.characteristic, picked, *known)?;
                StudyAnswer::Capability(Box::new(CapabilityFound { about: About::from(&**of), answer }))
            }
            Self::Distribution(asked, of, picked) => {
                let answer = distribution(asked, &of.characteristic, picked)?;
                StudyAnswer::Distribution(Box::new(DistributionFound { about: About::from(&**of), answer }))
            }
            Self::Defects(asked, of, Counts { whole, against, parts }) => {
                let answer = defects(asked, &of.characteristic, whole, against.as_ref(), parts.clone())?;
                StudyAnswer::Defects(Box::new(DefectsFound { about: About::from(&**of), answer }))
            }
            Self::SideBySide(asked, sets) => {
                let about = sets.iter().map(|(of, _)| About::from(of)).collect();
                let picked = sets.iter().map(|(of, picked)| SetPicked {
                    characteristic: &of.characteristic,
                    place: format!("{}, {}", of.product, of.station),
                    picked: picked.clone(),
                });
                let answer = side_by_side(asked, &picked.collect::<Vec<_>>())?;
                StudyAnswer::SideBySide(Box::new(SideBySideFound { about, answer }))
            }
            Self::RuleSets(asked, of, rules) => {
                let about = of.as_ref().map(|of| About::from(&**of));
                StudyAnswer::RuleSets(Box::new(RuleSetsFound { about, answer: rule_sets(asked, rules)? }))
            }
            Self::OverTime(asked, of, picked, calendar) => {
                let answer = over_time(asked, &of.characteristic, picked, calendar, now)?;
                StudyAnswer::OverTime(Box::new(OverTimeFound { about: About::from(&**of), answer }))
            }
        })
    }
}
