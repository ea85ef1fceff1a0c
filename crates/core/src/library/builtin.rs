//! The built-in library: invented, typical parts of every class, shipped as data.

use std::sync::OnceLock;

use super::Part;

const FILES: [(&str, &str); 5] = [
    ("motors.json", include_str!("../../parts/motors.json")),
    ("controllers.json", include_str!("../../parts/controllers.json")),
    ("modules.json", include_str!("../../parts/modules.json")),
    ("chargers.json", include_str!("../../parts/chargers.json")),
    ("components.json", include_str!("../../parts/components.json")),
];

/// Every built-in part. Ratings are invented within the ranges usual for the class (common practice).
///
/// # Panics
/// Never in a tested build: the files are part of the program and a test reads every record.
#[must_use]
pub fn builtin() -> &'static [Part] {
    static READ: OnceLock<Vec<Part>> = OnceLock::new();
    READ.get_or_init(|| {
        let read = |(name, text): &(&str, &str)| -> Vec<Part> {
            let values: Vec<serde_json::Value> = serde_json::from_str(text).unwrap_or_else(|e| panic!("{name}: {e}"));
            values.iter().map(|v| Part::from_value(v).unwrap_or_else(|e| panic!("{name}: {v}: {e}"))).collect()
        };
        FILES.iter().flat_map(read).collect()
    })
}
