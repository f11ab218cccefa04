//! What an episode says of its points, the most telling first.

use serde::{Deserialize, Serialize};
use serde_json::{Value, json};
use spc::chart::Statistic;
use spc::rules::{Rule, Side};

use crate::signal::Broken;

/// A signal, by what it found.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Found {
    /// The rule that was broken.
    pub rule: Broken,
    /// Where.
    pub panel: Statistic,
    /// On which side.
    pub side: Option<Side>,
    /// How many tested points the pattern has.
    pub points: usize,
}

/// One rule in an episode.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Pattern {
    /// The rule that was broken.
    pub rule: Broken,
    /// Where.
    pub panel: Statistic,
    /// On which side.
    pub side: Option<Side>,
    /// Points of its longest signal.
    pub points: usize,
    /// How many signals there are.
    pub signals: usize,
}

/// How soon it is said: what lasts tells more of a shift than a single point beyond, and that more than points
/// near a limit; what has no side tells least of where the process went.
/// What judged the whole run tells more than the chart of one level.
fn rank(rule: Broken) -> u8 {
    let Broken::Chart(rule) = rule else { return 0 };
    match rule {
        Rule::OneSide { .. } | Rule::Trend { .. } => 1,
        Rule::Beyond { .. } => 2,
        Rule::MOfN { .. } => 3,
        Rule::Avoiding { .. } | Rule::Alternating { .. } | Rule::Hugging { .. } => 4,
    }
}

fn window(rule: Broken) -> usize {
    match rule {
        Broken::Chart(rule) => rule.window(),
        Broken::Laboratory(_) => 0,
    }
}

/// The rules of an episode, the most telling first; among their like the longest, then the more frequent.
pub fn patterns(found: &[Found]) -> Vec<Pattern> {
    let mut patterns: Vec<Pattern> = Vec::new();
    for &Found { rule, panel, side, points } in found {
        match patterns.iter_mut().find(|p| (p.rule, p.panel, p.side) == (rule, panel, side)) {
            Some(pattern) => {
                pattern.points = pattern.points.max(points);
                pattern.signals += 1;
            }
            None => patterns.push(Pattern { rule, panel, side, points, signals: 1 }),
        }
    }
    patterns.sort_by_key(|p| (rank(p.rule), std::cmp::Reverse((p.points, p.signals)), window(p.rule)));
    patterns
}

/// Patterns by the stored words of their panels, rules and sides, with points and how often, such as
/// `mean one_side above 15` or `individual 2-2s below 2 ×3`; `None` of none.
pub fn patterns_told(patterns: &[Pattern]) -> Option<String> {
    let word = |value: Value| value.as_str().map(str::to_owned);
    let told = |pattern: &Pattern| {
        let pattern = json!(pattern);
        // A rule of the laboratory is known by its name.
        let rule = ["rule", "kind"].into_iter().find_map(|part| word(pattern["rule"][part].clone()));
        let often = pattern["signals"].as_u64().filter(|many| *many > 1).map(|many| format!("×{many}"));
        let side = word(pattern["side"].clone());
        let parts = [word(pattern["panel"].clone()), rule, side, Some(pattern["points"].to_string()), often];
        parts.into_iter().flatten().collect::<Vec<_>>().join(" ")
    };
    (!patterns.is_empty()).then(|| patterns.iter().map(told).collect::<Vec<_>>().join("; "))
}
