//! What other files are made from, so that units, fields and bounds have one definition.

use std::fmt::Write;

use joulethesis_core::charge::OUTLETS;
use joulethesis_core::document::{Answers, Connector, Document, MatchRequest, Measure, Schedule, VehicleKind};
use joulethesis_core::library::{ComponentKind, ThrottleSignal};
use joulethesis_core::matching::WARNINGS_KEPT;
use joulethesis_core::quantity::fields::{Entry, Field, Group, each_group};
use joulethesis_core::quantity::is_claimable;
use joulethesis_core::quantity::units::{SYSTEMS, UNITS, WIRE_GAUGES, wire_gauge_mm2};
use serde_json::{Map, Value, json};

/// Units, unit systems, the field catalogue, the kinds of goals, the warnings a search keeps and what is assumed of a kind of vehicle, as the interface reads them.
pub(crate) fn interface() -> Value {
    let mut groups = Map::new();
    // In the order in which they are filled in.
    let mut measured: Vec<&str> = Vec::new();
    each_group(&mut |group| {
        if group.name == "Measure" {
            measured.extend(numbers(group).map(|f| f.key));
        }
        let entry = |f: &Field| {
            let mut entry = json!(f);
            // A seller's claim of these may fall far short.
            entry["claimable"] = json!(is_claimable(f.key));
            entry["dimension"] = json!(f.dimension());
            (f.key.to_owned(), entry)
        };
        let fields: Map<String, Value> = numbers(group).map(entry).collect();
        if !fields.is_empty() {
            groups.insert(group.name.to_owned(), Value::Object(fields));
        }
    });
    let systems: Vec<Value> = SYSTEMS
        .iter()
        .map(|(dimension, metric, imperial, mix)| json!({ "dimension": dimension, "metric": metric, "imperial": imperial, "mix": mix }))
        .collect();
    let warnings: Vec<Value> = WARNINGS_KEPT.iter().map(|rule| json!({ "id": rule.id(), "name": rule.short() })).collect();
    let assumed: Map<String, Value> =
        VehicleKind::ALL.iter().filter_map(|kind| Some((json!(kind).as_str()?.to_owned(), json!(Answers::assumed(*kind))))).collect();
    // What counts of a donor of each kind where nobody knows better.
    let typical = |kind: &VehicleKind| {
        let donor = json!(Document::starter("", *kind, &Answers::default()).donor);
        donor.as_object().map(|d| d.iter().filter(|(_, v)| v.is_number()).map(|(k, v)| (k.clone(), v.clone())).collect::<Map<_, _>>())
    };
    let donors: Map<String, Value> =
        VehicleKind::ALL.iter().filter_map(|kind| Some((json!(kind).as_str()?.to_owned(), Value::Object(typical(kind)?)))).collect();
    let gauges: Vec<Value> = WIRE_GAUGES.iter().map(|(gauge, name)| json!({ "name": name, "mm2": wire_gauge_mm2(*gauge) })).collect();
    let measures: Vec<Value> = Measure::first_guesses()
        .iter()
        .map(|[metric, imperial]| {
            let (word, metric, imperial) = (metric.word(), json!(metric), json!(imperial));
            let keys: Vec<&str> = measured.iter().copied().filter(|key| metric.get(key).is_some()).collect();
            json!({ "word": word, "keys": keys, "metric": metric, "imperial": imperial })
        })
        .collect();
    let connectors: Vec<Value> = Connector::ALL
        .iter()
        .map(|c| json!({ "id": c, "name": c.ratings().name, "kind": c.ratings().kind, "current_a": c.ratings().current_a }))
        .collect();
    let outlets: Vec<Value> = OUTLETS.iter().map(|o| json!({ "region": o.region, "source": o.source, "socket": o.socket("") })).collect();
    let components: Vec<Value> =
        ComponentKind::ALL.iter().map(|k| json!({ "kind": k, "word": k.word(), "numbers": k.numbers(), "needs": k.needs() })).collect();
    let signals: Vec<Value> = ThrottleSignal::ALL.iter().map(|s| json!({ "id": s, "word": s.word() })).collect();
    let schedules: Map<String, Value> = Schedule::ALL.iter().map(|s| (s.id().to_owned(), json!(s.title()))).collect();
    json!({ "components": components, "signals": signals, "schedules": schedules, "connectors": connectors, "outlets": outlets, "request": MatchRequest::default(), "measures": measures, "assumed": assumed, "donors": donors, "units": UNITS, "systems": systems, "fields": groups, "warnings": warnings, "wire_gauges": gauges })
}

fn numbers(group: &'static Group) -> impl Iterator<Item = &'static joulethesis_core::quantity::fields::Field> {
    group.entries.iter().filter_map(|e| match e {
        Entry::Number(field) => Some(field),
        _ => None,
    })
}

/// The tables of docs/FORMATS.md: every number of every record with unit, range and default.
pub(crate) fn formats() -> String {
    let mut text = String::new();
    each_group(&mut |group| {
        if numbers(group).next().is_none() {
            return;
        }
        // Writing to a String cannot fail.
        let _ = write!(text, "\n### {}\n\n| key | meaning | unit | range | when absent |\n|---|---|---|---|---|\n", group.name);
        for f in numbers(group) {
            let whole = if f.whole { "whole, " } else { "" };
            let unit = if f.unit.is_empty() { "-" } else { f.unit };
            let _ = writeln!(text, "| `{}` | {} | {unit} | {whole}{} to {} | {} |", f.key, f.label, f.min, f.max, f.default);
        }
    });
    text
}
