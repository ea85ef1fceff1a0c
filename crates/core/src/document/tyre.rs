//! Tyre codes to rolling radius.

/// Metres to an inch.
pub const INCH_M: f64 = 0.0254;

/// Rolling circumference over outer diameter: radial and diagonal-ply (ETRTO practice, from memory).
const RADIAL: f64 = 3.05;
const DIAGONAL: f64 = 2.99;

/// Rolling radius in m (rolling circumference / 2 pi) of a tyre code.
///
/// Understood are metric codes (`175/70 R13`, `4.00` aspect as `120/80-12`), inch or flotation codes (`31x10.50 R15`)
/// and old inch codes (`3.50-10`, `6.00-16`; aspect 100 % up to 4.5 in of width, 90 % above, common practice).
///
/// # Errors
/// Says what is accepted when the code is not understood or is no road-going size.
///
/// ```
/// let radius = joulethesis_core::document::tyre::rolling_radius_m("175/70 R13").unwrap();
/// assert!((radius - 0.2792).abs() < 1e-3);
/// ```
pub fn rolling_radius_m(code: &str) -> Result<f64, String> {
    let accepted = || "codes like 175/70 R13, 31x10.50 R15 or 3.50-10 are accepted, with an outer diameter from 0.15 to 2 m".to_owned();
    let (outer_m, radial) = outer_diameter_m(code).ok_or_else(accepted)?;
    if !(0.15..=2.0).contains(&outer_m) {
        return Err(accepted());
    }
    let factor = if radial { RADIAL } else { DIAGONAL };
    Ok(outer_m * factor / std::f64::consts::TAU)
}

/// Outer diameter in m, and whether the tyre is radial.
pub fn outer_diameter_m(code: &str) -> Option<(f64, bool)> {
    let text = code.trim().to_uppercase();
    let text = text.strip_prefix("LT").or_else(|| text.strip_prefix('P')).unwrap_or(&text);
    let at = text.find(['R', '-', 'B'])?;
    let radial = text[at..].starts_with('R');
    let size: String = text[..at].chars().filter(|c| !c.is_whitespace()).collect();
    let size = size.trim_end_matches(['Z', 'H', 'V', 'S']);
    // A load index or a C for commercial may follow the rim.
    let rim: String = text[at + 1..].trim_start().chars().take_while(|c| c.is_ascii_digit() || *c == '.').collect();
    let rim_m = number(&rim).filter(|r| (3.0..=30.0).contains(r))? * INCH_M;
    if let Some((outer, _width)) = size.split_once('X') {
        return Some((number(outer)? * INCH_M, radial));
    }
    if let Some((width, aspect)) = size.split_once('/') {
        let (width_mm, aspect) = (number(width)?, number(aspect)?);
        if !(40.0..=455.0).contains(&width_mm) || !(20.0..=100.0).contains(&aspect) {
            return None;
        }
        return Some((rim_m + 2.0 * width_mm * 1e-3 * aspect / 100.0, radial));
    }
    let width = number(size)?;
    if (50.0..=455.0).contains(&width) {
        // 155 R13: metric width, full profile of 82 % (ETRTO practice, from memory).
        return Some((rim_m + 2.0 * width * 1e-3 * 0.82, radial));
    }
    if !(1.5..=14.0).contains(&width) {
        return None;
    }
    let aspect = if width <= 4.5 { 1.0 } else { 0.90 };
    Some((rim_m + 2.0 * width * INCH_M * aspect, radial))
}

fn number(text: &str) -> Option<f64> {
    text.parse::<f64>().ok().filter(|x| x.is_finite() && *x > 0.0)
}
