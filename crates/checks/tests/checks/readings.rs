//! Tables of readings: decimal and thousands commas.

use joulethesis_core::error::Problems;
use joulethesis_core::trip::table::table;

fn numbers(cells: &[&str]) -> Vec<Option<f64>> {
    let text = format!("x;y\n{}", cells.iter().map(|c| format!("{c};\n")).collect::<String>());
    let columns = table(&text, &["x"]).expect("a table");
    columns.rows().map(|r| r.number("x", &mut Problems::new())).collect()
}

#[test]
fn commas_are_told_apart_or_refused() {
    assert_eq!(numbers(&["1,000", "2"]), [None, Some(2.0)]);
    assert_eq!(numbers(&["1,000", "2,5"]), [Some(1.0), Some(2.5)]);
    assert_eq!(numbers(&["1,000", "2,345.5"]), [Some(1000.0), Some(2345.5)]);
    assert_eq!(numbers(&["1,000,000", "12,345"]), [Some(1e6), Some(12_345.0)]);
    assert_eq!(numbers(&["0,125", "1.234,5"]), [Some(0.125), Some(1234.5)]);
    assert!(table("x;y\n1,5;1,234.5\n", &["x"]).is_err());
}
