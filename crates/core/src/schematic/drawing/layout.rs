//! Where every symbol stands and which way every line runs.

use crate::schematic::circuit::{Circuit, CircuitKind, Symbol, Wire};

/// Width of a step along the traction tree, height of its lanes.
const STEP: f64 = 112.0;
const LANE: f64 = 98.0;
/// Width of a column of the 12 V tree, height of its steps.
const COLUMN: f64 = 102.0;
const ROW: f64 = 72.0;
/// Half of a symbol along its line.
pub(super) const HALF: f64 = 22.0;
const LEFT: f64 = 62.0;
/// Room above the trunk for the precharge that bypasses the contactor.
const TOP: f64 = 108.0;
const BYPASS: f64 = 58.0;

/// A symbol's place.
#[derive(Debug, Clone, PartialEq)]
pub(super) struct Spot {
    pub(super) id: String,
    pub(super) x: f64,
    pub(super) y: f64,
    /// On the 12 V tree: its line runs downwards, its words stand to the right.
    pub(super) hangs: bool,
    /// Above the trunk: its words stand over it.
    pub(super) above: bool,
    /// Length of a bus bar from its place: down along the traction tree, to the right along the 12 V tree.
    pub(super) bar: f64,
}

/// A line.
#[derive(Debug, Clone, PartialEq)]
pub(super) struct Route {
    pub(super) points: Vec<(f64, f64)>,
    pub(super) circuit: CircuitKind,
    pub(super) cores: u32,
    /// Where the stroke with the number of conductors stands.
    pub(super) tick: Option<(f64, f64)>,
}

/// Everything in its place.
#[derive(Debug, Default)]
pub(super) struct Layout {
    pub(super) spots: Vec<Spot>,
    pub(super) routes: Vec<Route>,
    pub(super) width: f64,
    pub(super) height: f64,
    /// Where the words about the whole begin.
    pub(super) legend: (f64, f64),
}

impl Layout {
    /// Places everything, with room below the trunk for words of some height.
    pub(super) fn of(circuit: &Circuit, words: f64) -> Self {
        let mut layout = Self { legend: (LEFT + 78.0, TOP + 84.0), ..Self::default() };
        let tree = |id: &str| -> Vec<&Wire> { circuit.wires.iter().filter(|w| !w.closes && w.from == id).collect() };
        let is_low = |id: &str| circuit.part(id).is_some_and(|p| p.circuit == CircuitKind::LowVoltage);
        let lanes = layout.grow(circuit, &tree, &is_low, &circuit.parts[0].id, 0, 0);
        for wire in circuit.wires.iter().filter(|w| w.closes) {
            layout.close(wire);
        }
        let low_y = (TOP + lanes as f64 * LANE + 6.0).max(layout.legend.1 + words + 16.0);
        let low = circuit.parts.iter().find(|p| p.symbol == Symbol::Bus && p.circuit == CircuitKind::LowVoltage);
        let deepest = low.map_or(0, |bus| layout.hang(circuit, &tree, &bus.id, low_y));
        layout.width = layout.spots.iter().map(|s| s.x + if s.hangs { 90.0 } else { 58.0 }).fold(760.0, f64::max);
        layout.height = low_y + (deepest as f64 + 1.0) * ROW;
        layout
    }

    fn spot(&self, id: &str) -> Option<&Spot> {
        self.spots.iter().find(|s| s.id == id)
    }

    fn hanging(&mut self, id: &str, x: f64, y: f64) {
        self.spots.push(Spot { id: id.to_owned(), x, y, hangs: true, above: false, bar: 0.0 });
    }

    fn put(&mut self, id: &str, x: f64, y: f64) {
        self.spots.push(Spot { id: id.to_owned(), x, y, hangs: false, above: false, bar: 0.0 });
    }

    /// Places a part of the traction tree and all behind it; gives the first lane that is still free.
    fn grow<'c>(
        &mut self,
        circuit: &'c Circuit,
        tree: &dyn Fn(&str) -> Vec<&'c Wire>,
        is_low: &dyn Fn(&str) -> bool,
        id: &str,
        step: usize,
        lane: usize,
    ) -> usize {
        let at = |step: usize, lane: usize| (LEFT + step as f64 * STEP, TOP + lane as f64 * LANE);
        let (x, y) = at(step, lane);
        self.put(id, x, y);
        let mut next = lane;
        for wire in tree(id) {
            let symbol = circuit.part(&wire.to).map(|p| p.symbol);
            if is_low(&wire.to) {
                continue;
            }
            // Precharge stands above the trunk, monitoring below the pack.
            if self.bypasses(circuit, wire) {
                self.bypass(tree, wire, x, y);
                continue;
            }
            if symbol == Some(Symbol::Monitor) {
                self.put(&wire.to, x, y + 1.2 * LANE);
                self.route(wire, vec![(x, y + 52.0), (x, y + 1.2 * LANE - 34.0)]);
                continue;
            }
            let (_, child_y) = at(step + 1, next);
            let from_x = if self.is_bus(circuit, id) { x } else { x + HALF };
            let branch_x = x + if self.is_bus(circuit, id) { 0.0 } else { 0.5 * STEP };
            let mut points = vec![(from_x, y)];
            if child_y > y {
                points = vec![(branch_x, y), (branch_x, child_y)];
            }
            points.push((x + STEP - if self.is_bus(circuit, &wire.to) { 0.0 } else { HALF }, child_y));
            self.route(wire, points);
            if let Some(spot) = self.spots.iter_mut().find(|s| s.id == id) {
                spot.bar = child_y - y;
            }
            next = self.grow(circuit, tree, is_low, &wire.to, step + 1, next);
        }
        next.max(lane + 1)
    }

    fn is_bus(&self, circuit: &Circuit, id: &str) -> bool {
        circuit.part(id).is_some_and(|p| p.symbol == Symbol::Bus)
    }

    fn bypasses(&self, circuit: &Circuit, wire: &Wire) -> bool {
        circuit.part(&wire.to).is_some_and(|p| p.symbol == Symbol::Resistor)
            && circuit.part(&wire.from).is_some_and(|p| p.symbol == Symbol::Contactor)
    }

    /// Resistor and relay above the contactor they bypass.
    fn bypass<'c>(&mut self, tree: &dyn Fn(&str) -> Vec<&'c Wire>, wire: &Wire, x: f64, y: f64) {
        // From the middle of the line before the contactor to the middle of the one behind it.
        let (up, start, quarter) = (y - BYPASS, x - 0.5 * STEP, 0.25 * STEP);
        self.above(&wire.to, x - quarter, up);
        self.route(wire, vec![(start, y), (start, up), (x - quarter - HALF, up)]);
        for relay in tree(&wire.to) {
            self.above(&relay.to, x + quarter, up);
            self.route(relay, vec![(x - quarter + HALF, up), (x + quarter - HALF, up)]);
        }
    }

    fn above(&mut self, id: &str, x: f64, y: f64) {
        self.spots.push(Spot { id: id.to_owned(), x, y, hangs: false, above: true, bar: 0.0 });
    }

    /// A wire that closes a loop: the end of a bypass, or the link between two controllers.
    fn close(&mut self, wire: &Wire) {
        let (Some(from), Some(to)) = (self.spot(&wire.from).cloned(), self.spot(&wire.to).cloned()) else { return };
        if from.above {
            // To the line between the contactor and what follows it.
            let end = from.x + 0.25 * STEP;
            self.route(wire, vec![(from.x + HALF, from.y), (end, from.y), (end, to.y)]);
        } else {
            let x = from.x - 12.0;
            self.route(wire, vec![(x, from.y + HALF), (x, to.y - HALF)]);
        }
    }

    /// The 12 V bus with a column for each branch; gives the deepest row.
    fn hang<'c>(&mut self, circuit: &'c Circuit, tree: &dyn Fn(&str) -> Vec<&'c Wire>, bus: &str, y: f64) -> usize {
        let x = 30.0;
        let columns = tree(bus);
        let length = (columns.len().max(1) as f64 - 0.4) * COLUMN;
        if let Some(feed) = circuit.wires.iter().find(|w| w.to == bus)
            && let Some(from) = self.spot(&feed.from).cloned()
        {
            // Down behind the converter, which has the last lane, then along to the bus where that ends before it.
            let behind = from.x + HALF + 14.0;
            let mut points = vec![(from.x + HALF, from.y), (behind, from.y), (behind, y)];
            if behind > x + length {
                points.push((x + length, y));
            }
            self.route(feed, points);
        }
        self.spots.push(Spot { id: bus.to_owned(), x, y, hangs: true, above: false, bar: length });
        let mut deepest = 2;
        for (column, wire) in columns.into_iter().enumerate() {
            let column_x = x + (column as f64 + 0.16) * COLUMN;
            let at = y + ROW - 14.0;
            self.hanging(&wire.to, column_x, at);
            self.route(wire, vec![(column_x, y), (column_x, at - HALF)]);
            let behind = tree(&wire.to);
            let Some(next) = behind.first() else { continue };
            if tree(&next.to).is_empty() {
                let below = y + 2.0 * ROW - 14.0;
                self.hanging(&next.to, column_x, below);
                self.route(next, vec![(column_x, at + HALF), (column_x, below - HALF)]);
            } else {
                // A long chain runs to the right below all columns.
                let row_y = y + 3.0 * ROW;
                let mut points = vec![(column_x, at + HALF), (column_x, row_y)];
                let (mut x, mut wire) = (column_x + 0.6 * STEP, *next);
                deepest = 3;
                loop {
                    points.push((x - HALF, row_y));
                    self.route(wire, points);
                    self.put(&wire.to, x, row_y);
                    points = vec![(x + HALF, row_y)];
                    let Some(following) = tree(&wire.to).into_iter().next() else { break };
                    (x, wire) = (x + STEP, following);
                }
            }
        }
        deepest
    }

    fn route(&mut self, wire: &Wire, points: Vec<(f64, f64)>) {
        let level = points.windows(2).rev().find(|p| p[0].1 == p[1].1 && (p[1].0 - p[0].0).abs() > 16.0);
        let tick = level.map(|p| (0.5 * (p[0].0 + p[1].0), p[0].1));
        self.routes.push(Route { points, circuit: wire.circuit, cores: wire.cores, tick });
    }
}
