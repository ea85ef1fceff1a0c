//! Rules about what the pack is charged with.

use super::rule::{Rule, finding};
use super::{Evidence, Finding};
use crate::charge::station_window;
use crate::document::SocketKind;
use crate::library::Charger;
use crate::limits::{below_station, charger_over_pack, charger_under_pack, full_charge_over};
use crate::quantity::{figure, sentence};

pub(super) fn charger_voltage(e: &Evidence<'_>) -> Vec<Finding> {
    let Some(Charger { output_min_v, output_max_v, .. }) = &e.document.design.charger else { return Vec::new() };
    let full = e.chain.pack.full_v;
    if charger_over_pack(full, *output_min_v) {
        return vec![finding(
            Rule::ChargerOverPack,
            full,
            *output_min_v,
            sentence!("The charger ends at {} or more; the pack is full at {}.", figure(*output_min_v, "V", 1), figure(full, "V", 1)),
        )];
    }
    if charger_under_pack(full, *output_max_v) {
        return vec![finding(
            Rule::ChargerUnderPack,
            full,
            *output_max_v,
            sentence!("The charger ends at {}; the pack is full at {}.", figure(*output_max_v, "V", 1), figure(full, "V", 1)),
        )];
    }
    Vec::new()
}

/// Each station of direct current whose window the pack does not lie in.
pub(super) fn station_voltage(e: &Evidence<'_>) -> Vec<Finding> {
    let pack = &e.chain.pack;
    let (empty_v, full_v) = (pack.ocv_v(pack.soc_min), pack.full_v);
    let cells = e.document.design.pack.as_ref().map_or(0, crate::document::Pack::cells_in_series);
    let stations = e.document.brief.sockets.iter().filter(|s| s.kind == SocketKind::Dc);
    stations
        .filter_map(|station| {
            let (start_v, highest_v) = station_window(station);
            if below_station(empty_v, start_v) {
                // Cells enough in series for the station to start on an empty pack.
                let enough = (f64::from(cells) * start_v / empty_v).ceil();
                let shown = (figure(start_v, "V", 0), figure(empty_v, "V", 0));
                let message = if below_station(full_v, start_v) {
                    sentence!(
                        "{} starts at {}; the pack stays below with {} even when full. It would take {} cells in series instead of {}.",
                        &station.name,
                        shown.0,
                        figure(full_v, "V", 0),
                        figure(enough, "", 0),
                        cells
                    )
                } else {
                    sentence!(
                        "{} starts at {}; the pack has {} at the bottom of its window. It would take {} cells in series instead of {}.",
                        &station.name,
                        shown.0,
                        shown.1,
                        figure(enough, "", 0),
                        cells
                    )
                };
                return Some(finding(Rule::PackBelowStation, empty_v, start_v, message));
            }
            full_charge_over(full_v, highest_v).then(|| {
                finding(
                    Rule::FullChargeOverStation,
                    full_v,
                    highest_v,
                    sentence!(
                        "{} gives up to {}; the pack is full at {}.",
                        &station.name,
                        figure(highest_v, "V", 0),
                        figure(full_v, "V", 0)
                    ),
                )
            })
        })
        .collect()
}
