//! A characteristic to test with.

use quality::characteristic::{Bounds, Characteristic};
use spc::chart::ChartKind;
use spc::rules::{Preset, RuleSet};
use uuid::Uuid;

/// Wall thickness: three pieces, two decimals.
pub fn wall_thickness() -> Characteristic {
    Characteristic {
        id: Uuid::nil(),
        decimals: 2,
        chart: ChartKind::XbarR,
        subgroup_size: 3,
        rule_set: RuleSet::Preset(Preset::WesternElectric),
        hard_bounds: Bounds { lower: Some(0.5), upper: Some(9.0) },
        soft_bounds: Bounds { lower: Some(2.0), upper: Some(4.0) },
        interval_minutes: 60,
    }
}
