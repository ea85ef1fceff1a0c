//! Symbols after IEC 60617, drawn along a line that runs to the right through the origin, 44 wide; turned where the line hangs.

use svg::node::element::{Group, Text};

use super::ink::{Anchor, circle, line, outline, path, text};
use super::layout::{HALF, Spot};
use crate::schematic::circuit::Symbol;

/// The symbol of a part in its place.
pub(super) fn symbol(symbol: Symbol, spot: &Spot) -> Group {
    if symbol == Symbol::Bus {
        return bus(spot);
    }
    // Turned so that contacts open to the left, away from the words; a battery with its positive pole towards the bus.
    let turn = match (spot.hangs, symbol) {
        (false, _) => "",
        (true, Symbol::Battery | Symbol::Pump) => " rotate(90)",
        (true, _) => " rotate(-90)",
    };
    let place = format!("translate({} {}){turn}", spot.x, spot.y);
    let group = Group::new().set("transform", place).set("class", "symbol");
    // Letters stay upright where the symbol is turned.
    let upright = |words: &str, size: f64| -> Text {
        let drawn = text((0.0, size * 0.36), words, size, "mark", Anchor::Middle);
        if spot.hangs { drawn.set("transform", "rotate(90)") } else { drawn }
    };
    let ends = |inner: f64| [line((-HALF, 0.0), (-inner, 0.0), "ink"), line((inner, 0.0), (HALF, 0.0), "ink")];
    let with_ends = |inner: f64| ends(inner).into_iter().fold(group.clone(), svg::node::element::Group::add);
    let boxed = "M-17 -15h34v30h-34z";
    match symbol {
        Symbol::Bus => group,
        Symbol::Battery => {
            with_ends(7.0).add(path("M-7 -15v30M-2 -7v14M2 -15v30M7 -7v14")).add(text((-13.0, -8.0), "+", 11.0, "word", Anchor::Middle))
        }
        Symbol::Fuse => group.add(outline("M-16 -7h32v14h-32z")).add(path("M-22 0h44")),
        Symbol::Disconnector => with_ends(11.0).add(path("M-11 0L10 -13M11 -6v12")),
        Symbol::Contactor => with_ends(11.0).add(path("M-11 0L10 -12M11 0a4 4 0 0 0 -8 0")),
        Symbol::Resistor => with_ends(15.0).add(outline("M-15 -6h30v12h-30z")),
        Symbol::Cable => group.add(path("M-22 0h44M-9 8l6 -16M-1 8l6 -16")),
        Symbol::Inverter => group.add(outline(boxed)).add(path("M-17 15L17 -15M-14 -10h8M-14 -7h8M4 8q3 -6 6 0t6 0")),
        Symbol::Chopper => group.add(outline(boxed)).add(path("M-17 15L17 -15M-14 -10h8M-14 -7h8M5 8h8M5 11h8")),
        Symbol::Rectifier => group.add(outline(boxed)).add(path("M-17 15L17 -15M-14 -10h8M-14 -7h8M3 9q3 -6 6 0t6 0")),
        Symbol::MotorAc => group.add(circle(0.0, 0.0, 17.0)).add(upright("M", 14.0)).add(path("M-6 10q3 -5 6 0t6 0")),
        Symbol::MotorDc => group.add(circle(0.0, 0.0, 17.0)).add(upright("M", 14.0)).add(path("M-6 10h12")),
        Symbol::Heater => group.add(outline("M-16 -8h32v16h-32z")).add(path("M-8 -8v16M0 -8v16M8 -8v16M-22 0h6M16 0h6")),
        Symbol::Inlet => group.add(path("M-22 0h20M12 -12a12 12 0 0 0 0 24M-2 0h10")),
        Symbol::Sender => group.add(outline(boxed)).add(path("M-9 8L7 -8M7 -8l-6 1M7 -8l-1 6M-17 0h-5")),
        Symbol::Monitor => group.add(outline(boxed)).add(upright("U<>", 11.0)),
        Symbol::KeySwitch => with_ends(11.0).add(path("M-11 0L10 -12M0 -7v-8M-4 -15h8M-4 -19h8")),
        Symbol::EmergencyStop => with_ends(11.0).add(path("M-11 0L12 -9M11 0v-10M0 -5v-9M-7 -14a7 5 0 0 1 14 0z")),
        Symbol::BreakContact => with_ends(11.0).add(path("M-11 0L12 -9M11 0v-10")),
        Symbol::Coil => with_ends(12.0).add(outline("M-12 -9h24v18h-24z")),
        Symbol::Lamp => with_ends(13.0).add(circle(0.0, 0.0, 13.0)).add(path("M-9 -9l18 18M-9 9l18 -18")),
        Symbol::Pump => with_ends(13.0).add(circle(0.0, 0.0, 13.0)).add(path("M-6 -11.5L13 0L-6 11.5")),
        Symbol::Consumer => with_ends(13.0).add(outline("M-13 -11h26v22h-26z")),
    }
}

/// A bar as long as what hangs on it.
fn bus(spot: &Spot) -> Group {
    let end = if spot.hangs { (spot.x + spot.bar, spot.y) } else { (spot.x, spot.y + spot.bar.max(0.0)) };
    let from = if spot.hangs { (spot.x, spot.y) } else { (spot.x, spot.y - 12.0) };
    Group::new().set("class", "symbol").add(line(from, end, "ink bar").set("stroke-width", 5))
}
