//! Logs of a vehicle's network: lines there and back, values bit by bit, what is seen of each identifier, what falls silent; passes by the
//! clock against Student's table.

use crate::common::{cases, check, documents::demo, read, with};
use joulethesis_core::cancel::Cancel;
use joulethesis_core::document::{NeededBy, Network};
use joulethesis_core::evidence::passes;
use joulethesis_core::network::{Frame, Names, SIMULATED_DBC, network, read_log, read_named, silent, simulated_log};
use joulethesis_core::report::report;
use proptest::prelude::*;
use serde_json::json;

fn frames() -> impl Strategy<Value = Frame> {
    let id = prop_oneof![(0_u32..=0x7FF).prop_map(|id| (id, false)), (0_u32..=0x1FFF_FFFF).prop_map(|id| (id, true))];
    (id, prop::collection::vec(any::<u8>(), 0..=8), 0_u32..4_000_000_000).prop_map(|((id, extended), data, us)| Frame {
        time_s: Some(f64::from(us) / 1e6),
        id,
        extended,
        data,
    })
}

/// A description with one value, and the frame that holds it, laid out bit by bit by the picture of the format: with the lowest byte first
/// the value's bits go up from its first; with the highest first they go down in a byte and on at the top of the next.
fn laid_out(value: u64, size: u32, start: u32, low_first: bool) -> (Vec<u8>, u32) {
    let mut data = vec![0_u8; 8];
    let mut put = |bit: u32, on: bool| data[bit as usize / 8] |= u8::from(on) << (bit % 8);
    if low_first {
        (0..size).for_each(|i| put(start + i, value >> i & 1 == 1));
        return (data, start);
    }
    // Counted from the top of the first byte on.
    let from_top = |place: u32| 8 * (place / 8) + 7 - place % 8;
    (0..size).for_each(|i| put(from_top(start + i), value >> (size - 1 - i) & 1 == 1));
    (data, from_top(start))
}

proptest! {
    #![proptest_config(cases(200))]

    #[test]
    fn a_log_goes_out_and_comes_back(frames in prop::collection::vec(frames(), 1..40)) {
        let text: String = frames.iter().map(|f| f.line("can0") + "\n").collect();
        prop_assert_eq!(read_log(&text, false).expect("sound").frames, frames.clone());
        // As it is shown on a screen: without times.
        let spaced = |f: &Frame| {
            let bytes: Vec<String> = f.data.iter().map(|b| format!("{b:02X}")).collect();
            format!("  can0  {}   [{}]  {}\n", f.id_text(), f.data.len(), bytes.join(" "))
        };
        let shown = read_log(&frames.iter().map(spaced).collect::<String>(), false).expect("sound").frames;
        prop_assert_eq!(shown, frames.into_iter().map(|f| Frame { time_s: None, ..f }).collect::<Vec<_>>());
    }

    /// Whatever is in a file, it is read or refused, never the end of the program.
    #[test]
    fn any_text_is_read_or_refused(log in "[ -~\n]{0,200}", dbc in "(BO_ |SG_ |BU_:|VERSION|[ -~\n]){0,30}") {
        let _ = read_log(&log, false);
        prop_assert!(read_log(&log, true).map_or(true, |l| !l.frames.is_empty()));
        let _ = Names::read(&dbc);
    }

    #[test]
    fn a_value_is_read_bit_by_bit(raw: u64, size in 1_u32..=16, start in 0_u32..48, low_first: bool, signed: bool) {
        let value = raw & ((1 << size) - 1);
        let (data, first) = laid_out(value, size, start, low_first);
        let (order, sign) = (if low_first { 1 } else { 0 }, if signed { '-' } else { '+' });
        let dbc = format!("VERSION \"\"\n\nBU_: A B\n\nBO_ 256 M: 8 A\n SG_ V : {first}|{size}@{order}{sign} (0.5,-3) [0|0] \"x\"  B\n");
        let names = Names::read(&dbc).expect("sound");
        let whole = value as i64 - if signed && value >> (size - 1) == 1 { 1 << size } else { 0 };
        prop_assert_eq!(names.of(256, false).expect("described").values(&data), vec![Some(whole as f64 * 0.5 - 3.0)]);
    }
}

proptest! {
    #![proptest_config(cases(80))]

    /// What is told of each identifier, against a plain recount of its frames.
    #[test]
    fn what_is_told_is_what_a_recount_finds(frames in prop::collection::vec((0_u32..6, prop::collection::vec(0_u8..3, 0..=4), 0_u32..100), 1..60)) {
        let mut time = 0.0;
        let all: Vec<Frame> = frames.into_iter().map(|(id, data, ms)| {
            time += f64::from(ms) / 1000.0;
            Frame { time_s: Some(time), id, extended: false, data }
        }).collect();
        let text: String = all.iter().map(|f| f.line("vcan0") + "\n").collect();
        let told = network(&read_log(&text, false).expect("sound"), None, None, &Network::default());
        let mut seen = 0;
        for message in &told.messages {
            let own: Vec<&Frame> = all.iter().filter(|f| f.id_text() == message.id).collect();
            seen += own.len();
            prop_assert_eq!(message.frames as usize, own.len());
            prop_assert_eq!(message.length as usize, own.iter().map(|f| f.data.len()).max().unwrap_or(0));
            let differs = |i: &u32| own.iter().any(|a| own.iter().any(|b| a.data.get(*i as usize) != b.data.get(*i as usize)));
            prop_assert_eq!(&message.changing, &(0..message.length).filter(differs).collect::<Vec<_>>());
            let gaps: Vec<f64> = own.windows(2).map(|w| 1000.0 * (w[1].time_s.unwrap_or(0.0) - w[0].time_s.unwrap_or(0.0))).collect();
            let mean = gaps.iter().sum::<f64>() / gaps.len().max(1) as f64;
            prop_assert!(message.period_ms.map_or(mean < 0.01, |p| (p - mean).abs() < 0.01), "{message:?} {mean}");
        }
        prop_assert_eq!(seen, all.len());
    }
}

#[test]
fn each_identifier_is_told_with_its_period_and_the_bytes_that_change() {
    let text =
        "(10.000) can0 1A0#00FF10\n(10.010) can0 1A0#01FF10\n(10.005) can0 7FF#AA\n(10.030) can0 1A0#02FF\n(10.5) can0 18FEF100#R8\n";
    let told = network(&read_log(text, false).expect("sound"), None, None, &Network::default());
    let ids: Vec<&str> = told.messages.iter().map(|m| m.id.as_str()).collect();
    assert_eq!(ids, ["1A0", "7FF", "18FEF100"]);
    let first = &told.messages[0];
    assert_eq!((first.frames, first.length, &first.changing[..]), (3, 3, &[0, 2][..]), "a byte that is missing once has changed");
    check("period", first.period_ms.expect("times"), 15.0, 1e-9);
    assert_eq!((told.messages[1].period_ms, told.messages[2].length), (None, 0));
    check("length of the log", told.seconds, 0.5, 1e-9);
}

#[test]
fn garbage_is_named_by_its_line_and_left_out_only_on_request() {
    let text = "(1.0) can0 1A0#00\nhello\n\n(1.1) can0 1A0#0\n(1.2) can0 800#00\n(1.3) can0 1A0#01\n";
    let refused = read_log(text, false).expect_err("garbage");
    let lines: Vec<&str> = refused.problems().iter().map(|p| p.path.as_str()).collect();
    assert_eq!(lines, ["log, line 2", "log, line 4", "log, line 5"], "half a byte, and an identifier of twelve bits");
    let log = read_log(text, true).expect("the rest");
    assert_eq!((log.frames.len(), log.left_out), (2, 3));
    assert!(read_log("nothing\n", true).is_err() && read_log("", false).is_err());
    assert_eq!(read_log(&"x\n".repeat(500), false).expect_err("garbage").problems().len(), 51, "fifty, and how many more");
    let other = read_named("without", "x\n", false).expect_err("garbage");
    assert_eq!(other.problems()[0].path, "without, line 1");
    let unnamed = Names::read("BO_ 1 M: 8 A\n SG_ broken\n").map(|_| ()).expect_err("no description");
    assert!(unnamed.to_string().contains("dbc is not readable from line"), "{unnamed}");
}

#[test]
fn the_stand_in_is_read_named_and_loses_what_its_engine_sends() {
    let names = Names::read(SIMULATED_DBC).expect("its own description");
    let [whole, without] = [false, true].map(|less| read_log(&simulated_log(30, less), false).expect("a log"));
    let mut told = network(&whole, Some(&names), Some(&without), &Network::default());
    let named: Vec<&str> = told.messages.iter().map(|m| m.name.as_str()).collect();
    assert_eq!(named, ["EngineState", "WheelSpeeds", "TorqueRequest", "SteeringState", "DashState", "FuelState", "BodyState"]);
    assert_eq!(silent(&told).iter().map(|s| s.id.as_str()).collect::<Vec<_>>(), ["0C4", "2F1"]);
    assert_eq!(silent(&told)[0].listeners, ["BRAKES", "DASH"]);
    // The speed rises to 60 in half a minute; the four wheels agree within a half.
    let wheels = told.messages[1].signals.iter().map(|s| s.most).collect::<Vec<_>>();
    assert!(wheels.len() == 4 && wheels.iter().all(|v| (59.5..60.5).contains(v)), "{wheels:?}");
    let steering = &told.messages[3].signals[0];
    assert!(steering.least < -85.0 && steering.most > 85.0, "signed: {steering:?}");
    // Without a second log the unit that leaves is named; marks stay when the log is read anew, with or without names.
    let named = network(&whole, Some(&names), None, &Network { leaving: vec!["STEERING".to_owned()], ..Network::default() });
    assert_eq!(silent(&named).iter().map(|s| s.id.as_str()).collect::<Vec<_>>(), ["142"]);
    told.messages[0].needed_by = vec![NeededBy::Gauges, NeededBy::AntiLock];
    let again = network(&whole, None, None, &told);
    assert_eq!(
        (&again.messages[0].needed_by, again.messages[0].name.as_str(), again.messages[0].fell_silent),
        (&told.messages[0].needed_by, "EngineState", true)
    );
    // What falls silent and is needed is found, with who needs it.
    let van = with(demo("whimbrel-9-a"), "/donor/evidence/network", serde_json::to_value(&told).expect("JSON"));
    let found: Vec<String> = report(&read(&van))
        .expect("a report")
        .findings
        .iter()
        .filter(|f| f.rule.id() == "donor.network-silent")
        .map(|f| f.message.to_string())
        .collect();
    assert_eq!(found, ["EngineState (0x0C4) falls silent with the engine's unit; the gauges, the anti-lock brakes need it."]);
}

#[test]
fn a_page_of_a_message_is_told_only_where_it_is_sent() {
    let dbc = "VERSION \"\"\n\nBU_: A B\n\nBO_ 256 M: 8 A\n SG_ Page M : 0|8@1+ (1,0) [0|0] \"\"  B\n SG_ One m1 : 8|8@1+ (1,0) [0|0] \"\"  B\n SG_ Two m2 : 8|8@1+ (2,0) [0|0] \"\"  B\n";
    let names = Names::read(dbc).expect("sound");
    let described = names.of(256, false).expect("described");
    assert_eq!(described.values(&[1, 7]), [Some(1.0), Some(7.0), None]);
    assert_eq!(described.values(&[2, 7]), [Some(2.0), None, Some(14.0)]);
    assert_eq!(described.values(&[1]), [Some(1.0), None, None], "a frame too short");
    assert!(names.of(257, false).is_none() && names.of(256, true).is_none());
}

#[test]
fn passes_are_told_with_their_band_and_the_conversion_beside_them() {
    let pass = |runs: &[f64]| {
        let runs: Vec<_> = runs.iter().map(|s| json!({ "seconds": s })).collect();
        with(demo("whimbrel-9-a"), "/donor/evidence/passes", json!([{ "from_kmh": 0, "to_kmh": 50, "runs": runs }]))
    };
    let told = |v| passes(&read(&v), &Cancel::new()).expect("told").remove(0);
    let three = told(pass(&[11.2, 11.5, 11.3]));
    check("mean", three.mean_s.expect("runs"), 34.0 / 3.0, 1e-12);
    // Student's t at 0.95 with two degrees of freedom is 2.920 (tables, from memory); the runs' standard deviation is 0.15275.
    check("band", three.within_s.expect("runs"), 2.920 * 0.152_753 / 3.0_f64.sqrt(), 1e-3);
    assert!(three.doubts.is_empty());
    assert!(told(pass(&[11.2])).doubts[0].to_string().contains("1 of the 3 runs"));
    assert!(told(pass(&[10.0, 11.5, 12.0])).doubts[0].to_string().contains("differ by 2.0 s"));
    // Beside it stands what the report says of the same pass; with more aboard it takes longer.
    let own = report(&read(&pass(&[]))).expect("a report");
    let fifty =
        own.performance.accelerations.iter().find(|a| (a.from_kmh, a.to_kmh) == (0.0, 50.0)).and_then(|a| a.time_s).expect("reached");
    check("converted", told(pass(&[])).converted_s.expect("reached"), fifty, 1e-9);
    let laden = with(pass(&[]), "/donor/evidence/passes/0/aboard_kg", json!(900));
    assert!(told(laden).converted_s > Some(fifty));
    let back = joulethesis_core::document::Document::from_value(&with(pass(&[]), "/donor/evidence/passes/0/from_kmh", json!(60)));
    assert_eq!(back.expect_err("backwards").problems()[0].path, "donor.evidence.passes[0].to_kmh");
}
