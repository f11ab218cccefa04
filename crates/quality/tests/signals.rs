//! The life of a signal: every step that is allowed, and what refuses the others.
#![allow(clippy::unwrap_used, clippy::expect_used, clippy::panic)]

use quality::field::WrongField;
use quality::object::ObjectKind;
use quality::role::{Permission, Role};
use quality::signal::{Answer, Decision, SignalRefusal, SignalState, Stage};
use quality::version::Changed;
use rstest::rstest;
use uuid::Uuid;

const TECHNICIAN: Uuid = Uuid::from_u128(1);
const SUPERVISOR: Uuid = Uuid::from_u128(2);

fn standing(state: SignalState) -> Stage {
    Stage { state, version: 3, answered_by: Some(TECHNICIAN), cleared_by: None }
}

fn answer(cause_text: Option<&str>, nothing_found: bool, action: &str) -> Answer {
    Answer { cause: None, cause_text: cause_text.map(Into::into), nothing_found, action: action.into() }
}

#[rstest]
#[case(SignalState::Open, Ok(SignalState::Answered))]
#[case(SignalState::Answered, Err(SignalRefusal::NotFrom(SignalState::Answered)))]
#[case(SignalState::Reviewed, Err(SignalRefusal::NotFrom(SignalState::Reviewed)))]
fn only_an_open_signal_is_answered(#[case] from: SignalState, #[case] expected: Result<SignalState, SignalRefusal>) {
    assert_eq!(standing(from).answered(3), expected);
}

#[test]
fn a_step_decided_on_an_older_version_is_refused() {
    assert_eq!(standing(SignalState::Open).answered(2), Err(SignalRefusal::Changed(Changed(ObjectKind::Signal))));
    let review = standing(SignalState::Answered).reviewed(2, SUPERVISOR, Decision::Accepted, None);
    assert_eq!(review, Err(SignalRefusal::Changed(Changed(ObjectKind::Signal))));
}

#[rstest]
#[case(Decision::Accepted, None, SignalState::Reviewed)]
#[case(Decision::Overruled, Some("gauge was off"), SignalState::Reviewed)]
#[case(Decision::SentBack, Some("which mould?"), SignalState::Open)]
fn a_review_decides(#[case] decision: Decision, #[case] remark: Option<&str>, #[case] expected: SignalState) {
    assert_eq!(standing(SignalState::Answered).reviewed(3, SUPERVISOR, decision, remark), Ok(expected));
}

#[rstest]
#[case(Decision::Overruled, None)]
#[case(Decision::Overruled, Some("  "))]
#[case(Decision::SentBack, None)]
fn a_decision_that_needs_words_is_refused_without(#[case] decision: Decision, #[case] remark: Option<&str>) {
    let refused = standing(SignalState::Answered).reviewed(3, SUPERVISOR, decision, remark);
    assert!(matches!(refused, Err(SignalRefusal::Field(WrongField { field: "remark", .. }))), "{refused:?}");
}

#[test]
fn who_answered_may_not_review() {
    let refused = standing(SignalState::Answered).reviewed(3, TECHNICIAN, Decision::Accepted, None);
    assert_eq!(refused, Err(SignalRefusal::OwnAnswer));
}

#[rstest]
#[case(SignalState::Open)]
#[case(SignalState::Reviewed)]
fn only_an_answered_signal_is_reviewed(#[case] from: SignalState) {
    assert_eq!(standing(from).reviewed(3, SUPERVISOR, Decision::Accepted, None), Err(SignalRefusal::NotFrom(from)));
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
    assert!(matches!(refused, Err(SignalRefusal::Field(WrongField { field, .. })) if field == expected), "{refused:?}");
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
