//! What an answer may say, what goes with it, and where a cause may stand.

use quality::cause::{CauseGroup, CausePlace, CauseState};
use quality::episode::{Addition, Answer, EpisodeRefusal};
use quality::file::{FILE_AT_MOST, FileKind};
use rstest::rstest;
use uuid::Uuid;

fn in_words(cause: &str) -> Answer {
    Answer { cause_text: Some(cause.into()), action: "Changed it.".into(), ..Answer::default() }
}

fn refused_field(refused: Result<impl std::fmt::Debug, EpisodeRefusal>) -> &'static str {
    match refused {
        Err(EpisodeRefusal::Field(wrong)) => wrong.field,
        other => panic!("{other:?}"),
    }
}

#[rstest]
#[case::no_cause(Answer { cause_text: None, ..in_words("") }, "cause")]
#[case::two_causes(Answer { nothing_found: true, ..in_words("worn die") }, "cause")]
#[case::no_action(Answer { action: "  ".into(), ..in_words("worn die") }, "action")]
#[case::nothing_to_propose(Answer { cause_text: None, nothing_found: true, propose: true, ..in_words("") }, "propose")]
#[case::too_long_for_the_catalogue(Answer { propose: true, ..in_words(&"x".repeat(81)) }, "cause_text")]
#[case::a_blank_step(Answer { steps: vec![" ".into()], ..in_words("worn die") }, "steps")]
#[case::too_many_files(Answer { files: (0..6).map(Uuid::from_u128).collect(), ..in_words("worn die") }, "files")]
#[case::a_file_twice(Answer { files: vec![Uuid::nil(); 2], ..in_words("worn die") }, "files")]
fn an_answer_that_cannot_be(#[case] answer: Answer, #[case] field: &str) {
    assert_eq!(refused_field(answer.check()), field);
}

#[test]
fn an_answer_is_trimmed_and_may_be_long_where_it_is_not_proposed() {
    let given = Answer { files: (0..5).map(Uuid::from_u128).collect(), ..in_words(&format!(" {} ", "x".repeat(81))) };
    let kept = given.check().unwrap();
    assert_eq!((kept.cause_text.unwrap().len(), kept.files.len()), (81, 5));
    assert!(Answer { propose: true, ..in_words("worn die") }.check().is_ok());
}

#[test]
fn an_addition_says_something() {
    assert_eq!(refused_field(Addition { comment: "\n".into(), files: vec![] }.check()), "comment");
    let given = Addition { comment: " Seen. ".into(), files: vec![Uuid::nil()] };
    assert_eq!(given.check().unwrap().comment, "Seen.");
}

#[rstest]
#[case::png(b"\x89PNG\r\n\x1a\n", Some(FileKind::Png))]
#[case::jpeg(b"\xff\xd8\xff\xe0", Some(FileKind::Jpeg))]
#[case::pdf(b"%PDF-1.7", Some(FileKind::Pdf))]
#[case::page(b"<!doctype html><script>", None)]
#[case::drawing_that_can_run(b"<svg xmlns='http://www.w3.org/2000/svg'>", None)]
#[case::program(b"\x7fELF\x02\x01\x01", None)]
#[case::nothing(b"", None)]
fn what_a_file_is_its_content_says(#[case] begins: &[u8], #[case] kind: Option<FileKind>) {
    let content = [begins, &[b' '; 64][..if begins.is_empty() { 0 } else { 64 }]].concat();
    assert_eq!(FileKind::of(&content).ok(), kind);
}

#[test]
fn a_file_has_a_largest_size() {
    let mut content = b"%PDF-1.7".to_vec();
    content.resize(FILE_AT_MOST, b' ');
    assert_eq!(FileKind::of(&content), Ok(FileKind::Pdf));
    content.push(b' ');
    assert_eq!(FileKind::of(&content).unwrap_err().field, "content");
}

#[rstest]
#[case::taken_up(CauseState::InUse, Some(CauseGroup::Machine), None, None)]
#[case::in_no_group(CauseState::InUse, None, None, Some("group"))]
#[case::another_in_use(CauseState::InUse, Some(CauseGroup::Method), Some(2), Some("same_as"))]
#[case::retired(CauseState::Retired, None, None, None)]
#[case::the_same_as_another(CauseState::Retired, None, Some(2), None)]
#[case::the_same_as_itself(CauseState::Retired, None, Some(1), Some("same_as"))]
#[case::proposed_by_an_engineer(CauseState::Proposed, Some(CauseGroup::Person), None, Some("state"))]
fn where_a_cause_may_stand(
    #[case] state: CauseState,
    #[case] group: Option<CauseGroup>,
    #[case] same_as: Option<u128>,
    #[case] refused: Option<&str>,
) {
    let place = CausePlace { group, area: None, state, same_as: same_as.map(Uuid::from_u128) };
    assert_eq!(place.check(Uuid::from_u128(1)).err().map(|wrong| wrong.field), refused);
}
