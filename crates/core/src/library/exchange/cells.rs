//! Cells of a library file: numbers with units, lists of pairs, sources, and words that a spreadsheet would run.

use std::collections::BTreeMap;

use serde_json::{Map, Value, json};

use crate::quantity::fields::Field;
use crate::quantity::units::{UNITS, Unit, convert};
use crate::quantity::{Commas, doubtful_comma};

/// A bare number that may be no more than this is a share, and may be told in percent.
const MOST_SHARE: f64 = 2.0;

pub(super) fn spellings(dimension: &str) -> Vec<&'static str> {
    UNITS.iter().filter(|u| u.dimension == dimension).map(|u| u.symbol).collect()
}

pub(super) fn unit_named(word: &str, dimension: &str) -> Option<&'static Unit> {
    let lower = word.to_lowercase();
    let of = || UNITS.iter().filter(|u| u.dimension == dimension);
    // Exact first: mW and MW differ by case alone.
    of().find(|u| u.symbol == word).or_else(|| of().find(|u| u.symbol.to_lowercase() == lower || u.aliases.contains(&lower.as_str())))
}

/// Where the figures of a cell end and its unit begins.
fn figures_end(text: &str) -> usize {
    text.find(|c: char| !(c.is_ascii_digit() || "+-.,eE".contains(c))).unwrap_or(text.len())
}

/// The figures of a cell, for [`Commas::of`].
pub(super) fn figures(text: &str) -> &str {
    let text = text.trim();
    &text[..figures_end(text)]
}

/// A number as people write it, with or without a unit, in the unit of its field. A share may be given in percent.
pub(super) fn number(text: &str, field: &Field, commas: Commas) -> std::result::Result<f64, String> {
    let text = text.trim();
    let end = figures_end(text);
    // An exponent needs digits behind it; `5 e` is a unit nobody has.
    let (figures, word) = (text[..end].trim(), text[end..].trim());
    let home = UNITS.iter().find(|u| u.symbol == field.unit);
    let accepted = || match home {
        Some(u) => {
            format!("a plain number in {} or one with {} is accepted, with a decimal point", u.symbol, spellings(u.dimension).join(", "))
        }
        None => "a plain number with a decimal point is accepted".to_owned(),
    };
    let value: f64 = commas.plain(figures).ok_or_else(|| doubtful_comma(figures))?.parse().map_err(|_| accepted())?;
    if word.is_empty() {
        return Ok(value);
    }
    if word == "%" && field.unit.is_empty() && field.max <= MOST_SHARE {
        return Ok(value / 100.0);
    }
    let given = home.and_then(|h| unit_named(word, h.dimension)).ok_or_else(accepted)?;
    convert(value, given.symbol, field.unit).ok_or_else(accepted)
}

/// `0:3.0 0.5:3.3 1:3.6` as a list of records.
pub(super) fn pairs(text: &str, keys: &[&str], commas: Commas) -> std::result::Result<Value, String> {
    let accepted = || format!("{} with colons between and blanks between the points, as {} is accepted", keys.join(":"), "0:3.0 1:3.6");
    text.split_whitespace()
        .map(|point| {
            let parts: Vec<&str> = point.split(':').collect();
            if parts.len() < 2 || parts.len() > keys.len() {
                return Err(accepted());
            }
            let mut map = Map::new();
            for (key, part) in keys.iter().zip(parts) {
                map.insert((*key).to_owned(), json!(commas.plain(part).and_then(|p| p.parse::<f64>().ok()).ok_or_else(accepted)?));
            }
            Ok(Value::Object(map))
        })
        .collect::<std::result::Result<Vec<_>, _>>()
        .map(Value::from)
}

/// What makes a spreadsheet run a cell as a formula.
const RUN: [char; 6] = ['=', '+', '-', '@', '\t', '\r'];

pub(super) fn would_run(text: &str) -> bool {
    text.trim_start_matches('\'').starts_with(RUN)
}

/// Words of a cell as a spreadsheet may show them: an apostrophe keeps it from running what looks like a formula.
pub(crate) fn guarded(text: &str) -> String {
    if would_run(text) { format!("'{text}") } else { text.to_owned() }
}

/// The words of a cell that [`guarded`] wrote.
pub(crate) fn unguarded(cell: &str) -> &str {
    cell.strip_prefix('\'').filter(|_| would_run(cell)).unwrap_or(cell)
}

pub(super) fn put(record: &mut Map<String, Value>, column: &str, value: Value) {
    match column.split_once('.') {
        Some((outer, inner)) => {
            let child = record.entry(outer).or_insert_with(|| json!({}));
            if let Some(map) = child.as_object_mut() {
                map.insert(inner.to_owned(), value);
            }
        }
        None => {
            record.insert(column.to_owned(), value);
        }
    }
}

pub(super) fn source(text: &str) -> Value {
    match text.trim().split_once(' ') {
        Some((from, percent)) => match percent.trim().trim_end_matches('%').trim().parse::<f64>() {
            Ok(p) => json!({ "from": from, "spread_percent": p }),
            Err(_) => json!({ "from": text.trim() }),
        },
        None => json!({ "from": text.trim() }),
    }
}

pub(super) fn cell(value: &Value) -> String {
    match value {
        Value::String(s) => s.clone(),
        Value::Null => String::new(),
        Value::Array(items) => items
            .iter()
            .map(|item| match item {
                Value::Object(point) => {
                    let order = ["soc", "volts_v", "speed_rpm", "torque_nm", "efficiency"];
                    order.iter().filter_map(|k| point.get(*k)).map(Value::to_string).collect::<Vec<_>>().join(":")
                }
                other => cell(other),
            })
            .collect::<Vec<_>>()
            .join(" "),
        other => other.to_string(),
    }
}

pub(super) fn flat(record: &Map<String, Value>) -> BTreeMap<String, String> {
    let mut out = BTreeMap::new();
    for (key, value) in record {
        match value {
            Value::Object(inner) if key == "sources" => {
                for (of, source) in inner {
                    let spread = source.get("spread_percent").and_then(Value::as_f64).map_or_else(String::new, |p| format!(" {p} %"));
                    out.insert(format!("sources.{of}"), cell(&source["from"]) + &spread);
                }
            }
            Value::Object(inner) => out.extend(inner.iter().map(|(k, v)| (format!("{key}.{k}"), cell(v)))),
            other => {
                out.insert(key.clone(), cell(other));
            }
        }
    }
    out
}
