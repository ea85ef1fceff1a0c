//! Logs of a vehicle's network as text, a frame a line, the two ways the usual recorder writes them.

use crate::error::{Problem, Problems, Result};

/// One frame.
#[derive(Debug, Clone, PartialEq)]
pub struct Frame {
    /// When, s; `None` where the log has no times.
    pub time_s: Option<f64>,
    /// Identifier.
    pub id: u32,
    /// Whether it is one of 29 bits.
    pub extended: bool,
    /// Its bytes.
    pub data: Vec<u8>,
}

/// A log that was read.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Log {
    /// Its frames, in order.
    pub frames: Vec<Frame>,
    /// Lines that are no frames, left out.
    pub left_out: usize,
}

/// Most frames of a log: ten minutes of a busy network.
pub const MOST_FRAMES: usize = 1_000_000;
/// Most bytes of a frame with a flexible rate.
const MOST_BYTES: usize = 64;
const ACCEPTED: &str = "\"(12.345678) can0 1A0#0011AABB\" or \"can0  1A0   [4]  00 11 AA BB\" is accepted";

impl Frame {
    /// The identifier as it is written: three hexadecimal digits, or eight.
    #[must_use]
    pub fn id_text(&self) -> String {
        if self.extended { format!("{:08X}", self.id) } else { format!("{:03X}", self.id) }
    }

    /// The frame as a line of a log, with its time and an interface.
    ///
    /// ```
    /// use joulethesis_core::network::{Frame, read_log};
    /// let frame = Frame { time_s: Some(1.25), id: 0x1a0, extended: false, data: vec![0, 17] };
    /// assert_eq!(frame.line("can0"), "(1.250000) can0 1A0#0011");
    /// assert_eq!(read_log(&frame.line("can0"), false)?.frames, [frame]);
    /// # Ok::<(), joulethesis_core::error::Error>(())
    /// ```
    #[must_use]
    pub fn line(&self, interface: &str) -> String {
        let bytes: String = self.data.iter().map(|b| format!("{b:02X}")).collect();
        format!("({:.6}) {interface} {}#{bytes}", self.time_s.unwrap_or(0.0), self.id_text())
    }
}

/// Reads a log. Empty lines count for nothing; any other line that is no frame is a problem named by its number, unless such are to be
/// left out.
///
/// # Errors
/// Every line that cannot be read, the first fifty by number; a log without a frame.
pub fn read_log(text: &str, leave_out: bool) -> Result<Log> {
    read_named("log", text, leave_out)
}

/// As [`read_log`], of a log that its problems call by another name.
///
/// # Errors
/// As [`read_log`].
pub fn read_named(name: &str, text: &str, leave_out: bool) -> Result<Log> {
    let (mut log, mut problems) = (Log::default(), Problems::new());
    for (i, line) in text.lines().enumerate().map(|(i, line)| (i + 1, line.trim())).filter(|(_, line)| !line.is_empty()) {
        match frame(line) {
            Some(frame) if log.frames.len() < MOST_FRAMES => log.frames.push(frame),
            Some(_) => {
                let accepted = format!("up to {MOST_FRAMES} frames are accepted: cut the log");
                return Err(crate::error::Error::field(name, format!("more than {MOST_FRAMES} frames"), accepted));
            }
            None if leave_out => log.left_out += 1,
            None => problems.add(|| Problem::new(format!("{name}, line {i}"), format!("\"{line}\""), ACCEPTED)),
        }
    }
    if problems.is_empty() && log.frames.is_empty() {
        problems.push(Problem::new(name, "without a frame", ACCEPTED));
    }
    problems.or(log)
}

/// A line as a frame; none where it is none.
fn frame(line: &str) -> Option<Frame> {
    let (time_s, rest) = match line.strip_prefix('(') {
        Some(rest) => {
            let (time, rest) = rest.split_once(')')?;
            (Some(time.trim().parse::<f64>().ok().filter(|t| t.is_finite())?), rest)
        }
        None => (None, line),
    };
    let mut words = rest.split_ascii_whitespace();
    let _interface = words.next()?;
    let second = words.next()?;
    let (id, data) = match second.split_once('#') {
        Some((id, data)) => (id, compact(data)?),
        None => (second, spaced(words)?),
    };
    let extended = match id.len() {
        1..=3 => false,
        8 => true,
        _ => return None,
    };
    let id = u32::from_str_radix(id, 16).ok().filter(|id| *id <= if extended { 0x1FFF_FFFF } else { 0x7FF })?;
    Some(Frame { time_s, id, extended, data })
}

/// Bytes run together: `0011AABB`; behind a second mark and its flags those of a flexible rate; `R` asks for a frame and has none.
fn compact(data: &str) -> Option<Vec<u8>> {
    if let Some(length) = data.strip_prefix('R') {
        return length.chars().all(|c| c.is_ascii_digit()).then(Vec::new);
    }
    let data = match data.strip_prefix('#') {
        Some(flexible) => flexible.get(1..)?,
        None => data,
    };
    if data.len() % 2 != 0 || data.len() > 2 * MOST_BYTES || !data.is_ascii() {
        return None;
    }
    (0..data.len()).step_by(2).map(|i| u8::from_str_radix(&data[i..i + 2], 16).ok()).collect()
}

/// Bytes apart behind their number: `[4]  00 11 AA BB`.
fn spaced<'a>(mut words: impl Iterator<Item = &'a str>) -> Option<Vec<u8>> {
    let count: usize = words.next()?.strip_prefix('[')?.strip_suffix(']')?.parse().ok()?;
    let bytes: Vec<&str> = words.take(count).collect();
    if bytes == ["remote"] || (count > 0 && bytes.first() == Some(&"remote")) {
        return Some(Vec::new());
    }
    let read: Option<Vec<u8>> = bytes.iter().map(|b| (b.len() == 2).then(|| u8::from_str_radix(b, 16).ok())?).collect();
    read.filter(|b| b.len() == count && count <= MOST_BYTES)
}
