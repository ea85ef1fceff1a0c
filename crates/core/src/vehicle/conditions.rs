//! The day: air, wind, surface, and the temperature the pack has stood in.

use crate::document::{Document, Season, Trip};
use crate::quantity::units::KMH_PER_M_S;
use crate::vehicle::air;

/// What the day does to the vehicle.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Conditions {
    /// Air, degC.
    pub temperature_c: f64,
    /// Cells, degC.
    pub pack_temperature_c: f64,
    /// Air density, kg/m3.
    pub density_kg_m3: f64,
    /// Wind from ahead, m/s.
    pub headwind_m_s: f64,
    /// Rolling resistance over that on dry tarmac.
    pub rolling_factor: f64,
}

impl Conditions {
    /// The site's usual day.
    #[must_use]
    pub fn of(document: &Document) -> Self {
        let site = &document.brief.site;
        Self {
            temperature_c: site.temperature_c,
            pack_temperature_c: document.design.pack.as_ref().and_then(|p| p.temperature_c).unwrap_or(site.temperature_c),
            density_kg_m3: site.air_density_kg_m3.unwrap_or_else(|| air::density_kg_m3(site.altitude_m, site.temperature_c)),
            headwind_m_s: site.headwind_kmh / KMH_PER_M_S,
            rolling_factor: 1.0,
        }
    }

    fn at_temperature(mut self, document: &Document, temperature_c: f64) -> Self {
        let stated = document.design.pack.as_ref().and_then(|p| p.temperature_c);
        self.temperature_c = temperature_c;
        self.pack_temperature_c = stated.unwrap_or(temperature_c);
        self.density_kg_m3 = air::density_kg_m3(document.brief.site.altitude_m, temperature_c);
        self
    }

    /// The day of one trip: its own weather where it states one.
    #[must_use]
    pub fn of_trip(document: &Document, trip: &Trip) -> Self {
        let mut day = Self::of(document);
        if let Some(weather) = &trip.weather {
            if let Some(celsius) = weather.temperature_c {
                day = day.at_temperature(document, celsius);
            }
            if let Some(kmh) = weather.headwind_kmh {
                day.headwind_m_s = kmh / KMH_PER_M_S;
            }
            day.rolling_factor = weather.rolling_factor;
        }
        day
    }

    /// A day in a season, with the wind of the site. The pack has stood in the cold unless its box holds a temperature.
    #[must_use]
    pub fn of_season(document: &Document, season: &Season) -> Self {
        Self { rolling_factor: season.rolling_factor, ..Self::of(document).at_temperature(document, season.temperature_c) }
    }
}
