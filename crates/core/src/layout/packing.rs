//! Equal boxes in a bay: layer upon layer, each layer the best arrangement of equal rectangles.
//!
//! A layer is cut into two by a straight cut, or into five like a pinwheel, again and again, at places that sums of the sides reach; this
//! finds the greatest count of nearly every layer of up to some fifty boxes (Morabito and Morales 1998, from memory), and what the area
//! allows is told beside it.

use std::collections::HashMap;

/// Cuts looked at in one layer before the rest is filled in rows alone.
const EFFORT: u32 = 60_000;
/// Tenths of a millimetre: boxes that fill a bay to the edge must not be lost to rounding.
const STEP_M: f64 = 1e-4;

/// One box of a layer: corner, size along and size across, tenths of a millimetre.
type Piece = [u32; 4];

/// Boxes of a layer and what no arrangement exceeds.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub struct Layer {
    /// Boxes, none over another.
    pub pieces: Vec<Piece>,
    /// As many as the area allows.
    pub at_most: u32,
    /// Height, tenths of a millimetre.
    pub height: u32,
}

/// Boxes in a bay.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub struct Packed {
    /// From the floor upwards.
    pub layers: Vec<Layer>,
    /// Boxes in all.
    pub count: u32,
    /// What no arrangement in layers exceeds.
    pub at_most: u32,
}

/// How a stretch of a layer is filled.
#[derive(Debug, Clone, Copy)]
enum Cut {
    /// In rows, turned a quarter or not.
    Rows(bool),
    /// In two, along at this place.
    Along(u32),
    /// In two, across.
    Across(u32),
    /// Four parts around a fifth.
    Pinwheel([u32; 4]),
}

/// Search for the best layer of rectangles `side`.
struct Plane {
    side: [u32; 2],
    along: Vec<u32>,
    across: Vec<u32>,
    known: HashMap<[u32; 2], (u32, Cut)>,
    effort: u32,
}

/// Every sum of whole numbers of two sides up to `room`, rising.
fn sums(side: [u32; 2], room: u32) -> Vec<u32> {
    let mut all: Vec<u32> = (0..=room / side[0])
        .flat_map(|i| (0..=(room - i * side[0]) / side[1]).map(move |j| i * side[0] + j * side[1]))
        // More places than this are not looked at: boxes so small fill a bay in rows as well.
        .take(20_000)
        .collect();
    all.sort_unstable();
    all.dedup();
    all
}

/// The greatest of `sums` that is no more than `room`.
fn reached(sums: &[u32], room: u32) -> u32 {
    sums[sums.partition_point(|s| *s <= room) - 1]
}

impl Plane {
    /// In rows, turned or not, whichever holds more.
    fn rows(&self, [x, y]: [u32; 2]) -> (u32, Cut) {
        let [a, b] = self.side;
        let (straight, turned) = ((x / a) * (y / b), (x / b) * (y / a));
        if turned > straight { (turned, Cut::Rows(true)) } else { (straight, Cut::Rows(false)) }
    }

    fn area_allows(&self, [x, y]: [u32; 2]) -> u32 {
        u32::try_from(u64::from(x) * u64::from(y) / (u64::from(self.side[0]) * u64::from(self.side[1]))).unwrap_or(u32::MAX)
    }

    /// Most boxes found in a stretch.
    fn best(&mut self, [x, y]: [u32; 2]) -> u32 {
        let at = [reached(&self.along, x), reached(&self.across, y)];
        if let Some((count, _)) = self.known.get(&at) {
            return *count;
        }
        let [x, y] = at;
        let mut best = self.rows(at);
        let most = self.area_allows(at);
        let places = |sums: &[u32], end: u32| sums[1..sums.partition_point(|s| *s < end)].to_vec();
        if best.0 < most && self.effort > 0 {
            let (along, across) = (places(&self.along, x), places(&self.across, y));
            let halves = along.iter().filter(|c| **c <= x / 2).map(|c| Cut::Along(*c));
            let halves: Vec<Cut> = halves.chain(across.iter().filter(|c| **c <= y / 2).map(|c| Cut::Across(*c))).collect();
            for cut in halves {
                self.consider(at, cut, &mut best);
                if best.0 == most {
                    break;
                }
            }
            if best.0 < most {
                self.pinwheels(at, [&along, &across], most, &mut best);
            }
        }
        self.known.insert(at, best);
        best.0
    }

    fn pinwheels(&mut self, at: [u32; 2], [along, across]: [&[u32]; 2], most: u32, best: &mut (u32, Cut)) {
        for (i, x1) in along.iter().enumerate() {
            for x2 in &along[i + 1..] {
                for (j, y1) in across.iter().enumerate() {
                    for y2 in &across[j + 1..] {
                        if self.effort == 0 || best.0 == most {
                            return;
                        }
                        self.consider(at, Cut::Pinwheel([*x1, *x2, *y1, *y2]), best);
                    }
                }
            }
        }
    }

    fn consider(&mut self, at: [u32; 2], cut: Cut, best: &mut (u32, Cut)) {
        self.effort = self.effort.saturating_sub(1);
        let parts = parts(at, cut);
        let count = parts.iter().map(|[_, _, x, y]| self.best([*x, *y])).sum();
        if count > best.0 {
            *best = (count, cut);
        }
    }

    /// Lays the boxes of a stretch.
    fn lay(&self, [left, top]: [u32; 2], room: [u32; 2], pieces: &mut Vec<Piece>) {
        let at = [reached(&self.along, room[0]), reached(&self.across, room[1])];
        let (count, cut) = self.known.get(&at).copied().unwrap_or_else(|| self.rows(at));
        if count == 0 {
            return;
        }
        if let Cut::Rows(turned) = cut {
            let [a, b] = if turned { [self.side[1], self.side[0]] } else { self.side };
            for j in 0..at[1] / b {
                pieces.extend((0..at[0] / a).map(|i| [left + i * a, top + j * b, a, b]));
            }
        } else {
            for [x, y, w, h] in parts(at, cut) {
                self.lay([left + x, top + y], [w, h], pieces);
            }
        }
    }
}

/// Stretches a cut leaves: corner and size.
fn parts([x, y]: [u32; 2], cut: Cut) -> Vec<Piece> {
    match cut {
        Cut::Rows(_) => Vec::new(),
        Cut::Along(c) => vec![[0, 0, c, y], [c, 0, x - c, y]],
        Cut::Across(c) => vec![[0, 0, x, c], [0, c, x, y - c]],
        Cut::Pinwheel([x1, x2, y1, y2]) => {
            vec![[0, 0, x1, y2], [x1, 0, x - x1, y1], [x2, y1, x - x2, y - y1], [0, y2, x2, y - y2], [x1, y1, x2 - x1, y2 - y1]]
        }
    }
}

/// The best layer of equal rectangles, turned a quarter wherever that helps.
fn layer(room: [u32; 2], side: [u32; 2], height: u32) -> Layer {
    if side.contains(&0) {
        return Layer::default();
    }
    let mut plane = Plane { side, along: sums(side, room[0]), across: sums(side, room[1]), known: HashMap::new(), effort: EFFORT };
    plane.best(room);
    let mut pieces = Vec::new();
    plane.lay([0, 0], room, &mut pieces);
    let at_most = plane.area_allows([reached(&plane.along, room[0]), reached(&plane.across, room[1])]);
    Layer { pieces, at_most, height }
}

fn tenths(metres: f64) -> u32 {
    // Bounds of the catalogue keep it far below what the type holds.
    (metres.max(0.0) / STEP_M).round() as u32
}

/// Packs equal boxes of `size_m` (along, across, upwards) into a bay of `room_m`; in layers, each with the boxes on whichever side holds
/// most, standing if they must.
///
/// ```
/// use joulethesis_core::layout::packed;
/// // Five of 2 by 1 fit on 3.3 by 3.3 only around a hole.
/// assert_eq!(packed([0.33, 0.33, 0.1], [0.2, 0.1, 0.1], true).count, 4);
/// assert_eq!(packed([0.3, 0.3, 0.2], [0.2, 0.1, 0.1], true).count, 8);
/// ```
#[must_use]
pub fn packed(room_m: [f64; 3], size_m: [f64; 3], upright: bool) -> Packed {
    let (room, size) = (room_m.map(tenths), size_m.map(tenths));
    if size.contains(&0) {
        return Packed::default();
    }
    let [a, b, h] = size;
    let stands: &[[u32; 3]] = if upright { &[[a, b, h]] } else { &[[a, b, h], [a, h, b], [b, h, a]] };
    let kinds: Vec<Layer> = stands.iter().map(|[a, b, h]| layer([room[0], room[1]], [*a, *b], *h)).collect();
    // Every number of layers of each kind that the height holds.
    let (mut most, mut at_most, mut chosen) = (0, 0, [0; 3]);
    let stack = |height: u32, kind: usize| kinds.get(kind).map_or(0, |k| height / k.height);
    for first in 0..=stack(room[2], 0) {
        let left = room[2] - first * kinds[0].height;
        for second in 0..=stack(left, 1) {
            let left = left - kinds.get(1).map_or(0, |k| second * k.height);
            let numbers = [first, second, stack(left, 2)];
            let sum = |of: &dyn Fn(&Layer) -> u32| kinds.iter().zip(numbers).map(|(k, n)| n.saturating_mul(of(k))).sum::<u32>();
            let count = sum(&|k| u32::try_from(k.pieces.len()).unwrap_or(u32::MAX));
            at_most = at_most.max(sum(&|k| k.at_most));
            if count > most {
                (most, chosen) = (count, numbers);
            }
        }
    }
    let layers = kinds.iter().zip(chosen).flat_map(|(k, n)| std::iter::repeat_n(k.clone(), n as usize)).collect();
    Packed { layers, count: most, at_most }
}

impl Packed {
    /// The first `count` boxes from the floor upwards: corner (along, across, up) and size, m.
    #[must_use]
    pub fn boxes_m(&self, count: u32) -> Vec<[f64; 6]> {
        let mut floor = 0;
        let mut boxes = Vec::new();
        for layer in &self.layers {
            for [x, y, length, width] in &layer.pieces {
                if boxes.len() == count as usize {
                    return boxes;
                }
                boxes.push([*x, *y, floor, *length, *width, layer.height].map(|tenths| f64::from(tenths) * STEP_M));
            }
            floor += layer.height;
        }
        boxes
    }
}
