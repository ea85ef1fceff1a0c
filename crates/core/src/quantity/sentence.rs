//! Sentences that carry their figures as figures, so that whoever shows one says it in the units of the reader.

use std::fmt;

use serde::Serialize;

/// A piece of a sentence.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(untagged)]
pub enum Piece {
    /// Words, shown as they are.
    Words(String),
    /// A figure with its unit.
    Figure {
        /// Value in that unit.
        value: f64,
        /// A symbol of [`super::units::UNITS`], `money`, or empty.
        unit: &'static str,
        /// Digits after the point in that unit; in another unit as many figures count.
        digits: usize,
        /// The dimension of [`super::units::SYSTEMS`] it is shown by, where the unit stands in several.
        #[serde(skip_serializing_if = "Option::is_none")]
        dimension: Option<&'static str>,
    },
}

/// A figure for a `sentence!`, with digits after the point.
#[must_use]
pub fn figure(value: f64, unit: &'static str, digits: usize) -> Piece {
    Piece::Figure { value, unit, digits, dimension: None }
}

/// Power in a wire, kW, for a `sentence!`.
#[must_use]
pub(crate) fn electric_kw(value: f64, digits: usize) -> Piece {
    Piece::Figure { value, unit: "kW", digits, dimension: Some("electric_power") }
}

/// Power of a consumer, W, for a `sentence!`: told in watts, not in thousands of them.
#[must_use]
pub fn load_w(value: f64, digits: usize) -> Piece {
    Piece::Figure { value, unit: "W", digits, dimension: Some("load") }
}

/// A force that holds a vehicle back, N: told in newton, not in thousands of them.
#[must_use]
pub(crate) fn drag_n(value: f64, digits: usize) -> Piece {
    Piece::Figure { value, unit: "N", digits, dimension: Some("drag") }
}

/// A height or way, m, for a `sentence!`.
#[must_use]
pub fn height_m(value: f64, digits: usize) -> Piece {
    Piece::Figure { value, unit: "m", digits, dimension: Some("height") }
}

/// A machined length, mm: told in millimetres, not in thousandths of a metre.
#[must_use]
pub(crate) fn machined_mm(value: f64, digits: usize) -> Piece {
    Piece::Figure { value, unit: "mm", digits, dimension: Some("machined") }
}

impl From<&str> for Piece {
    fn from(words: &str) -> Self {
        Self::Words(words.to_owned())
    }
}

impl From<&String> for Piece {
    fn from(words: &String) -> Self {
        Self::Words(words.clone())
    }
}

impl From<String> for Piece {
    fn from(words: String) -> Self {
        Self::Words(words)
    }
}

impl From<u32> for Piece {
    fn from(count: u32) -> Self {
        Self::Words(count.to_string())
    }
}

/// Words and figures in the order they are read. Displays in the units the figures are stored in.
///
/// ```
/// use joulethesis_core::quantity::{Sentence, figure};
/// let said = Sentence::filled("{} needs {}.", vec!["It".into(), figure(96.56, "km/h", 0)]);
/// assert_eq!(said.to_string(), "It needs 97 km/h.");
/// assert_eq!(serde_json::to_string(&said).unwrap(), r#"["It needs ",{"value":96.56,"unit":"km/h","digits":0},"."]"#);
/// ```
#[derive(Debug, Clone, Default, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Sentence(Vec<Piece>);

impl Sentence {
    /// Fills the holes `{}` of a template, one after the other. Called by `sentence!`, which knows their number.
    #[must_use]
    pub fn filled(template: &str, pieces: Vec<Piece>) -> Self {
        let words: Vec<&str> = template.split("{}").collect();
        assert_eq!(words.len(), pieces.len() + 1, "a hole of \"{template}\" without a piece, or a piece without a hole");
        let mut whole = Self(vec![]);
        let mut pieces = pieces.into_iter();
        for part in words {
            whole.push(part.into());
            if let Some(piece) = pieces.next() {
                whole.push(piece);
            }
        }
        whole
    }

    fn push(&mut self, piece: Piece) {
        match (self.0.last_mut(), piece) {
            (_, Piece::Words(more)) if more.is_empty() => {}
            (Some(Piece::Words(before)), Piece::Words(more)) => before.push_str(&more),
            (_, piece) => self.0.push(piece),
        }
    }

    /// This one and another after it.
    #[must_use]
    pub fn then(mut self, more: Self) -> Self {
        for piece in more.0 {
            self.push(piece);
        }
        self
    }

    /// Sentences in a row, with words between.
    #[must_use]
    pub fn joined(all: impl IntoIterator<Item = Self>, between: &str) -> Self {
        all.into_iter().reduce(|a, b| a.then(between.into()).then(b)).unwrap_or_default()
    }

    /// Whether it says nothing.
    #[must_use]
    pub fn is_empty(&self) -> bool {
        self.0.is_empty()
    }
}

impl From<&str> for Sentence {
    fn from(words: &str) -> Self {
        Self::filled("{}", vec![words.into()])
    }
}

impl From<String> for Sentence {
    fn from(words: String) -> Self {
        words.as_str().into()
    }
}

impl fmt::Display for Sentence {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        for piece in &self.0 {
            match piece {
                Piece::Words(words) => f.write_str(words)?,
                Piece::Figure { value, unit, digits, .. } => {
                    write!(f, "{value:.digits$}")?;
                    // Whoever shows an amount of money knows in which currency.
                    if !unit.is_empty() && *unit != "money" {
                        write!(f, " {unit}")?;
                    }
                }
            }
        }
        Ok(())
    }
}

/// A [`Sentence`] of a template whose holes `{}` are filled with words and
/// [`figure`]s.
macro_rules! sentence {
    ($template:literal $(, $piece:expr)* $(,)?) => {
        $crate::quantity::Sentence::filled($template, vec![$($crate::quantity::Piece::from($piece)),*])
    };
}

pub(crate) use sentence;
