//! What makes a tree of ideas, and what does not.

use quality::cause::CauseGroup;
use quality::cause_tree::{
    Evidence, Facts, IDEAS_AT_MOST, Idea, IdeaState, TreeAction, check_facts, check_ideas, may_be_catalogued,
};
use rstest::rstest;
use uuid::Uuid;

fn idea(id: u128, parent: Option<u128>) -> Idea {
    Idea {
        id: Uuid::from_u128(id),
        parent: parent.map(Uuid::from_u128),
        place: id as f64,
        text: "Nozzle worn".into(),
        group: None,
        state: IdeaState::Idea,
        owner: None,
        due: None,
        evidence: vec![],
        actions: vec![],
    }
}

fn evidence(path: &str) -> Vec<Evidence> {
    vec![Evidence { says: "Peak temperature".into(), path: path.into() }]
}

fn action(text: &str, outcome: Option<&str>) -> Vec<TreeAction> {
    vec![TreeAction { text: text.into(), owner: None, check_on: None, outcome: outcome.map(str::to_owned) }]
}

#[rstest]
#[case::none(vec![], None)]
#[case::tree(vec![idea(3, Some(2)), idea(1, None), idea(2, Some(1))], None)]
#[case::empty_text(vec![Idea { text: String::new(), ..idea(1, None) }], None)]
#[case::nowhere(vec![idea(1, None), idea(2, Some(9))], Some("parent"))]
#[case::circle(vec![idea(1, Some(2)), idea(2, Some(1))], Some("parent"))]
#[case::itself(vec![idea(1, Some(1))], Some("parent"))]
#[case::twice(vec![idea(1, None), idea(1, None)], Some("ideas"))]
#[case::long(vec![Idea { text: "x".repeat(301), ..idea(1, None) }], Some("text"))]
#[case::no_place(vec![Idea { place: f64::NAN, ..idea(1, None) }], Some("place"))]
#[case::branch_of_a_group(vec![Idea { group: Some(CauseGroup::Machine), ..idea(1, None) }], None)]
#[case::group_below(
    vec![idea(1, None), Idea { group: Some(CauseGroup::Machine), ..idea(2, Some(1)) }],
    Some("group")
)]
#[case::evidence(vec![Idea { evidence: evidence("/charts/1?last=200"), ..idea(1, None) }], None)]
#[case::elsewhere(vec![Idea { evidence: evidence("https://else.example/"), ..idea(1, None) }], Some("evidence"))]
#[case::another_host(vec![Idea { evidence: evidence("//else.example/"), ..idea(1, None) }], Some("evidence"))]
#[case::backslash(vec![Idea { evidence: evidence("/\\else.example"), ..idea(1, None) }], Some("evidence"))]
#[case::action(vec![Idea { actions: action("Adjusted", Some("Helped")), ..idea(1, None) }], None)]
#[case::no_action(vec![Idea { actions: action(" ", None), ..idea(1, None) }], Some("actions"))]
#[case::no_outcome(vec![Idea { actions: action("Adjusted", Some("")), ..idea(1, None) }], Some("actions"))]
fn ideas_make_a_tree_or_are_refused_by_their_field(#[case] ideas: Vec<Idea>, #[case] field: Option<&str>) {
    assert_eq!(check_ideas(&ideas).err().map(|wrong| wrong.field), field);
}

#[rstest]
#[case(12, None)]
#[case(13, Some("parent"))]
fn ideas_hang_under_one_another_so_deep(#[case] deep: u128, #[case] field: Option<&str>) {
    let ideas: Vec<Idea> = (1..=deep).map(|id| idea(id, id.checked_sub(1).filter(|parent| *parent > 0))).collect();
    assert_eq!(check_ideas(&ideas).err().map(|wrong| wrong.field), field);
}

#[test]
fn a_tree_of_too_many_is_refused() {
    let ideas: Vec<Idea> = (1..=IDEAS_AT_MOST as u128 + 1).map(|id| idea(id, None)).collect();
    assert!(check_ideas(&ideas[..IDEAS_AT_MOST]).is_ok());
    assert_eq!(check_ideas(&ideas).unwrap_err().field, "ideas");
}

#[test]
fn facts_may_be_unknown_but_not_endless() {
    assert!(check_facts(&Facts::default()).is_ok());
    let facts = Facts { cost: "x".repeat(2001), ..Facts::default() };
    assert_eq!(check_facts(&facts).unwrap_err().field, "cost");
}

#[rstest]
#[case(IdeaState::FoundTrue, true)]
#[case(IdeaState::ToCheck, false)]
#[case(IdeaState::RuledOut, false)]
fn what_was_found_true_goes_into_the_catalogue(#[case] state: IdeaState, #[case] may: bool) {
    assert_eq!(may_be_catalogued(&Idea { state, ..idea(1, None) }).is_ok(), may);
}
