//! Named rule sets, and rules replayed over history.

use quality::characteristic::{Characteristic, NamedRules};
use quality::episode::Answer;
use quality::setup::SetUpRefusal;
use spc::rules::{ListedRule, Panels, Preset, Rule, RuleSet};
use sqlx::PgPool;
use store::StoreError;
use store::plan::CharacteristicChange;
use store::replay::over_history;
use store::rule_sets::{add, change, list};
use uuid::Uuid;

use crate::common::{Site, save_wall, site, wall_thickness};

fn narrow() -> Vec<ListedRule> {
    let spread = ListedRule { rule: Rule::Beyond { k: 3.0 }, panels: Some(Panels::Dispersion) };
    vec![Rule::Beyond { k: 2.5 }.into(), Rule::OneSide { n: 6 }.into(), spread]
}

async fn take(
    pool: &PgPool,
    site: &Site,
    named_rules: Option<NamedRules>,
    rules: Vec<ListedRule>,
) -> Result<(), StoreError> {
    let version = store::characteristics::find(pool, site.wall).await.unwrap().version;
    let characteristic = Characteristic { named_rules, rule_set: RuleSet::List(rules), ..wall_thickness() };
    let becomes = CharacteristicChange { id: site.wall, version, characteristic };
    store::plan::change(pool, &[becomes], site.engineer, site.since).await
}

#[sqlx::test]
async fn a_set_gets_versions_and_whoever_uses_it_keeps_theirs(pool: PgPool) {
    let site = site(&pool, "").await;
    let by = (site.engineer, site.since);
    let set = add(&pool, " Line 9 ", &narrow(), by).await.unwrap();
    assert!(matches!(add(&pool, "Line 9", &narrow(), by).await, Err(StoreError::SetUp(SetUpRefusal::Taken("name")))));
    assert!(add(&pool, "None", &[], by).await.is_err());
    take(&pool, &site, Some(NamedRules { set, version: 1 }), narrow()).await.unwrap();
    let wider = vec![Rule::Beyond { k: 3.0 }.into()];
    assert_eq!(change(&pool, set, 1, &wider, by).await.unwrap(), 2);
    assert!(matches!(change(&pool, set, 1, &wider, by).await, Err(StoreError::Changed(_))));
    let [found] = list(&pool).await.unwrap().try_into().unwrap();
    assert_eq!((found.name.as_str(), found.version, found.earlier), ("Line 9", 2, vec![narrow()]));
    let used = store::characteristics::find(&pool, site.wall).await.unwrap().characteristic;
    assert_eq!((used.named_rules, used.rule_set), (Some(NamedRules { set, version: 1 }), RuleSet::List(narrow())));
    // Other rules than the set has are no version of it.
    let other = take(&pool, &site, Some(NamedRules { set, version: 2 }), narrow()).await;
    assert!(matches!(other, Err(StoreError::SetUp(SetUpRefusal::Fields(_)))), "{other:?}");
    let unknown = take(&pool, &site, Some(NamedRules { set: Uuid::nil(), version: 1 }), narrow()).await;
    assert!(matches!(unknown, Err(StoreError::Missing(_))));
    assert_eq!(store::trail::verify(&pool, None).await.unwrap().found, 0);
    sqlx::query("update rule_set_version set rules = '[]' where version = 1").execute(&pool).await.unwrap();
    assert_eq!(store::trail::verify(&pool, None).await.unwrap().found, 1);
}

async fn answer(pool: &PgPool, site: &Site, episode: Uuid, nothing_found: bool) {
    let cause_text = (!nothing_found).then(|| "Tool worn".to_owned());
    let answer = Answer { cause: None, cause_text, nothing_found, action: "Looked.".into(), ..Answer::default() };
    store::answers::answer(pool, episode, 1, store::answers::By::at(site.technician, site.since), answer)
        .await
        .unwrap();
}

/// Limits in force at 5 with a sigma of 0.1: the mean of three lies within 0.173.
#[sqlx::test]
async fn history_tells_what_other_rules_would_have_found_missed_and_spared(pool: PgPool) {
    let site = site(&pool, "").await;
    take(&pool, &site, None, vec![Rule::Beyond { k: 3.0 }.into()]).await.unwrap();
    let mut raised = Vec::new();
    // Beyond above, with a cause; beyond below, with none; beyond above, not answered.
    for (minutes, mean) in [(0, 5.0), (1, 5.3), (2, 5.0), (3, 4.79), (4, 5.0), (5, 5.2), (6, 5.0), (7, 5.0)] {
        raised.extend(save_wall(&pool, &site, minutes, mean).await.asking);
    }
    assert_eq!(raised.len(), 3);
    answer(&pool, &site, raised[0], false).await;
    answer(&pool, &site, raised[1], true).await;
    let replayed = async |rules: Vec<ListedRule>, k| {
        over_history(&pool, site.wall, (&RuleSet::List(rules), k), site.since).await.unwrap().replayed
    };
    let same = replayed(vec![Rule::Beyond { k: 3.0 }.into()], 3.0).await;
    assert_eq!((same.points, same.episodes, same.found, same.missed), (8, 3, 1, 0));
    assert_eq!((same.spared, same.raised_for_nothing, same.unknown), (0, 1, 1));
    let wider = replayed(vec![Rule::Beyond { k: 4.0 }.into()], 3.0).await;
    assert_eq!((wider.episodes, wider.found, wider.missed, wider.spared, wider.unknown), (1, 1, 0, 1, 0));
    let means = ListedRule { rule: Rule::OneSide { n: 8 }, panels: Some(Panels::Location) };
    let blind = replayed(vec![means], 3.0).await;
    assert_eq!((blind.episodes, blind.found, blind.missed, blind.spared), (0, 0, 1, 1));
    // Presets go by the k that limits would be drawn with.
    let preset = RuleSet::Preset(Preset::LimitsOnly);
    let late = over_history(&pool, site.wall, (&preset, 4.0), site.since + chrono::Duration::minutes(2)).await.unwrap();
    assert_eq!((late.replayed.points, late.replayed.found, late.replayed.spared), (6, 0, 1));
}
