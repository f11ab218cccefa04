//! `nuvek analyze`: requests in, answers out. Exit 2 when a request is wrong.

use std::io::Read;
use std::process::ExitCode;

use serde_json::value::RawValue;
use spc::wrong_request::{Expected, WrongRequest};

const WRONG_REQUEST: u8 = 2;

/// Answers what stands in `file`, or on standard input for `-`.
pub fn run(file: &str, lines: bool) -> ExitCode {
    let answered = read(file).and_then(|text| if lines { answer_lines(&text) } else { answer(&text) });
    match answered {
        Ok(text) => {
            print!("{text}");
            ExitCode::SUCCESS
        }
        Err(problem) => {
            // One line, whatever the request held.
            eprintln!("{}", problem.to_string().replace(['\n', '\r'], " "));
            ExitCode::from(WRONG_REQUEST)
        }
    }
}

fn read(file: &str) -> Result<String, WrongRequest> {
    let mut text = String::new();
    match file {
        "-" => std::io::stdin().read_to_string(&mut text),
        file => std::fs::File::open(file).and_then(|mut file| file.read_to_string(&mut text)),
    }
    .map(|_| text)
    .map_err(|error| {
        WrongRequest::new("request", error, Expected::Form { says: "a readable file of JSON text".into() })
    })
}

/// Answers a request, or several in a list.
fn answer(text: &str) -> Result<String, WrongRequest> {
    if !text.trim_start().starts_with('[') {
        return Ok(spc::analysis::analyze(text)? + "\n");
    }
    let requests: Vec<&RawValue> = serde_json::from_str(text)
        .map_err(|error| WrongRequest::new("request", error, Expected::Form { says: "JSON".into() }))?;
    let answers: Vec<String> =
        requests.iter().enumerate().map(|(i, request)| numbered(i, request.get())).collect::<Result<_, _>>()?;
    Ok(format!("[{}]\n", answers.join(",")))
}

fn answer_lines(text: &str) -> Result<String, WrongRequest> {
    let requests = text.lines().filter(|line| !line.trim().is_empty());
    requests.enumerate().map(|(i, request)| numbered(i, request).map(|answer| answer + "\n")).collect()
}

/// Answers one of several requests; a problem says which.
fn numbered(i: usize, request: &str) -> Result<String, WrongRequest> {
    spc::analysis::analyze(request).map_err(|p| WrongRequest { path: format!("[{i}].{}", p.path), ..p })
}
