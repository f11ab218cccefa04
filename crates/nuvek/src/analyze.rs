//! `nuvek analyze`: requests in, answers out. Exit 2 when a request is wrong.

use std::io::{self, BufWriter, Read, Write};
use std::process::ExitCode;

use anyhow::{Context, Result};
use serde_json::value::RawValue;
use spc::analysis::Answer;
use spc::wrong_request::{Expected, WrongRequest};

const WRONG_REQUEST: u8 = 2;

/// Bytes that are written at once.
const AT_ONCE: usize = 1 << 18;

/// Answers, and what stands around them.
struct Answers {
    all: Vec<Answer>,
    before: &'static str,
    between: &'static str,
    behind: &'static str,
}

/// Answers what stands in `file`, or on standard input for `-`. Where a request is wrong nothing is answered.
pub fn run(file: &str, lines: bool) -> Result<ExitCode> {
    let answered = read(file).and_then(|text| if lines { answer_lines(&text) } else { answer(&text) });
    match answered {
        Ok(answers) => {
            answers.write(BufWriter::with_capacity(AT_ONCE, io::stdout().lock())).context("cannot write")?;
            Ok(ExitCode::SUCCESS)
        }
        Err(problem) => {
            // One line, whatever the request held.
            eprintln!("{}", problem.to_string().replace(['\n', '\r'], " "));
            Ok(ExitCode::from(WRONG_REQUEST))
        }
    }
}

impl Answers {
    fn write(self, mut to: impl Write) -> io::Result<()> {
        to.write_all(self.before.as_bytes())?;
        for (i, answer) in self.all.into_iter().enumerate() {
            if i > 0 {
                to.write_all(self.between.as_bytes())?;
            }
            answer.write(&mut to)?;
        }
        to.write_all(self.behind.as_bytes())?;
        to.flush()
    }
}

fn read(file: &str) -> Result<String, WrongRequest> {
    let mut text = String::new();
    match file {
        "-" => io::stdin().read_to_string(&mut text),
        file => std::fs::File::open(file).and_then(|mut file| file.read_to_string(&mut text)),
    }
    .map(|_| text)
    .map_err(|error| {
        WrongRequest::new("request", error, Expected::Form { says: "a readable file of JSON text".into() })
    })
}

/// Answers a request, or several in a list.
fn answer(text: &str) -> Result<Answers, WrongRequest> {
    if !text.trim_start().starts_with('[') {
        let all = vec![spc::analysis::analyze(text)?];
        return Ok(Answers { all, before: "", between: "", behind: "\n" });
    }
    let requests: Vec<&RawValue> = serde_json::from_str(text)
        .map_err(|error| WrongRequest::new("request", error, Expected::Form { says: "JSON".into() }))?;
    let all = requests.iter().enumerate().map(|(i, request)| numbered(i, request.get())).collect::<Result<_, _>>()?;
    Ok(Answers { all, before: "[", between: ",", behind: "]\n" })
}

fn answer_lines(text: &str) -> Result<Answers, WrongRequest> {
    let requests = text.lines().filter(|line| !line.trim().is_empty());
    let all: Vec<Answer> =
        requests.enumerate().map(|(i, request)| numbered(i, request)).collect::<Result<_, WrongRequest>>()?;
    let behind = if all.is_empty() { "" } else { "\n" };
    Ok(Answers { all, before: "", between: "\n", behind })
}

/// Answers one of several requests; a problem says which.
fn numbered(i: usize, request: &str) -> Result<Answer, WrongRequest> {
    spc::analysis::analyze(request).map_err(|p| WrongRequest { path: format!("[{i}].{}", p.path), ..p })
}
