//! Regulatory drive schedules, shipped as data.

use serde::{Deserialize, Serialize};

/// A regulatory drive schedule: one speed a second.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum Schedule {
    /// UN GTR No. 15, class 1.
    Wltc1,
    /// UN GTR No. 15, class 2.
    Wltc2,
    /// UN GTR No. 15, class 3a.
    Wltc3a,
    /// UN GTR No. 15, class 3b.
    Wltc3b,
    /// 40 CFR part 86 appendix I.
    Udds,
    /// 40 CFR part 600 appendix I.
    Hwfet,
    /// UN Regulation No. 83.
    Nedc,
    /// UN Regulation No. 83, part one.
    Ece15,
    /// SAE J227a schedule B (from memory).
    #[serde(rename = "j227a_b")]
    J227aB,
    /// SAE J227a schedule C (from memory).
    #[serde(rename = "j227a_c")]
    J227aC,
    /// SAE J227a schedule D (from memory).
    #[serde(rename = "j227a_d")]
    J227aD,
}

impl Schedule {
    /// Every schedule.
    pub const ALL: [Self; 11] = [
        Self::Wltc1,
        Self::Wltc2,
        Self::Wltc3a,
        Self::Wltc3b,
        Self::Udds,
        Self::Hwfet,
        Self::Nedc,
        Self::Ece15,
        Self::J227aB,
        Self::J227aC,
        Self::J227aD,
    ];

    /// Word used for it in documents; also its id among the trips.
    #[must_use]
    pub fn id(self) -> &'static str {
        match self {
            Self::Wltc1 => "wltc1",
            Self::Wltc2 => "wltc2",
            Self::Wltc3a => "wltc3a",
            Self::Wltc3b => "wltc3b",
            Self::Udds => "udds",
            Self::Hwfet => "hwfet",
            Self::Nedc => "nedc",
            Self::Ece15 => "ece15",
            Self::J227aB => "j227a_b",
            Self::J227aC => "j227a_c",
            Self::J227aD => "j227a_d",
        }
    }

    /// Name shown.
    #[must_use]
    pub fn title(self) -> &'static str {
        match self {
            Self::Wltc1 => "WLTC class 1",
            Self::Wltc2 => "WLTC class 2",
            Self::Wltc3a => "WLTC class 3a",
            Self::Wltc3b => "WLTC class 3b",
            Self::Udds => "UDDS",
            Self::Hwfet => "HWFET",
            Self::Nedc => "NEDC",
            Self::Ece15 => "ECE 15",
            Self::J227aB => "SAE J227a B",
            Self::J227aC => "SAE J227a C",
            Self::J227aD => "SAE J227a D",
        }
    }

    /// Time in s and speed in km/h of each row.
    pub fn rows(self) -> impl Iterator<Item = (f64, f64)> {
        let text = match self {
            Self::Wltc1 => include_str!("../../schedules/wltc1.csv"),
            Self::Wltc2 => include_str!("../../schedules/wltc2.csv"),
            Self::Wltc3a => include_str!("../../schedules/wltc3a.csv"),
            Self::Wltc3b => include_str!("../../schedules/wltc3b.csv"),
            Self::Udds => include_str!("../../schedules/udds.csv"),
            Self::Hwfet => include_str!("../../schedules/hwfet.csv"),
            Self::Nedc => include_str!("../../schedules/nedc.csv"),
            Self::Ece15 => include_str!("../../schedules/ece15.csv"),
            Self::J227aB => include_str!("../../schedules/j227a_b.csv"),
            Self::J227aC => include_str!("../../schedules/j227a_c.csv"),
            Self::J227aD => include_str!("../../schedules/j227a_d.csv"),
        };
        // The files are part of the program; the test of their published distances would fail on a bad row.
        text.lines().skip(1).filter_map(|line| {
            let (time, speed) = line.split_once(',')?;
            Some((time.parse().ok()?, speed.parse().ok()?))
        })
    }

    /// Its duration, s: one row a second, the first at zero.
    #[must_use]
    pub fn seconds(self) -> f64 {
        self.rows().last().map_or(0.0, |(time_s, _)| time_s)
    }
}
