//! Library files: many parts in and out as CSV or JSON, all or nothing, every fault with its row.

mod cells;

use std::collections::{BTreeMap, BTreeSet};

use serde::{Deserialize, Serialize};
use serde_json::{Map, Value, json};

use cells::{figures, flat, number, pairs, put, source};
pub(crate) use cells::{guarded, unguarded};

use super::Part;
use crate::error::{Error, Problem, Problems, Result};
use crate::quantity::fields::{Entry, Field, Group, group_of_part};
use crate::quantity::{Commas, delimiter, parse_json};

/// Word in the `format` key of a library file.
pub const LIBRARY_FORMAT: &str = "joulethesis-library";
/// Version of the library file.
pub const LIBRARY_VERSION: u32 = 1;
/// Most parts read from one file: beyond it a search takes minutes and a list is no longer read by people.
pub const MOST_PARTS: usize = 5000;
/// Most columns of a file; there are about a hundred.
const MOST_COLUMNS: usize = 300;

const KINDS: [&str; 5] = ["motor", "controller", "module", "charger", "component"];
/// Columns of words, and the kinds of part that have them.
const WORDS: [(&str, &[&str]); 13] = [
    ("part", &KINDS),
    ("name", &KINDS),
    ("notes", &KINDS),
    ("currency", &KINDS),
    ("kind", &["motor", "component"]),
    ("signal", &["component"]),
    ("throttle_signals", &["controller"]),
    ("model.kind", &["motor"]),
    ("model.points", &["motor"]),
    ("motor_kinds", &["controller"]),
    ("chemistry", &["module"]),
    ("case", &["module"]),
    ("stands", &["module"]),
];
const OCV: &str = "ocv";

/// A library file in JSON.
#[derive(Debug, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
struct File {
    format: String,
    version: u32,
    parts: Vec<Value>,
}

/// Parts as a JSON library file.
#[must_use]
pub fn to_json(parts: &[Part]) -> String {
    let file = json!({ "format": LIBRARY_FORMAT, "version": LIBRARY_VERSION, "parts": parts });
    serde_json::to_string_pretty(&file).unwrap_or_default() + "\n"
}

/// Reads a JSON library file, or a bare list of parts.
///
/// # Errors
/// [`Error::Unreadable`] for text that is no JSON, [`Error::Invalid`] with every fault: `parts[3].mass_kg`.
pub fn from_json(text: &str) -> Result<Vec<Part>> {
    let value = parse_json(text.as_bytes())?;
    let rows = if value.is_array() {
        serde_json::from_value(value).unwrap_or_default()
    } else {
        let accepted = format!("a file with \"format\": \"{LIBRARY_FORMAT}\", \"version\": {LIBRARY_VERSION} and \"parts\" is accepted");
        let file: File = serde_json::from_value(value.clone()).map_err(|e| Error::field("file", e, accepted.clone()))?;
        if file.format != LIBRARY_FORMAT || file.version != LIBRARY_VERSION {
            return Err(Error::field("format", format!("\"{}\", version {}", file.format, file.version), accepted));
        }
        file.parts
    };
    let rows: Vec<Value> = rows;
    read(rows.into_iter().enumerate().map(|(i, value)| (format!("parts[{i}]."), Ok(value))).collect())
}

fn number_columns(kind: &str) -> Vec<(String, &'static Field)> {
    fn add(group: &'static Group, path: &str, out: &mut Vec<(String, &'static Field)>) {
        for entry in group.entries {
            match entry {
                Entry::Number(field) => out.push((format!("{path}{}", field.key), field)),
                Entry::Object(key, inner) => add(inner, &format!("{path}{key}."), out),
                Entry::List(..) => {}
            }
        }
    }
    let mut out = Vec::new();
    if let Some(group) = group_of_part(kind) {
        add(group, "", &mut out);
    }
    out
}

/// What a column holds, by kind of part.
struct Columns {
    numbers: BTreeMap<&'static str, BTreeMap<String, &'static Field>>,
}

impl Columns {
    fn new() -> Self {
        Self { numbers: KINDS.into_iter().map(|k| (k, number_columns(k).into_iter().collect())).collect() }
    }

    fn is_known(&self, column: &str) -> bool {
        column == OCV
            || column.starts_with("sources.")
            || WORDS.iter().any(|w| w.0 == column)
            || self.numbers.values().any(|n| n.contains_key(column))
    }

    /// All of them, words first, in a steady order.
    fn all(&self) -> Vec<String> {
        let mut all: Vec<String> = WORDS.iter().map(|w| w.0.to_owned()).collect();
        for kind in KINDS {
            for (column, _) in number_columns(kind) {
                if !all.contains(&column) {
                    all.push(column);
                }
            }
        }
        all.push(OCV.to_owned());
        all
    }
}

fn record(
    headers: &[String],
    row: &csv::StringRecord,
    columns: &Columns,
    commas: Commas,
    at: &str,
) -> std::result::Result<Value, Vec<Problem>> {
    let mut faults: Vec<Problem> = Vec::new();
    let mut out = Map::new();
    let cells = || headers.iter().map(String::as_str).zip(row.iter()).filter(|(_, cell)| !cell.trim().is_empty());
    let kind = cells().find(|(h, _)| *h == "part").map(|(_, cell)| cell.trim().to_lowercase()).unwrap_or_default();
    if !KINDS.contains(&kind.as_str()) {
        return Err(vec![Problem::new(format!("{at}part"), format!("\"{kind}\""), format!("accepted are {}", KINDS.join(", ")))]);
    }
    for (column, cell) in cells() {
        let path = format!("{at}{column}");
        let word = WORDS.iter().find(|w| w.0 == column);
        let of_this_kind = column.starts_with("sources.")
            || column == OCV && kind == "module"
            || word.is_some_and(|w| w.1.contains(&kind.as_str()))
            || columns.numbers[kind.as_str()].contains_key(column);
        if !of_this_kind {
            faults.push(Problem::new(path, format!("\"{}\"", cell.trim()), format!("a {kind} has no {column}; leave it empty")));
            continue;
        }
        let value = match column {
            "part" => Ok(json!(kind)),
            "motor_kinds" | "throttle_signals" => Ok(json!(cell.split([' ', ';']).filter(|s| !s.is_empty()).collect::<Vec<_>>())),
            "model.points" => pairs(cell, &["speed_rpm", "torque_nm", "efficiency"], commas),
            OCV => pairs(cell, &["soc", "volts_v"], commas),
            _ if word.is_some() => Ok(json!(unguarded(cell.trim()))),
            _ if column.starts_with("sources.") => Ok(source(cell)),
            _ => {
                let field = columns.numbers[kind.as_str()][column];
                number(cell, field, commas).map(|x| if field.whole && x.fract() == 0.0 { json!(x as i64) } else { json!(x) })
            }
        };
        match value {
            Ok(value) => put(&mut out, column, value),
            Err(accepted) => faults.push(Problem::new(path, format!("\"{}\"", cell.trim()), accepted)),
        }
    }
    if faults.is_empty() { Ok(Value::Object(out)) } else { Err(faults) }
}

/// Reads a CSV library file: a row a part, dotted columns for what stands inside (`model.peak_torque_nm`, `sources.capacity_ah`), lists
/// as `soc:volts` points with blanks between. Numbers may carry a unit, which is converted.
///
/// # Errors
/// [`Error::Invalid`] naming unknown columns, or every faulty row by its line (`row 7, mass_kg`).
pub fn from_csv(text: &str) -> Result<Vec<Part>> {
    let mut reader = csv::ReaderBuilder::new()
        .delimiter(delimiter(text))
        .flexible(false)
        .trim(csv::Trim::All)
        .from_reader(text.trim_start_matches('\u{feff}').as_bytes());
    let unreadable = |e: &csv::Error| {
        let row = e.position().map_or_else(|| "the file".to_owned(), |p| format!("row {}", p.line()));
        let given = match e.kind() {
            csv::ErrorKind::UnequalLengths { len, expected_len, .. } => format!("{len} cells long, the header has {expected_len}"),
            _ => e.to_string(),
        };
        Problem::new(
            row,
            given,
            "text separated by commas, semicolons or tabs with as many cells in every row as in the header is accepted",
        )
    };
    let headers: Vec<String> = match reader.headers() {
        Ok(h) => h.iter().map(str::to_owned).collect(),
        Err(e) => return Err(Error::Invalid(vec![unreadable(&e)])),
    };
    if headers.len() > MOST_COLUMNS {
        return Err(Error::field("row 1", format!("{} columns", headers.len()), format!("at most {MOST_COLUMNS} are accepted")));
    }
    let columns = Columns::new();
    let mut faults = Problems::new();
    let mut seen = BTreeSet::new();
    for name in &headers {
        let at = || format!("row 1, column \"{name}\"");
        if !columns.is_known(name) {
            let near = |known: &String| strsim::damerau_levenshtein(known, name);
            let nearest = columns.all().into_iter().min_by_key(near).unwrap_or_default();
            faults.add(|| Problem::new(at(), "not known", format!("the nearest column is {nearest}; docs/FORMATS.md lists them all")));
        } else if !seen.insert(name.as_str()) {
            faults.add(|| Problem::new(at(), "there twice", "each column is accepted once"));
        }
    }
    for needed in ["part", "name"] {
        if !headers.iter().any(|h| h == needed) {
            faults.push(Problem::new(format!("row 1, column \"{needed}\""), "", "a header line that names it is needed"));
        }
    }
    faults.or(())?;
    let records: Vec<_> = reader.records().take(MOST_PARTS + 1).collect();
    // Words may hold commas of their own; what stands in a column of numbers says how the file writes them.
    let is_number = |heading: &str| columns.numbers.values().any(|n| n.contains_key(heading));
    let cells = records.iter().flatten().flat_map(|r| headers.iter().zip(r.iter()));
    let commas = Commas::of(cells.filter(|(h, _)| is_number(h)).map(|(_, cell)| figures(cell)))?;
    let mut rows = Vec::new();
    for (i, row) in records.into_iter().enumerate() {
        match row {
            Ok(row) => {
                let line = row.position().map_or(i as u64 + 2, csv::Position::line);
                let at = format!("row {line}, ");
                let value = record(&headers, &row, &columns, commas, &at);
                rows.push((at, value));
            }
            Err(e) => rows.push((String::new(), Err(vec![unreadable(&e)]))),
        }
        if rows.len() > MOST_PARTS {
            // Counting the rest is quick and tells a person how to split.
            let count = text.lines().skip(1).filter(|l| !l.trim().is_empty()).count();
            return Err(too_many(count));
        }
    }
    read(rows)
}

fn too_many(count: usize) -> Error {
    Error::field(
        "the file",
        format!("{count} parts long"),
        format!("at most {MOST_PARTS} are read at once; split it or leave out what nobody would buy"),
    )
}

/// Checks rows that could be taken apart, all or nothing.
fn read(rows: Vec<(String, std::result::Result<Value, Vec<Problem>>)>) -> Result<Vec<Part>> {
    if rows.is_empty() {
        return Err(Error::field("the file", "without any part", "at least one part is needed"));
    }
    if rows.len() > MOST_PARTS {
        return Err(too_many(rows.len()));
    }
    let (mut parts, mut faults) = (Vec::new(), Problems::new());
    let mut seen: BTreeMap<(String, String), String> = BTreeMap::new();
    for (at, row) in rows {
        let found = row.and_then(|value| Part::from_value(&value).map_err(|e| located(&e, &at)));
        match found {
            Ok(part) => {
                let place = at.trim_end_matches([' ', ',', '.']).to_owned();
                let key = (part.kind().to_owned(), part.name().to_owned());
                match seen.get(&key) {
                    Some(first) => {
                        let given = format!("\"{}\"", part.name());
                        faults.push(Problem::new(
                            format!("{at}name"),
                            given,
                            format!("{first} has the same name; every {} needs its own", key.0),
                        ));
                    }
                    None => {
                        seen.insert(key, place);
                        parts.push(part);
                    }
                }
            }
            Err(problems) => faults.extend(problems),
        }
    }
    faults.or(parts)
}

fn located(error: &Error, at: &str) -> Vec<Problem> {
    match error {
        Error::Invalid(problems) => problems
            .iter()
            .map(|p| {
                let path = format!("{at}{}", if p.path.is_empty() { "record" } else { &p.path });
                let message = if p.message.starts_with(&p.path) { format!("{at}{}", p.message) } else { format!("{path}: {}", p.message) };
                Problem { path, message, ..p.clone() }
            })
            .collect(),
        other => vec![Problem::new(at, other, "a JSON record is accepted")],
    }
}

/// Parts as CSV; read again by [`from_csv`] they are the same parts.
///
/// ```
/// use joulethesis_core::library::{builtin, exchange};
/// let some = &builtin()[..3];
/// assert_eq!(exchange::from_csv(&exchange::to_csv(some))?, some);
/// # Ok::<(), joulethesis_core::error::Error>(())
/// ```
#[must_use]
pub fn to_csv(parts: &[Part]) -> String {
    let rows: Vec<BTreeMap<String, String>> = parts.iter().filter_map(|p| serde_json::to_value(p).ok()?.as_object().map(flat)).collect();
    let mut headers: Vec<String> = Columns::new().all().into_iter().filter(|c| rows.iter().any(|r| r.contains_key(c))).collect();
    for key in rows.iter().flat_map(BTreeMap::keys) {
        if !headers.contains(key) {
            headers.push(key.clone());
        }
    }
    let mut writer = csv::Writer::from_writer(Vec::new());
    // Writing to memory cannot fail.
    let _ = writer.write_record(&headers);
    for row in &rows {
        let _ = writer.write_record(headers.iter().map(|h| row.get(h).map_or_else(String::new, |c| guarded(c))));
    }
    String::from_utf8(writer.into_inner().unwrap_or_default()).unwrap_or_default()
}
