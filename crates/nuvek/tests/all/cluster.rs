//! A private cluster comes, serves and goes, and says what is in its way.

use std::net::TcpListener;
use std::process::{Command, Output};

fn nuvek(arguments: &[&str]) -> Output {
    Command::new(env!("CARGO_BIN_EXE_nuvek")).args(arguments).output().unwrap()
}

#[test]
fn a_command_gets_a_database_that_is_gone_when_it_ends() {
    let ask =
        "test -n \"$DATABASE_URL\" && psql \"$DATABASE_URL\" -Atc 'select 6 * 7' && echo \"$DATABASE_URL\" && exit 5";
    let output = nuvek(&["with-scratch-database", "sh", "-c", ask]);
    let text = String::from_utf8(output.stdout).unwrap();
    let (answer, url) = text.trim().split_once('\n').expect("two lines");
    assert_eq!((answer, output.status.code()), ("42", Some(5)));
    let after = Command::new("psql").args([url, "-Atc", "select 1"]).output().unwrap();
    assert!(!after.status.success(), "the cluster is still there");
}

#[test]
fn a_port_in_use_gets_a_clear_sentence() {
    let taken = TcpListener::bind("127.0.0.1:0").unwrap();
    let port = taken.local_addr().unwrap().port().to_string();
    let output = nuvek(&["demo", "--port", &port, "--data", "/nonexistent/never-made"]);
    let said = String::from_utf8(output.stderr).unwrap();
    assert!(!output.status.success());
    assert!(said.contains(&format!("port {port} on 127.0.0.1 is in use by another program")), "{said}");
}
