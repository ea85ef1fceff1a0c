//! A document that has passed its check: what every computation begins with.

use std::ops::Deref;

use super::{Document, FORMAT, VERSION};
use crate::error::{Error, Problem, Problems, Result};
use crate::quantity::{check_name, check_numbers, check_texts, deserialize, fields, join, parse_json};

/// A document that is sound as people wrote it. What sellers claim in it still stands as they claim it.
#[derive(Debug, Clone, PartialEq)]
pub struct Checked(Document);

impl Checked {
    /// The document with a change, checked again.
    ///
    /// # Errors
    /// As [`Document::checked`].
    pub fn with(&self, change: impl FnOnce(&mut Document)) -> Result<Self> {
        let mut document = self.0.clone();
        change(&mut document);
        document.checked()
    }

    /// As [`Self::with`], for changes that cannot break it: a record of the library, checked on its way there, in place of another.
    pub(crate) fn with_sound(&self, change: impl FnOnce(&mut Document)) -> Self {
        let mut document = self.0.clone();
        change(&mut document);
        Self(document)
    }

    /// The same with only those schedules that goals speak of, for judging claims: the others change none, and take longer than all else.
    #[must_use]
    pub fn without_idle_schedules(&self) -> Self {
        let asked = |id: &str| self.brief.goals.iter().any(|g| g.measure.trip() == Some(id));
        self.with_sound(|d| d.brief.schedules.retain(|s| asked(s.id())))
    }

    /// The document as people wrote it.
    #[must_use]
    pub fn into_written(self) -> Document {
        self.0
    }
}

impl Deref for Checked {
    type Target = Document;

    fn deref(&self) -> &Document {
        &self.0
    }
}

impl Document {
    /// Reads and checks a design document.
    ///
    /// Numbers are checked against the field catalogue first, so that a wrong one is reported with its own path,
    /// what was given and what is accepted; all such problems are listed together.
    ///
    /// # Errors
    /// [`Error::Unreadable`] for text that is no JSON, [`Error::Invalid`] for anything else.
    pub fn from_json(text: &[u8]) -> Result<Checked> {
        Self::from_value(&parse_json(text)?)
    }

    /// Reads and checks a design document that is already parsed.
    ///
    /// # Errors
    /// As [`Document::from_json`].
    pub fn from_value(value: &serde_json::Value) -> Result<Checked> {
        let format = value.get("format").and_then(|v| v.as_str()).unwrap_or_default();
        if format != FORMAT {
            return Err(Error::field("format", format!("\"{format}\""), format!("a design document says \"{FORMAT}\"")));
        }
        let version = value.get("version").cloned().unwrap_or_default();
        if version != serde_json::json!(VERSION) {
            return Err(Error::field("version", version, format!("this program reads version {VERSION}")));
        }
        let mut problems = Problems::new();
        check_texts(value, "", &mut problems);
        check_numbers(value, "", fields::DOCUMENT, &mut problems);
        if !problems.is_empty() {
            return Err(problems.into_error());
        }
        deserialize::<Self>(value, "")?.checked()
    }

    /// The document as one that is sound: its names, references, order and curves, what single numbers cannot show.
    ///
    /// # Errors
    /// [`Error::Invalid`] listing every problem found.
    pub fn checked(self) -> Result<Checked> {
        self.check()?;
        Ok(Checked(self))
    }

    /// Checks what single numbers cannot show.
    pub(super) fn check(&self) -> Result<()> {
        let mut problems = Problems::new();
        check_name(&self.name, "", &mut problems);
        self.brief.check("brief", &mut problems);
        self.donor.check("donor", &mut problems);
        self.design.check("design", &mut problems);
        let gears = self.driveline().gears.len();
        let mut gear_exists = |path: String, gear: Option<u32>| {
            if gear.is_some_and(|g| g as usize > gears) {
                problems.push(Problem::new(path, gear.unwrap_or_default(), format!("the driveline has {gears} gears")));
            }
        };
        gear_exists("brief.performance.gear".to_owned(), self.brief.performance.gear);
        for (i, trip) in self.brief.trips.iter().enumerate() {
            gear_exists(join("brief", &format!("trips[{i}].gear")), trip.gear);
        }
        let ranges = self.driveline().ranges.len();
        for (i, trip) in self.brief.trips.iter().enumerate() {
            if let Some(range) = trip.transfer_range.filter(|r| *r as usize > ranges.max(1)) {
                problems.push(Problem::new(
                    format!("brief.trips[{i}].transfer_range"),
                    range,
                    format!("the transfer box has {ranges} ranges"),
                ));
            }
        }
        problems.or(())
    }
}
