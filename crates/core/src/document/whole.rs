//! A whole conversion as one file: its name and remarks, brief and donor once, and every variant.

use serde::{Deserialize, Serialize};
use serde_json::Value;

use super::{Brief, Design, Document, Donor, FORMAT, Shortlist, VERSION};
use crate::error::{Error, Problem, Problems, Result};
use crate::quantity::units::UnitSystem;
use crate::quantity::{check_name, check_numbers, check_texts, deserialize, fields, join};

/// The only `format` accepted.
pub const CONVERSION_FORMAT: &str = "joulethesis-conversion";
/// Most variants of a conversion: the letters of the alphabet.
pub const MOST_VARIANTS: usize = 26;

/// A conversion with all its variants.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct ConversionFile {
    /// Always `joulethesis-conversion`.
    pub format: String,
    /// Always 1.
    pub version: u32,
    /// Name of the conversion.
    pub name: String,
    /// Remarks.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub notes: String,
    /// Units it is shown in.
    #[serde(default)]
    pub units: UnitSystem,
    /// What the vehicle must do.
    pub brief: Brief,
    /// The vehicle as it stands.
    pub donor: Donor,
    /// Vehicles that were looked at beside the donor.
    #[serde(default, skip_serializing_if = "Shortlist::is_empty")]
    pub shortlist: Shortlist,
    /// Its variants.
    pub designs: Vec<Variant>,
}

/// One variant in a file.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Variant {
    /// Its letter.
    pub label: String,
    /// What is put in.
    pub design: Design,
}

impl ConversionFile {
    /// Reads and checks a whole conversion, each variant against the brief and the donor.
    ///
    /// # Errors
    /// [`Error::Invalid`] naming every field that cannot be accepted.
    pub fn from_value(value: &Value) -> Result<Self> {
        let (format, version) = (value.get("format").and_then(Value::as_str), value.get("version").and_then(Value::as_u64));
        if format != Some(CONVERSION_FORMAT) || version != Some(u64::from(VERSION)) {
            let given = format!("\"{}\", version {}", format.unwrap_or_default(), version.unwrap_or_default());
            return Err(Error::field("format", given, format!("\"{CONVERSION_FORMAT}\", version {VERSION} is accepted")));
        }
        let mut problems = Problems::new();
        check_texts(value, "", &mut problems);
        for (key, group) in [("brief", fields::BRIEF), ("donor", fields::DONOR), ("shortlist", fields::SHORTLIST)] {
            check_numbers(&value[key], key, group, &mut problems);
        }
        let designs = value.get("designs").and_then(Value::as_array).map_or(&[][..], Vec::as_slice);
        if designs.len() > MOST_VARIANTS {
            let given = format!("{} entries long", designs.len());
            return Err(Error::field("designs", given, format!("at most {MOST_VARIANTS} variants are accepted")));
        }
        for (i, variant) in designs.iter().enumerate() {
            check_numbers(&variant["design"], &format!("designs[{i}].design"), fields::DESIGN, &mut problems);
        }
        problems.or(())?;
        let file: Self = deserialize(value, "")?;
        file.check()?;
        Ok(file)
    }

    fn check(&self) -> Result<()> {
        let mut problems = Problems::new();
        check_name(&self.name, "", &mut problems);
        self.shortlist.check("shortlist", &mut problems);
        for (i, variant) in self.designs.iter().enumerate() {
            let at = format!("designs[{i}]");
            let twice = self.designs[..i].iter().any(|v| v.label == variant.label);
            if twice || !(1..=8).contains(&variant.label.chars().count()) {
                let given = format!("\"{}\"", variant.label);
                problems.push(Problem::new(join(&at, "label"), given, "every variant needs a letter or short word of its own"));
            }
            if let Err(error) = self.document(variant).check() {
                problems.extend(error.problems().iter().map(|p| {
                    let path = p.path.strip_prefix("design.").map_or_else(|| p.path.clone(), |rest| format!("{at}.design.{rest}"));
                    Problem { message: p.message.replacen(&p.path, &path, 1), path, ..p.clone() }
                }));
            }
        }
        problems.or(())
    }

    /// The self-contained document of one of its variants.
    #[must_use]
    pub fn document(&self, variant: &Variant) -> Document {
        Document {
            format: FORMAT.to_owned(),
            version: VERSION,
            name: format!("{} {}", self.name, variant.label),
            brief: self.brief.clone(),
            donor: self.donor.clone(),
            design: variant.design.clone(),
        }
    }
}
