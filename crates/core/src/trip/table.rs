//! Comma-separated logs with named columns; every bad row is named.

use crate::error::{Error, Problem, Result};
use crate::quantity::units::convert;

/// A table read.
pub(crate) struct Columns {
    /// Rows, without the heading.
    pub(crate) rows: Vec<Row>,
}

/// One row.
pub(crate) struct Row {
    /// Line in the file, counted from 1.
    pub(crate) number: u64,
    cells: Vec<(String, String)>,
}

/// Headings of a speed and the unit each is in.
const SPEEDS: [(&str, &str); 3] = [("speed_kmh", "km/h"), ("speed_mph", "mph"), ("speed_m_s", "m/s")];
/// Rows read; a day at one a second.
const MOST_ROWS: usize = 100_000;

/// Reads a table that must have some headings; `speed` stands for any of the known speed headings.
pub(crate) fn table(text: &str, needed: &[&str]) -> Result<Columns> {
    // Logs come with commas, semicolons or tabs; the heading tells.
    let heading = text.lines().next().unwrap_or_default();
    let delimiter = [b';', b'\t', b','].into_iter().max_by_key(|d| heading.bytes().filter(|b| b == d).count()).unwrap_or(b',');
    let mut reader = csv::ReaderBuilder::new().delimiter(delimiter).trim(csv::Trim::All).flexible(true).from_reader(text.as_bytes());
    let unreadable = |e: csv::Error| Error::field("file", e, "a CSV text with a heading row is accepted");
    let headings: Vec<String> = reader.headers().map_err(unreadable)?.iter().map(str::to_lowercase).collect();
    let has = |name: &str| headings.iter().any(|h| h == name);
    for name in needed {
        let found = if *name == "speed" { SPEEDS.iter().any(|s| has(s.0)) } else { has(name) };
        if !found {
            let wanted = if *name == "speed" { "speed_kmh, speed_mph or speed_m_s" } else { name };
            return Err(Error::field("heading", format!("\"{}\"", headings.join(", ")), format!("a column {wanted} is needed")));
        }
    }
    let mut rows = Vec::new();
    for record in reader.records() {
        let record = record.map_err(unreadable)?;
        if rows.len() == MOST_ROWS {
            return Err(Error::field("file", format!("more than {MOST_ROWS} rows"), "shorter logs are accepted; cut it or thin it"));
        }
        let number = record.position().map_or(0, csv::Position::line);
        rows.push(Row { number, cells: headings.iter().cloned().zip(record.iter().map(str::to_owned)).collect() });
    }
    Ok(Columns { rows })
}

impl Row {
    /// Text of a cell, empty when there is none.
    pub(crate) fn word(&self, heading: &str) -> &str {
        self.cells.iter().find(|c| c.0 == heading).map_or("", |c| c.1.as_str())
    }

    /// Number in a cell; reports one that is none.
    pub(crate) fn number(&self, heading: &str, problems: &mut Vec<Problem>) -> Option<f64> {
        let text = self.word(heading);
        let number = text.parse::<f64>().or_else(|_| text.replace(',', ".").parse::<f64>()).ok().filter(|x| x.is_finite());
        if number.is_none() {
            problems.push(Problem::new(format!("row {}, {heading}", self.number), format!("\"{text}\""), "a number is accepted"));
        }
        number
    }

    /// Number in a cell that may be empty or absent; reports text that is no number.
    pub(crate) fn maybe(&self, heading: &str, problems: &mut Vec<Problem>) -> Option<f64> {
        if self.word(heading).is_empty() { None } else { self.number(heading, problems) }
    }

    /// Speed in km/h from whichever speed column there is.
    pub(crate) fn speed_kmh(&self, problems: &mut Vec<Problem>) -> Option<f64> {
        let (heading, unit) = SPEEDS.into_iter().find(|s| self.cells.iter().any(|c| c.0 == s.0))?;
        let value = self.number(heading, problems)?;
        let kmh = convert(value, unit, "km/h")?;
        if !(0.0..=300.0).contains(&kmh) {
            problems.push(Problem::new(format!("row {}, {heading}", self.number), value, "0 to 300 km/h is accepted"));
            return None;
        }
        Some(kmh)
    }
}
