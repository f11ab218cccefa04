//! Characteristics and samples to test with.

pub mod picked;

use quality::characteristic::{Bounds, Characteristic, DefectKind, Kind, Sampling, Specification, Taken};
use spc::chart::{ChartKind, ChartOptions};
use spc::rules::{Preset, RuleSet};
use uuid::Uuid;

/// Wall thickness: three pieces, two decimals.
pub fn wall_thickness() -> Characteristic {
    Characteristic {
        name: "Wall thickness".into(),
        kind: Kind::Measured,
        unit: "mm".into(),
        decimals: 2,
        chart: ChartKind::XbarR,
        options: ChartOptions::default(),
        k: 3.0,
        subgroup_size: 3,
        varying: false,
        taken: Taken::Consecutive,
        sampling: Sampling::Minutes { count: 60 },
        rule_set: RuleSet::Preset(Preset::WesternElectric),
        hard_bounds: Bounds { lower: Some(0.5), upper: Some(9.0) },
        soft_bounds: Bounds { lower: Some(2.0), upper: Some(4.0) },
        specification: Specification::default(),
        reaction_plan: vec![],
        escalates_after: 30,
        asked_tags: vec!["lot".into()],
        labels: vec![],
        hidden: false,
        feature: None,
        components: vec![],
        defect_kinds: vec![],
        parts: vec![],
        named_rules: None,
        phase_events: vec![],
        scales: vec![],
        thresholds: Default::default(),
    }
}

/// Leaking cartridges of varying numbers tested.
pub fn leaks() -> Characteristic {
    let kind = |n: u128, name: &str, letter| DefectKind { id: Uuid::from_u128(n), name: name.into(), letter };
    Characteristic {
        name: "Leak-test failures".into(),
        kind: Kind::NonconformingUnits,
        unit: "cartridges".into(),
        decimals: 0,
        chart: ChartKind::P,
        subgroup_size: 50,
        varying: true,
        hard_bounds: Bounds::default(),
        soft_bounds: Bounds::default(),
        defect_kinds: vec![kind(1, "End cap", 'E'), kind(2, "Wall", 'W')],
        ..wall_thickness()
    }
}
