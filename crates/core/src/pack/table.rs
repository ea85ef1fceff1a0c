//! A table of volts against state of charge, quick to read.

/// Volts against state of charge, linear between points, level beyond the ends.
#[derive(Debug, Clone, PartialEq)]
pub(crate) struct Table {
    soc: Vec<f64>,
    volts: Vec<f64>,
    /// Slope of each segment, V.
    slope: Vec<f64>,
    /// First segment that can hold a state of charge, by hundredths: spares the search in the inner loop.
    start: Vec<u16>,
}

impl Table {
    /// From points with state of charge rising from 0 to 1.
    pub(crate) fn new(soc: Vec<f64>, volts: Vec<f64>) -> Self {
        let slope = (1..soc.len()).map(|i| (volts[i] - volts[i - 1]) / (soc[i] - soc[i - 1])).collect();
        let start = (0..=100).map(|h| (soc.partition_point(|s| *s <= f64::from(h) / 100.0).max(1) - 1) as u16).collect();
        Self { soc, volts, slope, start }
    }

    #[inline]
    fn segment(&self, soc: f64) -> usize {
        let last = self.slope.len() - 1;
        let mut i = usize::from(self.start[(soc * 100.0) as usize]).min(last);
        while i < last && soc > self.soc[i + 1] {
            i += 1;
        }
        i
    }

    /// Volts at a state of charge.
    #[inline]
    pub(crate) fn volts_v(&self, soc: f64) -> f64 {
        let soc = soc.clamp(0.0, 1.0);
        let i = self.segment(soc);
        self.volts[i] + (soc - self.soc[i]) * self.slope[i]
    }

    /// Integral over state of charge, V; the trapezoid rule is exact for the table.
    pub(crate) fn integral(&self, from_soc: f64, to_soc: f64) -> f64 {
        let knots = self.soc.iter().copied().filter(|s| *s > from_soc && *s < to_soc).chain([to_soc]);
        let ends = |before: &mut f64, knot: f64| Some((std::mem::replace(before, knot), knot));
        knots.scan(from_soc, ends).map(|(a, b)| 0.5 * (self.volts_v(a) + self.volts_v(b)) * (b - a)).sum()
    }

    /// State of charge at a voltage; where the table is level, its lower end.
    pub(crate) fn soc_at(&self, volts: f64) -> f64 {
        let last = self.volts.len() - 1;
        if volts <= self.volts[0] {
            return 0.0;
        }
        for i in 0..last {
            if volts <= self.volts[i + 1] {
                return if self.slope[i] > 0.0 { self.soc[i] + (volts - self.volts[i]) / self.slope[i] } else { self.soc[i] };
            }
        }
        1.0
    }

    /// Every voltage at which the table turns.
    pub(crate) fn turns(&self) -> &[f64] {
        &self.volts
    }
}
