//! The first administrator of an empty database, from the command line.

use std::io::Write;
use std::process::{Command, Output, Stdio};

use sqlx::PgPool;

use crate::common::url;

fn add(pool: &PgPool, arguments: &[&str], password: &str) -> Output {
    let mut child = Command::new(env!("CARGO_BIN_EXE_nuvek"))
        .arg("add-person")
        .args(arguments)
        .env("DATABASE_URL", url(pool))
        .stdin(Stdio::piped())
        .stdout(Stdio::piped())
        .stderr(Stdio::piped())
        .spawn()
        .unwrap();
    child.stdin.take().unwrap().write_all(format!("{password}\n").as_bytes()).unwrap();
    child.wait_with_output().unwrap()
}

fn said(output: &Output) -> String {
    String::from_utf8_lossy(&output.stderr).trim().to_owned()
}

#[sqlx::test(migrations = false)]
async fn an_empty_database_gets_its_first_administrator(pool: PgPool) {
    let output = add(&pool, &["Ada", "--name", "Ada Adminsworth"], "a-long-enough-one");
    assert!(output.status.success(), "{}", said(&output));
    assert_eq!(String::from_utf8_lossy(&output.stdout), "Ada Adminsworth signs in as ada.\n");
    let (login, role): (String, String) =
        sqlx::query_as("select login, role from person").fetch_one(&pool).await.unwrap();
    assert_eq!((login.as_str(), role.as_str()), ("ada", "administrator"));
    let told: i64 =
        sqlx::query_scalar("select count(*) from trail where action = 'person_added'").fetch_one(&pool).await.unwrap();
    assert_eq!(told, 1);

    let twice = add(&pool, &["ADA", "--name", "Another"], "a-long-enough-one");
    assert_eq!((twice.status.success(), said(&twice).as_str()), (false, "nuvek: somebody signs in as ADA already"));
    let short = add(&pool, &["milo", "--name", "Milo", "--role", "technician"], "short");
    assert!(!short.status.success() && said(&short).contains("at least 10 characters"), "{}", said(&short));
    let role = add(&pool, &["milo", "--name", "Milo", "--role", "device"], "a-long-enough-one");
    assert!(!role.status.success() && said(&role).contains("one of technician"), "{}", said(&role));
    let people: i64 = sqlx::query_scalar("select count(*) from person").fetch_one(&pool).await.unwrap();
    assert_eq!(people, 1);
}
