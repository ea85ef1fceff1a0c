//! Recorded tracks: GPX or CSV to speed and grade over time, with everything odd named.

mod cleaning;

use serde::Serialize;

use cleaning::{drop_height_spikes, drop_jumps, level, speeds};

use super::Flag;
use super::table::table;
use crate::document::{TracePoint, TripPath};
use crate::error::{Error, MOST_LISTED, Problem, Problems, Result};
use crate::quantity::figure;
use crate::quantity::sentence;
use crate::quantity::units::KMH_PER_M_S;

/// A track made into a trip.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Track {
    /// Name in the file, if any.
    pub name: String,
    /// The path, a point a second while moving.
    pub path: TripPath,
    /// Length, km.
    pub distance_km: f64,
    /// Duration, s.
    pub duration_s: f64,
    /// Height gained over all climbs after cleaning, m.
    pub climb_m: f64,
    /// What looked wrong and what was done about it.
    pub flags: Vec<Flag>,
}

/// One reading as recorded.
#[derive(Debug, Clone, Copy)]
struct Reading {
    row: u64,
    time_s: f64,
    /// From the file, or from positions.
    speed_m_s: Option<f64>,
    height_m: Option<f64>,
    /// Metres east and north of the first.
    place_m: Option<(f64, f64)>,
}

/// Mean radius of the Earth, m (IUGG).
const EARTH_M: f64 = 6_371_008.8;
/// Heights on roads, m.
const HEIGHTS_M: std::ops::RangeInclusive<f64> = -430.0..=6000.0;
/// Harder than tyres can, m/s2.
const HARDEST_M_S2: f64 = 9.0;
/// Way within which readings count as one place, m.
const SAME_PLACE_M: f64 = 0.25;
/// Pause beyond which a recording counts as stopped, s.
const PAUSE_S: f64 = 60.0;
/// Longest pause within one trip, s: beyond it two trips were recorded, or a receiver had no fix yet and wrote the date it was made with.
const LONGEST_PAUSE_S: f64 = 6.0 * 3600.0;
/// Longest recording, s.
const LONGEST_S: f64 = 100_000.0;
/// Deepest nesting of a GPX file; the format needs five, its extensions a few more.
const DEEPEST: usize = 16;
/// Most points of a track.
const MOST_POINTS: usize = 100_000;
/// Share of readings that may be left out before the whole is refused.
const MOST_BAD: f64 = 0.1;

/// Reads a GPX track.
///
/// # Errors
/// Names the point where time runs backwards, or says what is missing.
pub fn from_gpx(text: &[u8]) -> Result<Track> {
    check_xml(text)?;
    let file = gpx::read(text).map_err(|e| Error::field("file", e, "a GPX 1.0 or 1.1 track is accepted"))?;
    let name = file.tracks.iter().find_map(|t| t.name.clone()).unwrap_or_default();
    let points: Vec<_> = file.tracks.into_iter().flat_map(|t| t.segments).flat_map(|s| s.points).collect();
    let mut readings = Vec::with_capacity(points.len());
    let mut start: Option<(f64, f64, f64)> = None;
    for (row, p) in (1u64..).zip(&points) {
        let Some(time) = p.time else {
            return Err(Error::field(format!("point {row}"), "no time", "every point of the track needs its time; a route has none"));
        };
        let time_s = time::OffsetDateTime::from(time).unix_timestamp_nanos() as f64 / 1e9;
        let (longitude, latitude) = (p.point().x().to_radians(), p.point().y().to_radians());
        let (lon0, lat0, t0) = *start.get_or_insert((longitude, latitude, time_s));
        readings.push(Reading {
            row,
            time_s: time_s - t0,
            speed_m_s: p.speed,
            height_m: p.elevation,
            // A tangent plane at the start: a trip is short against the Earth.
            place_m: Some((EARTH_M * (longitude - lon0) * lat0.cos(), EARTH_M * (latitude - lat0))),
        });
    }
    clean(name, readings, "point")
}

/// Refuses XML whose nesting or number of points would keep a reader busy for hours, before it is read.
fn check_xml(text: &[u8]) -> Result<()> {
    let (mut depth, mut points, mut at) = (0usize, 0usize, 0usize);
    let find = |from: usize, what: &[u8]| text[from..].windows(what.len()).position(|w| w == what).map(|i| from + i + what.len());
    while let Some(open) = text[at..].iter().position(|b| *b == b'<').map(|i| at + i + 1) {
        let rest = &text[open..];
        let end = if rest.starts_with(b"!--") {
            find(open, b"-->")
        } else if rest.starts_with(b"![CDATA[") {
            find(open, b"]]>")
        } else {
            find(open, b">")
        };
        let Some(end) = end else { break };
        match rest.first() {
            Some(b'/') => depth = depth.saturating_sub(1),
            Some(b'!' | b'?') | None => {}
            Some(_) if text[..end].ends_with(b"/>") => {}
            Some(_) => depth += 1,
        }
        points += usize::from(rest.starts_with(b"trkpt"));
        if depth > DEEPEST {
            return Err(Error::field("file", format!("elements nested more than {DEEPEST} deep"), "a GPX 1.0 or 1.1 track is accepted"));
        }
        if points > MOST_POINTS {
            return Err(Error::field("file", format!("more than {MOST_POINTS} points"), "shorter tracks are accepted; cut it or thin it"));
        }
        at = end;
    }
    Ok(())
}

/// Reads a CSV track: `time_s`, a speed (`speed_kmh`, `speed_mph` or `speed_m_s`) and, if there is one, `elevation_m`.
///
/// # Errors
/// Names the row where time runs backwards, or that cannot be read.
pub fn from_csv(text: &str) -> Result<Track> {
    let columns = table(text, &["time_s", "speed"])?;
    let mut problems = Problems::new();
    let mut readings = Vec::new();
    let mut start = None;
    for row in columns.rows() {
        let (Some(time_s), Some(kmh)) = (row.number("time_s", &mut problems), row.speed_kmh(&mut problems)) else { continue };
        let t0 = *start.get_or_insert(time_s);
        let height_m = row.maybe("elevation_m", &mut problems);
        readings.push(Reading { row: row.number, time_s: time_s - t0, speed_m_s: Some(kmh / KMH_PER_M_S), height_m, place_m: None });
    }
    if !problems.is_empty() {
        return Err(problems.into_error());
    }
    clean(String::new(), readings, "row")
}

fn clean(name: String, mut readings: Vec<Reading>, word: &str) -> Result<Track> {
    if readings.len() < 3 {
        return Err(Error::field("file", format!("{} readings", readings.len()), "a track of at least 3 readings is accepted"));
    }
    let mut problems = Problems::new();
    for pair in readings.windows(2) {
        let gap_s = pair[1].time_s - pair[0].time_s;
        let path = || format!("{word} {}, time", pair[1].row);
        if gap_s < 0.0 {
            let accepted = format!("time cannot run backwards; the {word} before it is at {} s", pair[0].time_s);
            problems.add(|| Problem::new(path(), format!("{} s", pair[1].time_s), accepted));
        } else if gap_s > LONGEST_PAUSE_S {
            let accepted = format!(
                "pauses of up to {:.0} h are accepted; cut the recording there. A receiver without a fix writes a date of its own into its \
                 first {word}s: take those out",
                LONGEST_PAUSE_S / 3600.0
            );
            problems.add(|| Problem::new(path(), format!("{gap_s:.0} s after the {word} before it"), accepted));
        }
    }
    problems.or(())?;
    let whole_s = readings[readings.len() - 1].time_s - readings[0].time_s;
    if whole_s > LONGEST_S {
        return Err(Error::field(
            "file",
            format!("{whole_s:.0} s long"),
            format!("recordings of up to {LONGEST_S:.0} s are accepted; cut it"),
        ));
    }
    readings.dedup_by(|later, earlier| later.time_s - earlier.time_s < 1e-6);
    let mut flags = Vec::new();
    let total = readings.len();
    let bad_heights = drop_height_spikes(&mut readings, word, &mut flags);
    let bad_places = drop_jumps(&mut readings, word, &mut flags);
    if (bad_heights + bad_places) as f64 > MOST_BAD * total as f64 {
        let first = flags.first().map_or_else(String::new, |f| format!("{}: {}", f.at, f.message));
        return Err(Error::field(
            "file",
            format!("{} of {total} readings that cannot be", bad_heights + bad_places),
            format!("a cleaner recording is accepted; the first one is {first}"),
        ));
    }
    let speeds = speeds(&readings);
    let heights = level(&readings, &speeds);
    Ok(resample(name, &readings, &speeds, &heights, word, flags))
}

/// One point a second while moving; pauses become standing time, and both ends come to rest.
fn resample(name: String, readings: &[Reading], speeds: &[f64], heights: &[f64], word: &str, mut flags: Vec<Flag>) -> Track {
    let mut points: Vec<TracePoint> = Vec::new();
    let mut push = |time_s: f64, v_m_s: f64, height_m: f64, place: Option<(f64, f64)>| {
        if points.last().is_none_or(|p: &TracePoint| time_s - p.time_s > 1e-3) {
            let place = place.map(|(x, y)| ((x * 10.0).round() / 10.0, (y * 10.0).round() / 10.0));
            points.push(TracePoint {
                time_s: (time_s * 1000.0).round() / 1000.0,
                speed_kmh: (v_m_s * KMH_PER_M_S * 1000.0).round() / 1000.0,
                grade_percent: 0.0,
                height_m: Some((height_m * 100.0).round() / 100.0),
                east_m: place.map(|p| p.0),
                north_m: place.map(|p| p.1),
            });
        }
    };
    // A recording that begins or ends in motion gets a run-up and a stop, at an easy 1 m/s2.
    let lead_s = speeds[0];
    push(0.0, 0.0, heights[0], readings[0].place_m);
    for i in 0..readings.len() {
        let at = readings[i].time_s + lead_s;
        push(at, speeds[i], heights[i], readings[i].place_m);
        let Some(next) = readings.get(i + 1) else { continue };
        let gap_s = next.time_s - readings[i].time_s;
        if gap_s > PAUSE_S {
            flags.push(Flag {
                at: format!("{word} {}, time", next.row),
                message: sentence!("{} without a reading; taken as standing still", figure(gap_s, "s", 0)),
            });
            push(at + speeds[i].max(1.0), 0.0, heights[i], readings[i].place_m);
            let mut t = at + speeds[i].max(1.0) + 50.0;
            while t < next.time_s + lead_s - speeds[i + 1].max(1.0) {
                push(t, 0.0, heights[i], readings[i].place_m);
                t += 50.0;
            }
            push(next.time_s + lead_s - speeds[i + 1].max(1.0), 0.0, heights[i + 1], next.place_m);
        }
    }
    let last = readings.len() - 1;
    push(readings[last].time_s + lead_s + speeds[last], 0.0, heights[last], readings[last].place_m);
    let (mut distance_m, mut climb_m) = (0.0, 0.0);
    for i in 0..points.len() - 1 {
        let (a, b) = (points[i], points[i + 1]);
        let dt = b.time_s - a.time_s;
        let way_m = 0.5 * (a.speed_kmh + b.speed_kmh) / KMH_PER_M_S * dt;
        let rise_m = b.height_m.unwrap_or(0.0) - a.height_m.unwrap_or(0.0);
        if way_m > 0.5 {
            points[i].grade_percent = (100.0 * rise_m / way_m).clamp(-40.0, 40.0);
        }
        let accel = (b.speed_kmh - a.speed_kmh) / KMH_PER_M_S / dt;
        if accel.abs() > HARDEST_M_S2 {
            flags.push(Flag {
                at: format!("{:.0} s", a.time_s),
                message: sentence!(
                    "speed changes by {}, harder than tyres can; kept, and the chain will fall short of it",
                    figure(accel, "m/s²", 1)
                ),
            });
        }
        distance_m += way_m;
        climb_m += rise_m.max(0.0);
    }
    if flags.len() > MOST_LISTED {
        let more = flags.len() - MOST_LISTED;
        flags.truncate(MOST_LISTED);
        flags.push(Flag { at: "the rest".to_owned(), message: sentence!("{} more readings like these", more.to_string()) });
    }
    let duration_s = points.last().map_or(0.0, |p| p.time_s);
    Track { name, path: TripPath::Trace(points), distance_km: distance_m / 1000.0, duration_s, climb_m, flags }
}
