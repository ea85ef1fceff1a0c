//! Tracks as recorded: way, climb and time come back; what is odd is named, never smoothed away in silence.

use crate::common::check;
use joulethesis_core::document::TripPath;
use joulethesis_core::trip::Trace;
use joulethesis_core::trip::track::{from_csv, from_gpx};

/// A straight track north at 10 m/s, one point a second, climbing 4 %. A degree of latitude is pi R / 180 (IUGG mean radius).
fn gpx(count: u32, change: impl Fn(u32, &mut f64, &mut u32)) -> String {
    let mut text = "<?xml version=\"1.0\"?><gpx version=\"1.1\" creator=\"t\" xmlns=\"http://www.topografix.com/GPX/1/1\"><trk><name>Line</name><trkseg>".to_owned();
    for i in 0..count {
        let latitude = -20.0 + (10.0 * f64::from(i) / 6_371_008.8).to_degrees();
        let (mut height, mut second) = (50.0 + 0.4 * f64::from(i), i);
        change(i, &mut height, &mut second);
        text += &format!(
            "<trkpt lat=\"{latitude:.9}\" lon=\"-120.0\"><ele>{height:.2}</ele><time>2026-01-02T06:{:02}:{:02}Z</time></trkpt>",
            second / 60,
            second % 60
        );
    }
    text + "</trkseg></trk></gpx>"
}

#[test]
fn a_straight_climb_comes_back() {
    let track = from_gpx(gpx(301, |_, _, _| {}).as_bytes()).expect("sound");
    assert!(track.flags.is_empty(), "{:?}", track.flags);
    assert_eq!(track.name, "Line");
    // 300 s at 10 m/s with a run-up and a stop of 10 s at 1 m/s2, 50 m each.
    check("km", track.distance_km, 3.1, 1e-3);
    check("climb", track.climb_m, 120.0, 0.03);
    let TripPath::Trace(points) = &track.path else { panic!("a trace") };
    let middle = &points[150];
    check("grade", middle.grade_percent, 4.0, 0.02);
    check("speed", middle.speed_kmh, 36.0, 1e-3);
    check("metres north", points[151].north_m.expect("placed") - middle.north_m.expect("placed"), 10.0, 0.02);
    check("the trace's own length", Trace::of(&track.path).distance_m(), 3100.0, 1e-3);
}

#[test]
fn spikes_are_left_out_and_named() {
    let text = gpx(301, |i, height, _| {
        if i == 120 {
            *height = 9000.0;
        }
        if i == 200 {
            *height += 80.0;
        }
    });
    let track = from_gpx(text.as_bytes()).expect("mendable");
    let named: Vec<&str> = track.flags.iter().map(|f| f.at.as_str()).collect();
    assert_eq!(named, ["point 121, elevation", "point 201, elevation"]);
    assert!(track.flags[0].message.to_string().contains("9000 m is no height of a road"));
    check("climb without the spikes", track.climb_m, 120.0, 0.03);
}

#[test]
fn time_backwards_is_refused_with_the_point() {
    let text = gpx(60, |i, _, second| {
        if i == 30 {
            *second = 12;
        }
    });
    let said = from_gpx(text.as_bytes()).expect_err("refused").to_string();
    assert!(said.contains("point 31, time") && said.contains("backwards"), "{said}");
    let said = from_csv("time_s,speed_kmh\n0,0\n5,20\n3,30\n9,0\n").expect_err("refused").to_string();
    assert!(said.contains("row 4, time"), "{said}");
    for (bad, word) in
        [("no xml", "GPX"), ("<gpx", "GPX"), ("<?xml version=\"1.0\"?><gpx version=\"1.1\" creator=\"t\"></gpx>", "0 readings")]
    {
        let said = from_gpx(bad.as_bytes()).expect_err("refused").to_string();
        assert!(said.contains(word), "{bad}: {said}");
    }
}

#[test]
fn a_recording_of_nonsense_is_refused_as_a_whole() {
    let text = gpx(100, |i, height, _| *height = if i % 3 == 0 { 8000.0 } else { *height });
    let said = from_gpx(text.as_bytes()).expect_err("refused").to_string();
    assert!(said.contains("cleaner recording") && said.contains("point 1, elevation"), "{said}");
}

#[test]
fn pauses_become_standing_time() {
    let mut rows = "time_s,speed_kmh,elevation_m\n".to_owned();
    for t in 0..60 {
        rows += &format!("{t},{},10\n", if t < 50 { 36 } else { 0 });
    }
    for t in 400..460 {
        rows += &format!("{t},{},10\n", if t < 450 { 36 } else { 0 });
    }
    let track = from_csv(&rows).expect("sound");
    assert!(track.flags.iter().any(|f| f.message.to_string().contains("341 s without a reading")), "{:?}", track.flags);
    let TripPath::Trace(points) = &track.path else { panic!("a trace") };
    assert!(points.windows(2).all(|w| w[1].time_s - w[0].time_s <= 60.0 && w[1].time_s > w[0].time_s));
    check("s", track.duration_s, 469.0, 5e-3);
    // Twice a run-up of 50 m, 49 s at 10 m/s and a last second from there to rest.
    check("km", track.distance_km, 1.09, 1e-3);
}

/// The demo's recording, made with noise and one spike: it is read, the spike is named, and the harbour hill is there.
#[test]
fn the_demo_round_is_read() {
    let file = format!("{}/../../demo/harbour-round.gpx", env!("CARGO_MANIFEST_DIR"));
    let track = from_gpx(&std::fs::read(file).expect("the demo")).expect("sound");
    assert!(track.flags.iter().any(|f| f.at == "point 213, elevation"), "{:?}", track.flags);
    check("km", track.distance_km, 7.5, 0.03);
    let TripPath::Trace(points) = &track.path else { panic!("a trace") };
    let steepest = points.iter().map(|p| p.grade_percent).fold(0.0, f64::max);
    assert!((10.0..17.0).contains(&steepest), "steepest {steepest}");
}
