//! The life of an episode: every step that is allowed, and what refuses the others.

use chrono::{DateTime, TimeDelta};
use quality::episode::{Answer, Decision, EpisodeRefusal, NotTheirs, Stage};
use quality::field::WrongField;
use quality::object::ObjectKind;
use quality::role::{Permission, Role};
use quality::signal::{FoundBy, SignalState};
use quality::version::Changed;
use rstest::rstest;
use uuid::Uuid;

const TECHNICIAN: Uuid = Uuid::from_u128(1);
const SUPERVISOR: Uuid = Uuid::from_u128(2);
const CLEARER: Uuid = Uuid::from_u128(3);
const SAMPLER: Uuid = Uuid::from_u128(4);

fn standing(state: SignalState) -> Stage {
    let (answered_by, cleared_by, sampled_by) = (vec![TECHNICIAN], vec![CLEARER], vec![SAMPLER]);
    Stage { state, version: 3, gone: false, answered_by, cleared_by, sampled_by }
}

fn answer(cause_text: Option<&str>, nothing_found: bool, action: &str) -> Answer {
    Answer {
        cause: None,
        cause_text: cause_text.map(Into::into),
        nothing_found,
        action: action.into(),
        ..Answer::default()
    }
}

#[rstest]
#[case(SignalState::Open, Ok(SignalState::Answered))]
#[case(SignalState::SentBack, Ok(SignalState::Answered))]
#[case(SignalState::FoundLate, Ok(SignalState::Answered))]
#[case(SignalState::Answered, Err(EpisodeRefusal::NotFrom(SignalState::Answered)))]
#[case(SignalState::Reviewed, Err(EpisodeRefusal::NotFrom(SignalState::Reviewed)))]
fn only_what_waits_is_answered(#[case] from: SignalState, #[case] expected: Result<SignalState, EpisodeRefusal>) {
    assert_eq!(standing(from).answered(3), expected);
}

#[test]
fn a_step_decided_on_an_older_version_is_refused() {
    assert_eq!(standing(SignalState::Open).answered(2), Err(EpisodeRefusal::Changed(Changed(ObjectKind::Episode))));
    let review = standing(SignalState::Answered).reviewed(2, SUPERVISOR, Decision::Accepted, None);
    assert_eq!(review, Err(EpisodeRefusal::Changed(Changed(ObjectKind::Episode))));
}

#[rstest]
#[case(Decision::Accepted, None, SignalState::Reviewed)]
#[case(Decision::Overruled, Some("gauge was off"), SignalState::Reviewed)]
#[case(Decision::SentBack, Some("which mould?"), SignalState::SentBack)]
fn a_review_decides(#[case] decision: Decision, #[case] remark: Option<&str>, #[case] expected: SignalState) {
    assert_eq!(standing(SignalState::Answered).reviewed(3, SUPERVISOR, decision, remark), Ok(expected));
}

#[rstest]
#[case(Decision::Overruled, None)]
#[case(Decision::Overruled, Some("  "))]
#[case(Decision::SentBack, None)]
fn a_decision_that_needs_words_is_refused_without(#[case] decision: Decision, #[case] remark: Option<&str>) {
    let refused = standing(SignalState::Answered).reviewed(3, SUPERVISOR, decision, remark);
    assert!(matches!(refused, Err(EpisodeRefusal::Field(WrongField { field: "remark", .. }))), "{refused:?}");
}

#[rstest]
#[case::answered(TECHNICIAN, NotTheirs::OwnAnswer)]
#[case::made_a_finding_go_away(CLEARER, NotTheirs::OwnChange)]
#[case::took_a_flagged_sample(SAMPLER, NotTheirs::OwnSample)]
fn nobody_reviews_what_they_have_a_part_in(#[case] person: Uuid, #[case] why: NotTheirs) {
    let stage = standing(SignalState::Answered);
    assert_eq!(stage.reviewed(3, person, Decision::Accepted, None), Err(EpisodeRefusal::NotTheirs(why)));
    assert_eq!(stage.steps(person).not_theirs, Some(why));
    let late = standing(SignalState::FoundLate);
    assert_eq!(late.reviewed(3, person, Decision::Seen, None), Err(EpisodeRefusal::NotTheirs(why)));
}

#[rstest]
#[case(SignalState::Open, Decision::Accepted)]
#[case(SignalState::SentBack, Decision::Accepted)]
#[case(SignalState::Reviewed, Decision::Accepted)]
#[case::what_was_found_late_has_no_answer(SignalState::FoundLate, Decision::Accepted)]
#[case::an_answer_is_not_just_seen(SignalState::Answered, Decision::Seen)]
#[case::nor_what_waits_for_one(SignalState::Open, Decision::Seen)]
fn only_what_waits_for_it_is_reviewed(#[case] from: SignalState, #[case] decision: Decision) {
    assert_eq!(standing(from).reviewed(3, SUPERVISOR, decision, None), Err(EpisodeRefusal::NotFrom(from)));
}

#[test]
fn what_was_found_late_is_set_as_seen() {
    let late = standing(SignalState::FoundLate);
    assert_eq!(late.reviewed(3, SUPERVISOR, Decision::Seen, None), Ok(SignalState::Reviewed));
    let steps = late.steps(SUPERVISOR);
    assert!(steps.review && steps.answer && !steps.send_back);
}

#[test]
fn what_holds_no_more_asks_nobody() {
    let gone = |state| Stage { gone: true, ..standing(state) };
    let (waiting, answered) = (gone(SignalState::Open), gone(SignalState::Answered));
    assert_eq!(waiting.answered(3), Err(EpisodeRefusal::NotFrom(SignalState::Open)));
    let back = answered.reviewed(3, SUPERVISOR, Decision::SentBack, Some("why?"));
    assert_eq!(back, Err(EpisodeRefusal::Cleared));
    assert!(answered.steps(SUPERVISOR).review && !answered.steps(SUPERVISOR).send_back);
}

#[rstest]
#[case::in_the_running_shift(FoundBy::Sample, 10, SignalState::Open)]
#[case::as_it_began(FoundBy::Sample, 0, SignalState::Open)]
#[case::before_it(FoundBy::Sample, -1, SignalState::FoundLate)]
#[case::by_judging_again(FoundBy::JudgingAgain, 10, SignalState::FoundLate)]
fn what_comes_too_late_asks_no_technician(#[case] found: FoundBy, #[case] minutes: i64, #[case] state: SignalState) {
    let began = DateTime::from_timestamp(1_700_000_000, 0).unwrap();
    let ended = began + TimeDelta::minutes(minutes);
    assert_eq!(SignalState::of_new(found, ended, Some(began)), state);
    // Without shifts nothing is too late.
    let without = if found == FoundBy::Sample { SignalState::Open } else { state };
    assert_eq!(SignalState::of_new(found, ended, None), without);
}

#[test]
fn the_least_settled_signal_says_where_an_episode_stands() {
    use SignalState::{Answered, FoundLate, Open, Reviewed, SentBack};
    assert_eq!([Reviewed, Answered, FoundLate, Open, SentBack].into_iter().min(), Some(SentBack));
    assert_eq!([Reviewed, Answered, FoundLate].into_iter().min(), Some(FoundLate));
}

#[test]
fn nothing_found_is_an_honest_answer() {
    assert!(answer(None, true, "looked at nozzle and gauge").check().is_ok());
}

#[rstest]
#[case(answer(None, false, "done"), "cause")]
#[case(answer(Some("worn die"), true, "done"), "cause")]
#[case(answer(Some("worn die"), false, " "), "action")]
#[case(answer(Some(&"x".repeat(2001)), false, "done"), "cause_text")]
fn an_incomplete_answer_is_refused_naming_the_field(#[case] given: Answer, #[case] expected: &str) {
    let refused = given.check();
    assert!(
        matches!(refused, Err(EpisodeRefusal::Field(WrongField { field, .. })) if field == expected),
        "{refused:?}"
    );
}

#[rstest]
#[case(Role::Technician, &[Permission::Look, Permission::EnterSample, Permission::WriteNote, Permission::AnswerSignal])]
#[case(Role::Administrator, &[Permission::Look, Permission::WriteNote, Permission::ReadTrail])]
fn a_role_may_do_these_and_nothing_else(#[case] role: Role, #[case] allowed: &[Permission]) {
    use Permission::{AnswerSignal, EnterSample, Look, ReadTrail, ReviewSignal, WriteNote};
    for permission in [Look, EnterSample, WriteNote, AnswerSignal, ReviewSignal, ReadTrail] {
        assert_eq!(role.may(permission), allowed.contains(&permission), "{role:?} {permission:?}");
    }
}
