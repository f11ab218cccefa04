//! What a letter says: in a few lines to people, as JSON to programs.

use chrono::SecondsFormat;
use quality::notice::NoticeKind;
use serde_json::json;
use store::notices::Letter;

/// Where what it tells of stands in the interface.
pub(super) fn link(url: &str, letter: &Letter) -> Option<String> {
    let url = url.trim_end_matches('/');
    match *letter {
        Letter { episode: Some(episode), .. } => Some(format!("{url}/signals/{episode}")),
        Letter { run: Some(run), .. } => Some(format!("{url}/lab/runs/{run}")),
        Letter { noted: Some(of), noted_number: Some(number), .. } => {
            Some(format!("{url}/charts/{of}?sample={number}"))
        }
        Letter { cause: Some(_), .. } => Some(format!("{url}/plan/causes")),
        _ => None,
    }
}

/// Subject and text of a mail.
pub(super) fn mail(letter: &Letter, link: Option<&str>) -> (String, String) {
    let what = match letter.kind {
        NoticeKind::EpisodeRaised => "A signal asks for an answer",
        NoticeKind::OpenTooLong => "A signal is open too long",
        NoticeKind::SentBack => "Your answer was sent back",
        NoticeKind::Overruled => "Your answer was overruled",
        NoticeKind::RunRejected => "A control run was rejected",
        NoticeKind::CauseProposed => "A cause was proposed",
        NoticeKind::Mentioned => "A note on a point mentions you",
    };
    let run = letter.run_number.map(|number| format!("run {number}"));
    let of = [&letter.characteristic, &run, &letter.cause, &letter.product, &letter.station];
    let of: Vec<&str> = of.into_iter().flatten().map(String::as_str).collect();
    // A header is one line, whatever a name holds.
    let subject: String = format!("{what}: {}", of.join(", ")).chars().filter(|c| !c.is_control()).collect();
    let at = letter.at.to_rfc3339_opts(SecondsFormat::Secs, true);
    let link = link.map(|link| format!("\n{link}\n")).unwrap_or_default();
    let text = format!(
        "{what}.\n\n{}\nSince {at}\n{link}\nWhich notices are sent to you, you choose under your name.\n",
        of.join(", ")
    );
    (subject, text)
}

/// The body of a webhook.
pub(super) fn body(letter: &Letter, link: Option<&str>) -> String {
    let data = json!({
        "notice": letter.notice, "station": letter.station, "characteristic": letter.characteristic,
        "product": letter.product, "episode": letter.episode, "run": letter.run, "run_number": letter.run_number,
        "cause": letter.cause, "link": link,
    });
    let at = letter.at.to_rfc3339_opts(SecondsFormat::Micros, true);
    json!({"type": letter.kind, "timestamp": at, "data": data}).to_string()
}

#[cfg(test)]
mod tests {
    use chrono::DateTime;
    use rstest::rstest;
    use uuid::Uuid;

    use super::*;

    fn letter(kind: NoticeKind) -> Letter {
        Letter {
            notice: Uuid::nil(),
            kind,
            at: DateTime::UNIX_EPOCH,
            station: Some("Kiln".into()),
            characteristic: Some("Peak\r\nBcc: all@example.org".into()),
            product: None,
            episode: Some(Uuid::nil()),
            run: None,
            run_number: None,
            cause: None,
            noted: None,
            noted_number: None,
        }
    }

    #[test]
    fn a_name_makes_no_header_of_its_own() {
        let (subject, _) = mail(&letter(NoticeKind::OpenTooLong), None);
        assert_eq!(subject, "A signal is open too long: PeakBcc: all@example.org, Kiln");
    }

    #[rstest]
    #[case("https://nuvek.example.org/", "https://nuvek.example.org/signals/00000000-0000-0000-0000-000000000000")]
    #[case("https://example.org/nuvek", "https://example.org/nuvek/signals/00000000-0000-0000-0000-000000000000")]
    fn a_link_leads_to_what_it_tells_of(#[case] url: &str, #[case] expected: &str) {
        assert_eq!(link(url, &letter(NoticeKind::OpenTooLong)).as_deref(), Some(expected));
    }

    #[test]
    fn a_note_leads_to_its_point() {
        let noted = Letter {
            episode: None,
            noted: Some(Uuid::from_u128(7)),
            noted_number: Some(12),
            ..letter(NoticeKind::Mentioned)
        };
        let expected = "https://nuvek.example.org/charts/00000000-0000-0000-0000-000000000007?sample=12";
        assert_eq!(link("https://nuvek.example.org", &noted).as_deref(), Some(expected));
    }

    #[test]
    fn a_body_names_its_kind_and_what_it_tells_of() {
        let body: serde_json::Value =
            serde_json::from_str(&body(&letter(NoticeKind::SentBack), None)).unwrap_or_default();
        assert_eq!((&body["type"], &body["timestamp"]), (&json!("sent_back"), &json!("1970-01-01T00:00:00.000000Z")));
        assert_eq!(body["data"]["station"], "Kiln");
    }
}
