//! Wiring list and parts list as CSV.

use super::circuit::Circuit;

/// A figure without digits that say nothing.
pub(super) fn plain(value: f64) -> String {
    let text = format!("{value:.3}");
    match text.trim_end_matches('0').trim_end_matches('.') {
        "-0" => "0".to_owned(),
        digits => digits.to_owned(),
    }
}

pub(super) fn written(header: &[&str], rows: impl Iterator<Item = Vec<String>>) -> String {
    let mut writer = csv::Writer::from_writer(Vec::new());
    // A number runs nothing, whatever its sign.
    let safe = |cell: &String| if cell.parse::<f64>().is_ok() { cell.clone() } else { crate::library::exchange::guarded(cell) };
    // Writing to memory cannot fail.
    let _ = writer.write_record(header);
    for row in rows {
        let _ = writer.write_record(row.iter().map(safe));
    }
    String::from_utf8(writer.into_inner().unwrap_or_default()).unwrap_or_default()
}

/// The wiring list: a wire a row.
#[must_use]
pub fn wiring_csv(circuit: &Circuit) -> String {
    let header = ["wire", "from", "to", "circuit", "conductors", "section", "section_mm2", "colour", "length_m", "fuse", "lug"];
    let row = |w: &super::Wire| {
        vec![
            w.id.clone(),
            w.from.clone(),
            w.to.clone(),
            w.circuit.word().to_owned(),
            w.cores.to_string(),
            w.section.clone(),
            w.section_mm2.map_or_else(String::new, plain),
            w.colour.clone(),
            plain(w.length_m),
            w.fuse.clone().unwrap_or_default(),
            w.lug.clone(),
        ]
    };
    written(&header, circuit.wires.iter().map(row))
}

/// The parts list: a part a row.
#[must_use]
pub fn parts_csv(circuit: &Circuit) -> String {
    let header = ["part", "name", "rating", "record", "count", "mass_kg_each", "price_each", "circuit"];
    let row = |p: &super::CircuitPart| {
        vec![
            p.id.clone(),
            p.name.clone(),
            p.rating.to_string(),
            p.record.clone().unwrap_or_default(),
            plain(p.count),
            p.mass_kg.map_or_else(String::new, plain),
            p.price.map_or_else(String::new, plain),
            p.circuit.word().to_owned(),
        ]
    };
    written(&header, circuit.parts.iter().filter(|p| p.listed).map(row))
}
