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

/// Loads by load index from 20 on, kg.
#[rustfmt::skip]
const LOADS_KG: [f64; 107] = [
    80.0, 82.5, 85.0, 87.5, 90.0, 92.5, 95.0, 97.5, 100.0, 103.0,
    106.0, 109.0, 112.0, 115.0, 118.0, 121.0, 125.0, 128.0, 132.0, 136.0,
    140.0, 145.0, 150.0, 155.0, 160.0, 165.0, 170.0, 175.0, 180.0, 185.0,
    190.0, 195.0, 200.0, 206.0, 212.0, 218.0, 224.0, 230.0, 236.0, 243.0,
    250.0, 257.0, 265.0, 272.0, 280.0, 290.0, 300.0, 307.0, 315.0, 325.0,
    335.0, 345.0, 355.0, 365.0, 375.0, 387.0, 400.0, 412.0, 425.0, 437.0,
    450.0, 462.0, 475.0, 487.0, 500.0, 515.0, 530.0, 545.0, 560.0, 580.0,
    600.0, 615.0, 630.0, 650.0, 670.0, 690.0, 710.0, 730.0, 750.0, 775.0,
    800.0, 825.0, 850.0, 875.0, 900.0, 925.0, 950.0, 975.0, 1000.0, 1030.0,
    1060.0, 1090.0, 1120.0, 1150.0, 1180.0, 1215.0, 1250.0, 1285.0, 1320.0, 1360.0,
    1400.0, 1450.0, 1500.0, 1550.0, 1600.0, 1650.0, 1700.0,
];
/// The first index of [`LOADS_KG`].
const FIRST_INDEX: u32 = 20;

/// Load of one tyre by its load index, kg; none of an index that the table does not hold.
///
/// ```
/// use joulethesis_core::document::tyre::load_kg;
/// assert_eq!([80, 91, 100].map(load_kg), [Some(450.0), Some(615.0), Some(800.0)]);
/// ```
///
/// # Source
/// ETRTO Standards Manual, table of load indices (from memory); near `45 kg x 10^(index/80)`.
#[must_use]
pub fn load_kg(index: u32) -> Option<f64> {
    LOADS_KG.get(index.checked_sub(FIRST_INDEX)? as usize).copied()
}

/// Load index that follows the size in a tyre code, as in `175/70 R13 82T`; of `104/102` the first, which is that of single wheels.
#[must_use]
pub fn load_index(code: &str) -> Option<u32> {
    let mut words = code.split_whitespace().skip(1).filter(|w| !w.starts_with(['R', 'r', '-', 'B', 'b']));
    words.find_map(|word| {
        let digits: String = word.chars().take_while(char::is_ascii_digit).collect();
        let speed = &word[digits.len()..];
        // A speed symbol follows; a bare number may be a rim.
        let is_symbol = speed.starts_with(|c: char| c.is_ascii_alphabetic()) || speed.starts_with('/');
        digits.parse().ok().filter(|i| is_symbol && load_kg(*i).is_some())
    })
}
