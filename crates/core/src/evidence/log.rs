//! Coast-down logs as CSV.

use crate::document::{CoastDirection, CoastPoint, CoastRun};
use crate::error::{Problem, Problems, Result};
use crate::trip::table::table;

/// Reads coast-down runs from CSV: columns `time_s`, a speed (`speed_kmh`, `speed_mph` or `speed_m_s`) and `direction` (`out` or
/// `back`). A new run begins where the direction changes or time starts again.
///
/// # Errors
/// Names every row that cannot be read.
///
/// ```
/// use joulethesis_core::evidence::runs_from_csv;
/// let runs = runs_from_csv("time_s,speed_kmh,direction\n0,60,out\n1,59,out\n0,60,back\n1,58,back\n")?;
/// assert_eq!(runs.len(), 2);
/// assert!(runs_from_csv("time_s,speed_kmh,direction\n0,60,sideways\n").is_err());
/// # Ok::<(), joulethesis_core::error::Error>(())
/// ```
pub fn runs_from_csv(text: &str) -> Result<Vec<CoastRun>> {
    let columns = table(text, &["time_s", "speed", "direction"])?;
    let mut runs: Vec<CoastRun> = Vec::new();
    let mut problems = Problems::new();
    for row in columns.rows() {
        let direction = match row.word("direction").to_lowercase().as_str() {
            "out" => CoastDirection::Out,
            "back" => CoastDirection::Back,
            other => {
                problems.add(|| Problem::new(format!("row {}, direction", row.number), format!("\"{other}\""), "out or back is accepted"));
                continue;
            }
        };
        let (Some(time_s), Some(speed_kmh)) = (row.number("time_s", &mut problems), row.speed_kmh(&mut problems)) else { continue };
        let starts = runs.last().is_none_or(|r| r.direction != direction || r.points.last().is_some_and(|p| time_s < p.time_s));
        if starts {
            runs.push(CoastRun { direction, points: Vec::new() });
        }
        if let Some(run) = runs.last_mut() {
            run.points.push(CoastPoint { time_s, speed_kmh });
        }
    }
    problems.or(runs)
}
