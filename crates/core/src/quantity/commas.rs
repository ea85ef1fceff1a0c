//! What a comma inside a number means in one file.

use crate::error::{Error, Result};

/// How the numbers of a file are written.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Commas {
    /// No number says: one comma before three digits may be either.
    Unknown,
    /// It stands before the decimals.
    Decimal,
    /// It groups thousands.
    Thousands,
}

impl Commas {
    /// From the numbers that leave no doubt: `0,5`, `12,34` and `1.234,5` have decimals behind them, `1,000,000` and `1,234.5` group
    /// thousands; `1,000` alone may be either. Cells that are no bare numbers say nothing.
    pub(crate) fn of<'a>(cells: impl Iterator<Item = &'a str>) -> Result<Self> {
        let mut known = Self::Unknown;
        for cell in cells.filter(|c| c.contains(',') && c.len() < 40) {
            let figures = cell.trim_start_matches(['+', '-']);
            let Some((whole, last)) = figures.rsplit_once(',') else { continue };
            if !figures.bytes().all(|b| b.is_ascii_digit() || matches!(b, b',' | b'.')) {
                continue;
            }
            let says = match (whole.contains(','), whole.contains('.'), last.contains('.')) {
                (true, _, _) | (_, _, true) => Self::Thousands,
                (_, true, _) => Self::Decimal,
                // A group of thousands has three digits and no zero or four before it.
                _ if last.len() != 3 || whole.len() > 3 || whole.is_empty() || whole.starts_with('0') => Self::Decimal,
                _ => continue,
            };
            if known != Self::Unknown && known != says {
                let accepted = "one way of writing numbers in a file is accepted; best with a decimal point and no other marks";
                return Err(Error::field("file", format!("\"{cell}\" beside numbers whose commas mean something else"), accepted));
            }
            known = says;
        }
        Ok(known)
    }

    /// A number with a decimal point and no other marks; none where its comma may mean two things.
    pub(crate) fn plain(self, text: &str) -> Option<String> {
        match self {
            Self::Decimal => match text.split_once(',') {
                None if grouped(text, '.') && text.contains('.') => None,
                None => Some(text.to_owned()),
                Some((whole, decimals)) => {
                    let sound = grouped(whole, '.') && !decimals.contains(['.', ',']);
                    sound.then(|| format!("{}.{decimals}", whole.replace('.', "")))
                }
            },
            _ if !text.contains(',') => Some(text.to_owned()),
            Self::Thousands => {
                let whole = text.split('.').next().unwrap_or_default();
                grouped(whole, ',').then(|| text.replace(',', ""))
            }
            Self::Unknown => None,
        }
    }
}

/// Whether a whole number is written without marks, or in groups of three digits behind the first.
fn grouped(whole: &str, mark: char) -> bool {
    let mut groups = whole.trim_start_matches(['+', '-']).split(mark);
    let first = groups.next().unwrap_or_default();
    let digits = |g: &str| g.bytes().all(|b| b.is_ascii_digit());
    let mut rest = groups.peekable();
    digits(first) && (rest.peek().is_none() || (1..=3).contains(&first.len())) && rest.all(|g| g.len() == 3 && digits(g))
}

/// What is said of a number whose comma may mean two things.
pub(crate) fn doubtful_comma(text: &str) -> String {
    format!("it may be {} or {}; write it with a decimal point", text.replace(',', "."), text.replace(',', ""))
}
