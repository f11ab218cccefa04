//! Names of files.

/// A name that any system takes for a file, of what it holds and with its ending: `wall-thickness.csv` of
/// `Wall thickness`.
pub fn file_name(of: &str, ending: &str) -> String {
    let words = of.split(|c: char| !c.is_ascii_alphanumeric()).filter(|word| !word.is_empty());
    let name = words.collect::<Vec<_>>().join("-").to_lowercase();
    format!("{}.{ending}", if name.is_empty() { "table" } else { &name })
}
