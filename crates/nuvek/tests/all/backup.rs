//! The whole site into a file and back into an empty database.

use std::fs::{self, File};
use std::io::{Read, Write};
use std::os::unix::fs::PermissionsExt;
use std::path::Path;
use std::process::Output;

use serde_json::{Value, json};
use sqlx::PgPool;
use store::notes::NewNote;
use tempfile::TempDir;
use uuid::Uuid;
use zip::write::SimpleFileOptions;
use zip::{ZipArchive, ZipWriter};

use crate::common::site::{Site, save_wall, site};
use crate::common::{charts, empty, gone, nuvek, said};

fn moved(pool: &PgPool, command: &str, file: &Path) -> Output {
    nuvek(pool, &[command, file.to_str().unwrap()])
}

/// What keeps rows together and finds them.
async fn kept_by(pool: &PgPool) -> Vec<String> {
    sqlx::query_scalar(
        "select format('%s %s %s %s', conrelid::regclass, conname, convalidated, pg_get_constraintdef(oid))
         from pg_constraint where connamespace = 'public'::regnamespace
         union all select indexdef from pg_indexes where schemaname = 'public'
         union all select format('%s %s %s', tgrelid::regclass, tgname, tgenabled) from pg_trigger where not tgisinternal
         order by 1",
    )
    .fetch_all(pool)
    .await
    .unwrap()
}

/// A site with samples, signals, gaps, words of every kind, and what is no text.
async fn lived_in(pool: &PgPool) -> Site {
    store::migrate(pool).await.unwrap();
    let site = site(pool, "").await;
    save_wall(pool, &site, 0, 5.0).await;
    save_wall(pool, &site, 10, 5.9).await;
    let odd = "back\\slash, \\n, \\\\, \"quoted\"\nsecond line\ttab, µ, 漢字, \u{1F9EA}, \\x00";
    let sample: Uuid = sqlx::query_scalar("select id from sample limit 1").fetch_one(pool).await.unwrap();
    let note = NewNote::new(Uuid::new_v4(), odd);
    store::notes::write(pool, sample, (site.technician, chrono::Utc::now()), note).await.unwrap();
    sqlx::query(
        "insert into import_file (id, name, content, digest, person_id, at)
         select gen_random_uuid(), 'a.csv', $1, '', id, 'infinity' from person limit 1",
    )
    .bind((0..=255).collect::<Vec<u8>>())
    .execute(pool)
    .await
    .unwrap();
    site
}

#[sqlx::test]
async fn an_empty_database_becomes_the_same_site(pool: PgPool) {
    let site = lived_in(&pool).await;
    // A key to the site does not leave it.
    sqlx::query("insert into session (token_hash, data, expires_at) values ('\\x01', '{}', now() + interval '1 day')")
        .execute(&pool)
        .await
        .unwrap();
    let folder = TempDir::new().unwrap();
    let file = folder.path().join("site.zip");
    let written = moved(&pool, "backup", &file);
    assert!(written.status.success(), "{}", said(&written));
    assert_eq!(fs::metadata(&file).unwrap().permissions().mode() & 0o777, 0o600);
    let again = moved(&pool, "backup", &file);
    assert!(!again.status.success() && said(&again).contains("cannot write"), "{}", said(&again));

    let other = empty(&pool).await;
    let restored = moved(&other, "restore", &file);
    assert!(restored.status.success(), "{}", said(&restored));
    assert!(said(&restored).contains("The trail is whole"), "{}", said(&restored));
    assert_eq!(charts(&pool).await, charts(&other).await);
    let text: Vec<String> = sqlx::query_scalar("select text from note order by id").fetch_all(&other).await.unwrap();
    assert!(text.iter().any(|text| text.contains("漢字") && text.contains("\\\\, \"quoted\"\nsecond")), "{text:?}");
    let bytes: Vec<u8> = sqlx::query_scalar("select content from import_file").fetch_one(&other).await.unwrap();
    assert_eq!(bytes, (0..=255).collect::<Vec<u8>>());
    let sessions: i64 = sqlx::query_scalar("select count(*) from session").fetch_one(&other).await.unwrap();
    assert_eq!(sessions, 0);
    // It goes on as the first did: numbers that the database gives, keys, and what guards the trail.
    save_wall(&other, &site, 30, 5.0).await;
    assert!(store::trail::verify(&other, None).await.unwrap().is_whole());
    assert!(sqlx::query("delete from trail").execute(&other).await.is_err());
    assert_eq!(kept_by(&pool).await, kept_by(&other).await);
    // What it came out as comes out again.
    let second = folder.path().join("second.zip");
    let twice = moved(&other, "restore", &file);
    assert!(!twice.status.success() && said(&twice).contains("not empty"), "{}", said(&twice));
    assert!(moved(&other, "backup", &second).status.success());
    gone(&pool, other).await;
}

/// Names with their contents.
type Files = Vec<(String, Vec<u8>)>;

fn unpacked(file: &Path) -> Files {
    let mut archive = ZipArchive::new(File::open(file).unwrap()).unwrap();
    let mut files = vec![];
    for at in 0..archive.len() {
        let mut entry = archive.by_index(at).unwrap();
        let mut content = vec![];
        entry.read_to_end(&mut content).unwrap();
        files.push((entry.name().unwrap().into_owned(), content));
    }
    files
}

fn packed(file: &Path, files: &[(String, Vec<u8>)]) {
    let mut zip = ZipWriter::new(File::create(file).unwrap());
    for (name, content) in files {
        zip.start_file(name.as_str(), SimpleFileOptions::default()).unwrap();
        zip.write_all(content).unwrap();
    }
    zip.finish().unwrap();
}

/// Changes the manifest.
fn manifest(files: &mut [(String, Vec<u8>)], change: impl FnOnce(&mut Value)) {
    let (_, content) = files.iter_mut().find(|(name, _)| name == "manifest.json").unwrap();
    let mut told: Value = serde_json::from_slice(content).unwrap();
    change(&mut told);
    *content = serde_json::to_vec(&told).unwrap();
}

#[sqlx::test]
async fn an_archive_that_was_tampered_with_is_refused_and_leaves_nothing(pool: PgPool) {
    lived_in(&pool).await;
    let folder = TempDir::new().unwrap();
    let (file, wrong) = (folder.path().join("site.zip"), folder.path().join("wrong.zip"));
    assert!(moved(&pool, "backup", &file).status.success());
    let whole = unpacked(&file);
    let other = empty(&pool).await;
    let refused = async |change: &dyn Fn(&mut Files), why: &str| {
        let mut files = whole.clone();
        change(&mut files);
        packed(&wrong, &files);
        let restored = moved(&other, "restore", &wrong);
        assert!(!restored.status.success() && said(&restored).contains(why), "{why}: {}", said(&restored));
        let there: bool =
            sqlx::query_scalar("select to_regclass('person') is not null").fetch_one(&other).await.unwrap();
        if there {
            let people: i64 = sqlx::query_scalar("select count(*) from person").fetch_one(&other).await.unwrap();
            assert_eq!(people, 0, "{why}");
        }
    };
    let sample = |files: &mut Files| {
        let (_, content) = files.iter_mut().find(|(name, _)| name == "tables/sample.jsonl").unwrap();
        let text = String::from_utf8(std::mem::take(content)).unwrap();
        *content = text.replacen(",5.9,", ",5.8,", 1).into_bytes();
        content.clone()
    };
    refused(&|files| drop(sample(files)), "tables/sample.jsonl is not as the manifest says").await;
    refused(&|files| files.retain(|(name, _)| name != "tables/note.jsonl"), "tables/note.jsonl cannot be read").await;
    refused(&|files| files.retain(|(name, _)| name != "manifest.json"), "it has no manifest.json").await;
    refused(&|files| manifest(files, |told| told["schema"] = json!(9_999)), "schema 9999").await;
    refused(&|files| manifest(files, |told| told["schema"] = json!(3)), "is not as the archive describes it").await;
    refused(&|files| manifest(files, |told| told["form"] = json!(2)), "of form 2").await;
    // Rows that do not belong together: a note whose sample is gone.
    let orphan = |files: &mut Files| {
        let digest = |content: &[u8]| {
            use sha2::Digest;
            format!("{:x}", sha2::Sha256::digest(content))
        };
        for (name, content) in files.iter_mut().filter(|(name, _)| name == "tables/sample.jsonl") {
            assert_eq!(name, "tables/sample.jsonl");
            content.clear();
        }
        manifest(files, |told| {
            let sample = told["tables"].as_array_mut().unwrap().iter_mut().find(|it| it["name"] == "sample").unwrap();
            (sample["rows"], sample["sha256"]) = (json!(0), json!(digest(b"")));
        });
    };
    refused(&orphan, "does not belong together").await;
    // And somebody who knew how to change a row and its digest is told on by the trail.
    let forged = |files: &mut Files| {
        use sha2::Digest;
        let content = sample(files);
        let digest = format!("{:x}", sha2::Sha256::digest(&content));
        manifest(files, |told| {
            let sample = told["tables"].as_array_mut().unwrap().iter_mut().find(|it| it["name"] == "sample").unwrap();
            sample["sha256"] = json!(digest);
        });
    };
    let mut files = whole.clone();
    forged(&mut files);
    packed(&wrong, &files);
    let restored = moved(&other, "restore", &wrong);
    assert!(!restored.status.success() && said(&restored).contains("The trail is broken"), "{}", said(&restored));
    gone(&pool, other).await;
}
