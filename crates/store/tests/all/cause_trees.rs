//! Cause trees: filled in by several people at once, copied, and told by the trail.

use std::collections::BTreeSet;

use chrono::{DateTime, NaiveDate, SubsecRound, Utc};
use quality::cause::CauseGroup;
use quality::cause_tree::{Facts, Idea, IdeaState, Origin};
use rstest::rstest;
use sqlx::PgPool;
use store::StoreError;
use store::cause_trees::{IdeaChange, IdeaView, NewTree, change, change_ideas, copy, find, list, start, to_catalogue};
use store::trail::{Finding, verify};
use uuid::Uuid;

use crate::common::{Site, site};

fn now() -> DateTime<Utc> {
    Utc::now().trunc_subsecs(6)
}

fn idea(parent: Option<Uuid>, place: f64, text: &str) -> Idea {
    Idea {
        id: Uuid::new_v4(),
        parent,
        place,
        text: text.into(),
        group: None,
        state: IdeaState::Idea,
        owner: None,
        due: None,
        evidence: vec![],
        actions: vec![],
    }
}

fn put(idea: &Idea, seen: Option<i32>) -> IdeaChange {
    IdeaChange::Put { idea: idea.clone(), seen }
}

/// A tree of the leaks with a branch and two ideas under it.
async fn begun(pool: &PgPool) -> (Site, Uuid, [Idea; 3]) {
    let site = site(pool, "").await;
    let branch = Idea { group: Some(CauseGroup::Machine), ..idea(None, 0.0, "Machine") };
    let (worn, loose) = (idea(Some(branch.id), 0.0, "Worn"), idea(Some(branch.id), 1.0, "Loose"));
    let new = NewTree {
        name: "Leaks at the cap".into(),
        facts: Facts { what: "Leaks".into(), ..Facts::default() },
        origin: Some(Origin::Defect { characteristic: site.leaks, kind: "End cap".into() }),
        // In any order: what hangs on another may be named first.
        ideas: vec![worn.clone(), branch.clone(), loose.clone()],
    };
    let tree = start(pool, &new, (site.engineer, now())).await.unwrap();
    (site, tree, [branch, worn, loose])
}

async fn views(pool: &PgPool, tree: Uuid) -> Vec<IdeaView> {
    find(pool, tree).await.unwrap().ideas
}

#[sqlx::test]
async fn two_people_fill_in_one_tree(pool: PgPool) {
    let (site, tree, [branch, worn, loose]) = begun(&pool).await;
    let below = idea(Some(worn.id), 0.0, "Since the nozzle was changed");
    let mine = Idea { state: IdeaState::ToCheck, owner: Some(site.engineer), ..worn.clone() };
    let kept = change_ideas(&pool, tree, &[put(&mine, Some(1)), put(&below, None)], (site.engineer, now())).await;
    assert_eq!(kept.unwrap().iter().map(|one| one.version).collect::<Vec<_>>(), [2, 1]);
    // The other one changes another idea, of which nothing has changed since.
    let theirs = Idea { state: IdeaState::RuledOut, ..loose.clone() };
    change_ideas(&pool, tree, &[put(&theirs, Some(1))], (site.technician, now())).await.unwrap();
    let all = views(&pool, tree).await;
    assert_eq!(all.len(), 4);
    let of = |id: Uuid| all.iter().find(|view| view.idea.id == id).unwrap();
    assert_eq!((of(worn.id).idea.state, of(loose.id).idea.state), (IdeaState::ToCheck, IdeaState::RuledOut));
    assert_eq!(of(loose.id).changed_by, "tess");
    assert_eq!(of(branch.id).version, 1);
    // What was seen before somebody else changed it is not overwritten.
    let late = Idea { text: "Loose at the thread".into(), ..loose.clone() };
    let refused = change_ideas(&pool, tree, &[put(&late, Some(1))], (site.engineer, now())).await.unwrap_err();
    assert!(matches!(refused, StoreError::Changed(_)), "{refused:?}");
    assert_eq!(verify(&pool, None).await.unwrap().findings, []);
}

#[sqlx::test]
async fn what_is_sent_twice_is_kept_once_and_all_or_nothing(pool: PgPool) {
    let (site, tree, [branch, worn, _]) = begun(&pool).await;
    let by = (site.engineer, now());
    let new = idea(Some(branch.id), 2.0, "Dirty");
    change_ideas(&pool, tree, &[put(&new, None)], by).await.unwrap();
    assert_eq!(change_ideas(&pool, tree, &[put(&new, None)], by).await.unwrap(), []);
    // The second of them hangs on nothing.
    let changed = Idea { text: "Worn out".into(), ..worn.clone() };
    let nowhere = idea(Some(Uuid::new_v4()), 0.0, "Lost");
    let refused = change_ideas(&pool, tree, &[put(&changed, Some(1)), put(&nowhere, None)], by).await.unwrap_err();
    assert!(matches!(refused, StoreError::Field(wrong) if wrong.field == "parent"));
    assert!(views(&pool, tree).await.iter().all(|view| view.idea.text != "Worn out"));
    assert_eq!(verify(&pool, None).await.unwrap().findings, []);
}

#[sqlx::test]
async fn an_idea_goes_with_all_that_hangs_on_it(pool: PgPool) {
    let (site, tree, [branch, worn, loose]) = begun(&pool).await;
    let by = (site.engineer, now());
    let below = idea(Some(worn.id), 0.0, "Since spring");
    change_ideas(&pool, tree, &[put(&below, None)], by).await.unwrap();
    change_ideas(&pool, tree, &[IdeaChange::Remove { id: worn.id, seen: 1 }], by).await.unwrap();
    let left: Vec<Uuid> = views(&pool, tree).await.iter().map(|view| view.idea.id).collect();
    assert_eq!(left.len(), 2);
    assert!(left.contains(&branch.id) && left.contains(&loose.id));
    // Who changes what was taken out is told so; taking it out again is nothing new.
    let late = change_ideas(&pool, tree, &[put(&worn, Some(1))], by).await.unwrap_err();
    assert!(matches!(late, StoreError::Missing(_)), "{late:?}");
    change_ideas(&pool, tree, &[IdeaChange::Remove { id: worn.id, seen: 1 }], by).await.unwrap();
    assert_eq!(verify(&pool, None).await.unwrap().findings, []);
}

#[sqlx::test]
async fn facts_are_filled_in_and_a_copy_is_another_tree(pool: PgPool) {
    let (site, tree, _) = begun(&pool).await;
    let by = (site.engineer, now());
    let facts = Facts { what: "Leaks".into(), since: "Since Monday".into(), ..Facts::default() };
    change(&pool, tree, 1, ("Leaks", &facts), by).await.unwrap();
    let late = change(&pool, tree, 1, ("Leaks", &facts), by).await.unwrap_err();
    assert!(matches!(late, StoreError::Changed(_)), "{late:?}");
    let again = copy(&pool, tree, "Leaks, again", (site.supervisor, now())).await.unwrap();
    let (first, second) = (find(&pool, tree).await.unwrap(), find(&pool, again).await.unwrap());
    assert_eq!((second.facts, second.copy_of, second.origin), (facts, Some(tree), first.origin));
    let texts = |ideas: &[IdeaView]| ideas.iter().map(|view| view.idea.text.clone()).collect::<BTreeSet<_>>();
    assert_eq!(texts(&second.ideas), texts(&first.ideas));
    assert!(second.ideas.iter().all(|copied| first.ideas.iter().all(|view| view.idea.id != copied.idea.id)));
    let today = NaiveDate::from_ymd_opt(2026, 1, 1).unwrap();
    let listed = list(&pool, None, today).await.unwrap();
    assert_eq!(listed.iter().map(|row| row.ideas).collect::<Vec<_>>(), [2, 2]);
    let elsewhere = list(&pool, Some(&[Uuid::nil()]), today).await.unwrap();
    assert_eq!(elsewhere.len(), 0);
    assert_eq!(verify(&pool, None).await.unwrap().findings, []);
}

#[sqlx::test]
async fn what_was_found_true_can_be_named_by_answers(pool: PgPool) {
    let (site, tree, [_, worn, _]) = begun(&pool).await;
    let by = (site.engineer, now());
    let early = to_catalogue(&pool, tree, worn.id, ("Cap worn", CauseGroup::Machine), by).await.unwrap_err();
    assert!(matches!(early, StoreError::Field(wrong) if wrong.field == "state"));
    let found = Idea { state: IdeaState::FoundTrue, ..worn.clone() };
    change_ideas(&pool, tree, &[put(&found, Some(1))], by).await.unwrap();
    let cause = to_catalogue(&pool, tree, worn.id, ("Cap worn", CauseGroup::Machine), by).await.unwrap();
    assert!(store::causes::list(&pool, None).await.unwrap().iter().any(|known| known.id == cause));
    let kept = views(&pool, tree).await;
    assert_eq!(kept.iter().find(|view| view.idea.id == worn.id).unwrap().cause, Some(cause));
    // What is changed afterwards stays in the catalogue.
    let reworded = Idea { text: "Cap worn through".into(), ..found };
    change_ideas(&pool, tree, &[put(&reworded, Some(3))], by).await.unwrap();
    assert_eq!(verify(&pool, None).await.unwrap().findings, []);
}

#[sqlx::test]
async fn what_is_overdue_is_counted(pool: PgPool) {
    let (site, tree, [_, worn, _]) = begun(&pool).await;
    let day = NaiveDate::from_ymd_opt(2026, 3, 2);
    let checked = Idea { state: IdeaState::ToCheck, due: day, ..worn };
    change_ideas(&pool, tree, &[put(&checked, Some(1))], (site.engineer, now())).await.unwrap();
    let on = async |today| list(&pool, None, today).await.unwrap()[0].overdue;
    assert_eq!(on(day.unwrap()).await, 0);
    assert_eq!(on(day.unwrap().succ_opt().unwrap()).await, 1);
}

/// Each is a change of a tree behind the trail's back.
#[rstest]
#[case::name("update cause_tree set name = 'Another'", "cause_tree", "name")]
#[case::facts("update cause_tree set facts = jsonb_set(facts, '{cost}', '\"much\"')", "cause_tree", "facts")]
#[case::text("update idea set text = 'Not worn' where text = 'Worn'", "idea", "text")]
#[case::state("update idea set state = 'ruled_out' where text = 'Worn'", "idea", "state")]
#[case::moved(
    "update idea set parent_id = (select id from idea where text = 'Loose') where text = 'Worn'",
    "idea",
    "parent"
)]
#[case::back("update idea set removed = true where text = 'Loose'", "idea", "removed")]
#[case::gone("delete from idea where text = 'Worn'", "idea", "row")]
#[sqlx::test]
async fn a_tree_that_is_not_as_the_trail_tells_it_is_named(
    #[ignore] pool: PgPool,
    #[case] tampered: &'static str,
    #[case] table: &str,
    #[case] field: &str,
) {
    begun(&pool).await;
    sqlx::raw_sql(tampered).execute(&pool).await.unwrap();
    let findings = verify(&pool, None).await.unwrap().findings;
    let [Finding::Row(found)] = findings.as_slice() else { panic!("{findings:?}") };
    assert_eq!((found.table, found.field.as_str()), (table, field));
}
