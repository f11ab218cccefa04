//! The whole site in one file, and back: a ZIP archive of lines of JSON, a file a table, with a manifest.

use std::fs::{File, OpenOptions};
use std::io::{self, BufReader, BufWriter, Write};
use std::os::unix::fs::OpenOptionsExt;
use std::path::Path;
use std::process::ExitCode;

use anyhow::{Context, Result, bail, ensure};
use chrono::{DateTime, Utc};
use serde::{Deserialize, Serialize};
use sha2::{Digest, Sha256};
use store::archive::{Incoming, Outgoing, Table};
use store::trail::Seal;
use zip::write::SimpleFileOptions;
use zip::{ZipArchive, ZipWriter};

use crate::{serve, trail};

/// What the manifest says that it is.
const WHAT: &str = "nuvek-site";

/// Form of the archive; tables have their own, the schema.
const FORM: u32 = 1;

const MANIFEST: &str = "manifest.json";

/// What an archive holds.
#[derive(Debug, Serialize, Deserialize)]
struct Manifest {
    what: String,
    form: u32,
    /// The program that wrote it.
    program: String,
    /// The migration that its tables are of.
    schema: i64,
    site: String,
    written_at: DateTime<Utc>,
    /// Each with its file, so that every byte can be held against it.
    tables: Vec<ArchivedTable>,
    /// Where the chains of the trail ended.
    seal: Seal,
}

/// A table in an archive.
#[derive(Debug, Serialize, Deserialize)]
struct ArchivedTable {
    #[serde(flatten)]
    table: Table,
    file: String,
    rows: u64,
    /// Of the file as it is unpacked, in hex.
    sha256: String,
}

/// Digests what goes through to somewhere else.
struct Digesting<W> {
    to: W,
    digest: Sha256,
}

impl<W: Write> Digesting<W> {
    fn new(to: W) -> Self {
        Self { to, digest: Sha256::new() }
    }

    fn hex(self) -> String {
        format!("{:x}", self.digest.finalize())
    }
}

impl<W: Write> Write for Digesting<W> {
    fn write(&mut self, bytes: &[u8]) -> io::Result<usize> {
        let written = self.to.write(bytes)?;
        self.digest.update(&bytes[..written]);
        Ok(written)
    }

    fn flush(&mut self) -> io::Result<()> {
        self.to.flush()
    }
}

/// Writes the site, as it is at this moment, into a file that only its owner reads.
pub async fn backup(database: &str, path: &Path) -> Result<()> {
    let mut site = Outgoing::begin(&trail::look(database).await?, Utc::now()).await?;
    let file = OpenOptions::new().write(true).create_new(true).mode(0o600).open(path);
    let mut zip = ZipWriter::new(BufWriter::new(file.with_context(|| format!("cannot write {}", path.display()))?));
    let packed = SimpleFileOptions::default().large_file(true);
    let mut tables = vec![];
    for table in std::mem::take(&mut site.tables) {
        let file = format!("tables/{}.jsonl", table.name);
        zip.start_file(file.as_str(), packed)?;
        let mut to = Digesting::new(BufWriter::new(&mut zip));
        let rows = site.write(&table, &mut to).await?;
        to.flush()?;
        tables.push(ArchivedTable { table, file, rows, sha256: to.hex() });
    }
    let (many, rows) = (tables.len(), tables.iter().map(|table| table.rows).sum::<u64>());
    let manifest = Manifest {
        what: WHAT.into(),
        form: FORM,
        program: env!("CARGO_PKG_VERSION").into(),
        schema: site.schema,
        site: site.site,
        written_at: site.seal.sealed_at,
        tables,
        seal: site.seal,
    };
    zip.start_file(MANIFEST, packed)?;
    serde_json::to_writer_pretty(&mut zip, &manifest)?;
    zip.finish()?.into_inner().map_err(io::IntoInnerError::into_error)?.sync_all()?;
    println!("{}: {rows} rows of {many} tables in {}", manifest.site, path.display());
    Ok(())
}

type Archive = ZipArchive<BufReader<File>>;

fn open(path: &Path) -> Result<(Archive, Manifest)> {
    let file = File::open(path).with_context(|| format!("cannot read {}", path.display()))?;
    let mut archive = ZipArchive::new(BufReader::new(file)).context("this is no ZIP archive")?;
    let manifest: Manifest = {
        let file = archive.by_name(MANIFEST).context("it has no manifest.json")?;
        serde_json::from_reader(BufReader::new(file)).context("its manifest cannot be read")?
    };
    ensure!(manifest.what == WHAT && manifest.form == FORM, "it is a {} of form {}", manifest.what, manifest.form);
    Ok((archive, manifest))
}

/// Every file is as the manifest says.
fn check(archive: &mut Archive, manifest: &Manifest) -> Result<()> {
    for ArchivedTable { file, sha256, .. } in &manifest.tables {
        let mut digesting = Digesting::new(io::sink());
        let copied =
            archive.by_name(file).map_err(io::Error::other).and_then(|mut it| io::copy(&mut it, &mut digesting));
        copied.with_context(|| format!("{file} cannot be read"))?;
        ensure!(digesting.hex() == *sha256, "{file} is not as the manifest says");
    }
    Ok(())
}

/// Takes an archived site into an empty database, all of it or nothing, and holds every table and the trail against it.
pub async fn restore(database: &str, path: &Path) -> Result<ExitCode> {
    let (mut archive, manifest) = open(path)?;
    check(&mut archive, &manifest)?;
    let pool = serve::connect(database).await?;
    let tables: Vec<Table> = manifest.tables.iter().map(|it| it.table.clone()).collect();
    let mut site = Incoming::begin(&pool, manifest.schema, &tables).await?;
    for ArchivedTable { table, file, rows, .. } in &manifest.tables {
        let taken = site.read(table, &mut BufReader::new(archive.by_name(file)?)).await;
        let taken = taken.with_context(|| format!("{file} cannot be taken in"))?;
        ensure!(taken == *rows, "{file} has {taken} rows, and {rows} by the manifest");
    }
    site.complete().await.context("what it holds does not belong together")?;
    for ArchivedTable { table, file, sha256, .. } in &manifest.tables {
        let mut digesting = Digesting::new(io::sink());
        site.write(table, &mut digesting).await?;
        if digesting.hex() != *sha256 {
            bail!("{file} does not come out as it came in");
        }
    }
    site.keep().await.context("what it holds does not belong together")?;
    // By a program that is newer than the archive.
    store::migrate(&pool).await?;
    store::refresh_statistics(&pool).await?;
    println!("{} as it was at {}: {} tables, each row compared", manifest.site, manifest.written_at, tables.len());
    trail::verified(&pool, Some(&manifest.seal)).await
}
