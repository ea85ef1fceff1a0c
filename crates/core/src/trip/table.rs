//! Comma-separated logs with named columns; every bad row is named.

use crate::error::{Error, Problem, Problems, Result};
use crate::quantity::units::convert;
use crate::quantity::{Commas, delimiter, doubtful_comma};

/// A table read.
pub struct Columns {
    headings: Vec<String>,
    rows: Vec<csv::StringRecord>,
    commas: Commas,
}

/// One row.
#[derive(Clone, Copy)]
pub struct Row<'a> {
    /// Line in the file, counted from 1.
    pub number: u64,
    table: &'a Columns,
    cells: &'a csv::StringRecord,
}

/// Headings of a speed and the unit each is in.
const SPEEDS: [(&str, &str); 3] = [("speed_kmh", "km/h"), ("speed_mph", "mph"), ("speed_m_s", "m/s")];
/// Rows and columns read; a day at one a second.
const MOST_ROWS: usize = 100_000;
const MOST_COLUMNS: usize = 200;

/// Reads a table that must have some headings; `speed` stands for any of the known speed headings.
pub fn table(text: &str, needed: &[&str]) -> Result<Columns> {
    let text = text.trim_start_matches('\u{feff}');
    let heading = text.lines().next().unwrap_or_default();
    let delimiter = delimiter(text);
    let columns = 1 + heading.bytes().filter(|b| *b == delimiter).count();
    if columns > MOST_COLUMNS {
        return Err(Error::field("heading", format!("{columns} columns"), format!("at most {MOST_COLUMNS} are accepted")));
    }
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
        if record.len() > MOST_COLUMNS {
            let line = record.position().map_or(0, csv::Position::line);
            return Err(Error::field(
                format!("row {line}"),
                format!("{} cells", record.len()),
                format!("at most {MOST_COLUMNS} are accepted"),
            ));
        }
        rows.push(record);
    }
    let commas = Commas::of(rows.iter().flat_map(csv::StringRecord::iter))?;
    Ok(Columns { headings, rows, commas })
}

impl Columns {
    /// Rows, without the heading.
    pub fn rows(&self) -> impl Iterator<Item = Row<'_>> {
        self.rows.iter().map(|cells| Row { number: cells.position().map_or(0, csv::Position::line), table: self, cells })
    }
}

impl Row<'_> {
    /// Text of a cell, empty when there is none.
    pub fn word(&self, heading: &str) -> &str {
        let place = self.table.headings.iter().position(|h| h == heading);
        place.and_then(|i| self.cells.get(i)).unwrap_or_default()
    }

    /// Number in a cell; reports one that is none, and one whose comma may mean two things.
    pub fn number(&self, heading: &str, problems: &mut Problems) -> Option<f64> {
        let text = self.word(heading);
        let Some(plain) = self.table.commas.plain(text) else {
            problems.add(|| Problem::new(format!("row {}, {heading}", self.number), format!("\"{text}\""), doubtful_comma(text)));
            return None;
        };
        let number = plain.parse::<f64>().ok().filter(|x| x.is_finite());
        if number.is_none() {
            problems.add(|| Problem::new(format!("row {}, {heading}", self.number), format!("\"{text}\""), "a number is accepted"));
        }
        number
    }

    /// Number in a cell that may be empty or absent; reports text that is no number.
    pub(crate) fn maybe(&self, heading: &str, problems: &mut Problems) -> Option<f64> {
        if self.word(heading).is_empty() { None } else { self.number(heading, problems) }
    }

    /// Speed in km/h from whichever speed column there is.
    pub fn speed_kmh(&self, problems: &mut Problems) -> Option<f64> {
        let (heading, unit) = SPEEDS.into_iter().find(|s| self.table.headings.iter().any(|h| h == s.0))?;
        let value = self.number(heading, problems)?;
        let kmh = convert(value, unit, "km/h")?;
        if !(0.0..=300.0).contains(&kmh) {
            problems.add(|| Problem::new(format!("row {}, {heading}", self.number), value, "0 to 300 km/h is accepted"));
            return None;
        }
        Some(kmh)
    }
}
