//! JSON Schema of the design document, from the types' own descriptions and the field catalogue's bounds.

use joulethesis_core::quantity::fields::{Entry, each_group};
use serde_json::{Map, Value, json};

/// The schema of `joulethesis-design`, version 1 (JSON Schema 2020-12).
pub(crate) fn design() -> Value {
    let api = serde_json::to_value(joulethesis_server::open_api()).unwrap_or_default();
    let all = api["components"]["schemas"].as_object().cloned().unwrap_or_default();
    let mut kept = Map::new();
    keep("Document", &all, &mut kept);
    add_bounds(&mut kept);
    let mut root = json!({
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "Joulethesis design document, version 1",
        "$ref": "#/$defs/Document",
    });
    root["$defs"] = Value::Object(kept);
    rename(&mut root);
    root
}

/// Copies a schema and all that it refers to.
fn keep(name: &str, all: &Map<String, Value>, kept: &mut Map<String, Value>) {
    if kept.contains_key(name) {
        return;
    }
    let Some(schema) = all.get(name) else { return };
    kept.insert(name.to_owned(), schema.clone());
    let mut names = Vec::new();
    references(schema, &mut names);
    for inner in names {
        keep(&inner, all, kept);
    }
}

fn references(value: &Value, names: &mut Vec<String>) {
    match value {
        Value::Object(map) => {
            for (key, inner) in map {
                match inner.as_str().and_then(|s| s.strip_prefix("#/components/schemas/")) {
                    Some(name) if key == "$ref" => names.push(name.to_owned()),
                    _ => references(inner, names),
                }
            }
        }
        Value::Array(list) => list.iter().for_each(|v| references(v, names)),
        _ => {}
    }
}

fn rename(value: &mut Value) {
    match value {
        Value::Object(map) => {
            for (key, inner) in map {
                match inner.as_str().and_then(|s| s.strip_prefix("#/components/schemas/")) {
                    Some(name) if key == "$ref" => *inner = json!(format!("#/$defs/{name}")),
                    _ => rename(inner),
                }
            }
        }
        Value::Array(list) => list.iter_mut().for_each(rename),
        _ => {}
    }
}

/// Puts the catalogue's bounds beside each number, also inside the alternatives of an enum.
fn add_bounds(schemas: &mut Map<String, Value>) {
    each_group(&mut |group| {
        let Some(schema) = schemas.get_mut(group.name) else { return };
        for entry in group.entries {
            match entry {
                Entry::Number(field) => bound(schema, field.key, &|property| {
                    property["minimum"] = json!(field.min);
                    property["maximum"] = json!(field.max);
                }),
                Entry::List(key, _, longest) => bound(schema, key, &|property| property["maxItems"] = json!(longest)),
                Entry::Object(..) => {}
            }
        }
    });
}

fn bound(value: &mut Value, key: &str, change: &impl Fn(&mut Value)) {
    match value {
        Value::Object(map) => {
            if let Some(property) = map.get_mut("properties").and_then(|p| p.get_mut(key)) {
                change(property);
            }
            map.values_mut().for_each(|v| bound(v, key, change));
        }
        Value::Array(list) => list.iter_mut().for_each(|v| bound(v, key, change)),
        _ => {}
    }
}
