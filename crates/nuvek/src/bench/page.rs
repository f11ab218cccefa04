//! Where figures are written down.

use std::fs;
use std::path::Path;

use anyhow::{Context, Result};

/// Prints figures, and writes them into their place in docs/performance.md, when that is here.
pub fn write_down(place: &str, figures: &str) -> Result<()> {
    println!("\n{figures}");
    let page = Path::new("docs/performance.md");
    let (begin, end) = (format!("<!-- {place}: begin -->"), format!("<!-- {place}: end -->"));
    if let Ok(text) = fs::read_to_string(page) {
        let parted = text.split_once(&begin).and_then(|(before, rest)| Some((before, rest.split_once(&end)?.1)));
        let (before, after) = parted.with_context(|| format!("docs/performance.md has no place for the {place}"))?;
        fs::write(page, format!("{before}{begin}\n{figures}{end}{after}"))?;
    }
    Ok(())
}
