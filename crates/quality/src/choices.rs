//! What can be chosen when something is set up.

use serde::Serialize;
use spc::chart::ChartKind;
use spc::multirule::LabRule;
use spc::rules::{Preset, Rule};

use crate::characteristic::Kind;
use crate::setup::LETTERS_TAKEN;

/// What can be chosen.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Choices {
    /// Charts by kind of data.
    pub kinds: Vec<KindChoice>,
    /// Named rule sets with their rules, for limits at 3 sigma.
    pub presets: Vec<PresetChoice>,
    /// Rules to choose one by one, with their usual parameters.
    pub rules: Vec<Rule>,
    /// Rules of the laboratory.
    pub lab_rules: Vec<LabRule>,
    /// Those of them that are usual.
    pub usual_lab_rules: Vec<LabRule>,
    /// Letters that count no kind of defect: they act on the tally itself.
    pub letters_taken: Vec<char>,
}

/// A kind of data and the charts it can be watched on.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct KindChoice {
    /// What is recorded.
    pub kind: Kind,
    /// That can be drawn of it, as they are offered.
    pub charts: Vec<ChartKind>,
}

/// A named rule set and its rules.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PresetChoice {
    /// Its name.
    pub preset: Preset,
    /// As they are judged at limits of 3 sigma.
    pub rules: Vec<Rule>,
}

/// What can be chosen.
pub fn choices() -> Choices {
    const K: f64 = 3.0;
    let kinds = [Kind::Measured, Kind::NonconformingUnits, Kind::Nonconformities, Kind::RareEvent];
    let presets = [Preset::LimitsOnly, Preset::WesternElectric, Preset::Nelson, Preset::SevenPoint];
    Choices {
        kinds: kinds.map(|kind| KindChoice { kind, charts: kind.charts().to_vec() }).to_vec(),
        presets: presets.map(|preset| PresetChoice { preset, rules: preset.rules(K) }).to_vec(),
        // The set that has every kind of rule.
        rules: Preset::Nelson.rules(K),
        lab_rules: LabRule::ALL.to_vec(),
        usual_lab_rules: LabRule::DEFAULT.to_vec(),
        letters_taken: LETTERS_TAKEN.to_vec(),
    }
}
