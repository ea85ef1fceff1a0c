//! Distance, duration and top speed of the shipped schedules against the regulations that define them.
//!
//! Sources: 40 CFR part 86 appendix I and part 600 appendix I; UN GTR No. 15; UN Regulation No. 83; SAE J227a (from
//! memory). Distances are printed there to the metre or to 10 m; half of the last digit is allowed.

use crate::common::check;
use joulethesis_core::document::Schedule;
use joulethesis_core::document::TripPath;
use joulethesis_core::trip::Trace;

#[test]
fn lengths_are_those_of_the_regulations() {
    let published = [
        (Schedule::Udds, 1369.0, 11.990, 91.25),
        (Schedule::Hwfet, 765.0, 16.507, 96.40),
        (Schedule::Wltc1, 1022.0, 8.098, 64.4),
        (Schedule::Wltc2, 1800.0, 22.649, 123.1),
        (Schedule::Wltc3a, 1800.0, 23.194, 131.3),
        (Schedule::Wltc3b, 1800.0, 23.266, 131.3),
        (Schedule::Nedc, 1180.0, 11.013, 120.0),
        (Schedule::Ece15, 195.0, 1.015, 50.0),
        (Schedule::J227aB, 72.0, 0.307, 32.0),
        (Schedule::J227aC, 80.0, 0.537, 48.0),
        (Schedule::J227aD, 122.0, 1.544, 72.0),
    ];
    assert_eq!(published.len(), Schedule::ALL.len());
    for (schedule, seconds, km, top_kmh) in published {
        let trace = Trace::of(&TripPath::Schedule(schedule));
        let top = trace.points.iter().map(|p| p.speed_m_s * 3.6).fold(0.0, f64::max);
        check(&format!("{} s", schedule.title()), trace.duration_s(), seconds, 0.0);
        check(&format!("{} km", schedule.title()), trace.distance_m() / 1000.0, km, 0.0006 / km);
        check(&format!("{} km/h", schedule.title()), top, top_kmh, 0.0006);
        assert!(trace.points.windows(2).all(|w| (w[1].time_s - w[0].time_s - 1.0).abs() < 1e-9), "{schedule:?} has a gap");
    }
}
