//! What went wrong with an input, said so that a person can mend it.

use serde::Serialize;

/// One thing wrong with one input field.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Problem {
    /// Where it stands in the document, dotted: `design.pack.module.ocv[3].volts_v`.
    pub path: String,
    /// What was found there, as text; empty when nothing was.
    pub given: String,
    /// What would be accepted.
    pub accepted: String,
    /// The sentence to show.
    pub message: String,
}

impl Problem {
    /// A problem whose sentence is made from its parts.
    pub fn new(path: impl Into<String>, given: impl ToString, accepted: impl Into<String>) -> Self {
        let (path, given) = (short(path.into(), LONGEST_PATH), short(given.to_string(), LONGEST_GIVEN));
        let accepted = short(accepted.into(), LONGEST_ACCEPTED);
        let message = if given.is_empty() { format!("{path} is missing; {accepted}") } else { format!("{path} is {given}; {accepted}") };
        Self { path, given, accepted, message }
    }
}

impl Problem {
    /// A problem in a reader's own words, which say what is accepted too.
    pub fn worded(path: impl Into<String>, words: impl ToString) -> Self {
        let (path, words) = (path.into(), words.to_string());
        if let Some((given, accepted)) = mistyped(&words).or_else(|| unknown(&words)) {
            return Self::new(path, given, accepted);
        }
        if let Some(key) = words.strip_prefix("missing field `").and_then(|rest| rest.strip_suffix('`')) {
            let dot = if path.is_empty() { "" } else { "." };
            return Self::new(format!("{path}{dot}{key}"), "", "it is needed here");
        }
        let (path, accepted) = (short(path, LONGEST_PATH), short(words, LONGEST_ACCEPTED));
        let message = format!("{}: {accepted}", if path.is_empty() { "document" } else { &path });
        Self { path, given: String::new(), accepted, message }
    }
}

/// What was given and what is accepted, of a reader's words about a choice that there is none of.
fn unknown(words: &str) -> Option<(String, String)> {
    let (given, known) = words.strip_prefix("unknown variant `")?.split_once("`, expected ")?;
    let known = known.strip_prefix("one of ").unwrap_or(known).replace('`', "");
    Some((format!("\"{given}\""), format!("accepted are {known}")))
}

/// Whether a reader's words about a value tell of a whole number above zero.
fn is_positive(given: &str) -> bool {
    given.strip_prefix("integer `").is_some_and(|value| !value.starts_with('-'))
}

/// What was given and what is accepted, of a reader's words about a value of another type, which name types of the program.
fn mistyped(words: &str) -> Option<(String, String)> {
    let about = words.strip_prefix("invalid type: ").or_else(|| words.strip_prefix("invalid value: "))?;
    let (given, expected) = about.rsplit_once(", expected ")?;
    let accepted = match expected.split(' ').next()? {
        // Whole numbers that are none too small are too large.
        "u8" if is_positive(given) => format!("a whole number from 0 to {} is accepted", u8::MAX),
        "u16" if is_positive(given) => format!("a whole number from 0 to {} is accepted", u16::MAX),
        "u32" if is_positive(given) => format!("a whole number from 0 to {} is accepted", u32::MAX),
        "u8" | "u16" | "u32" | "u64" | "usize" => "a whole number from 0 on is accepted".to_owned(),
        "i8" | "i16" | "i32" | "i64" | "isize" => "a whole number is accepted".to_owned(),
        "f32" | "f64" => "a number is accepted".to_owned(),
        "a" if expected == "a boolean" => "true or false is accepted".to_owned(),
        _ => return None,
    };
    let value = ["integer `", "floating point `"].iter().find_map(|kind| given.strip_prefix(kind)?.strip_suffix('`'));
    Some((value.or_else(|| given.strip_prefix("string ")).unwrap_or(given).to_owned(), accepted))
}

/// Longest piece of an input that a message repeats, characters; and longest place and advice, which may hold pieces of it.
const LONGEST_GIVEN: usize = 80;
const LONGEST_PATH: usize = 160;
const LONGEST_ACCEPTED: usize = 600;

fn short(text: String, longest: usize) -> String {
    match text.char_indices().nth(longest) {
        Some((end, _)) => format!("{}...", &text[..end]),
        None => text,
    }
}

/// Problems of one input: the first fifty are listed, the rest are counted.
#[derive(Debug, Clone, Default)]
pub struct Problems {
    listed: Vec<Problem>,
    more: usize,
}

/// Problems listed of one input.
pub const MOST_LISTED: usize = 50;

impl Problems {
    /// None yet.
    #[must_use]
    pub fn new() -> Self {
        Self::default()
    }

    /// One more.
    pub fn push(&mut self, problem: Problem) {
        self.add(|| problem);
    }

    /// One more, put into words only when it will be listed.
    pub fn add(&mut self, problem: impl FnOnce() -> Problem) {
        if self.listed.len() < MOST_LISTED {
            self.listed.push(problem());
        } else {
            self.more += 1;
        }
    }

    /// Whether there is none.
    #[must_use]
    pub fn is_empty(&self) -> bool {
        self.listed.is_empty()
    }

    /// The error they make.
    #[must_use]
    pub fn into_error(self) -> Error {
        Error::Invalid(self.into_list())
    }

    /// Those listed, and how many there are besides.
    #[must_use]
    pub fn into_list(self) -> Vec<Problem> {
        let mut problems = self.listed;
        if self.more > 0 {
            problems.push(Problem {
                path: String::new(),
                given: format!("{} more", self.more),
                accepted: String::new(),
                message: format!("and {} more problems", self.more),
            });
        }
        problems
    }

    /// `value` when there is none.
    ///
    /// # Errors
    /// [`Error::Invalid`] with the problems otherwise.
    pub fn or<T>(self, value: T) -> Result<T> {
        if self.is_empty() { Ok(value) } else { Err(self.into_error()) }
    }
}

impl Extend<Problem> for Problems {
    fn extend<I: IntoIterator<Item = Problem>>(&mut self, problems: I) {
        problems.into_iter().for_each(|p| self.push(p));
    }
}

/// Why a document, a part record or a computation was refused.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
pub enum Error {
    /// The text is not JSON at all, or is too large to be a design.
    #[error("this is not a readable JSON document: {0}")]
    Unreadable(String),
    /// The text can be read but its content cannot be accepted.
    #[error("{}", summary(.0))]
    Invalid(Vec<Problem>),
    /// The computation was told to stop before it had ended.
    #[error("the computation was stopped")]
    Cancelled,
}

fn summary(problems: &[Problem]) -> String {
    problems.iter().map(|p| p.message.as_str()).collect::<Vec<_>>().join("\n")
}

impl Error {
    /// An error about one field.
    pub fn field(path: impl Into<String>, given: impl ToString, accepted: impl Into<String>) -> Self {
        Self::Invalid(vec![Problem::new(path, given, accepted)])
    }

    /// The problems it lists, empty for unreadable text.
    #[must_use]
    pub fn problems(&self) -> &[Problem] {
        match self {
            Self::Invalid(problems) => problems,
            Self::Unreadable(_) | Self::Cancelled => &[],
        }
    }
}

/// Result of anything in this crate that can refuse its input.
pub type Result<T> = std::result::Result<T, Error>;
