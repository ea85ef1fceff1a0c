//! Equal boxes in a bay: layer upon layer, each layer the best arrangement of equal rectangles.
//!
//! A layer is cut into two by a straight cut, or into five like a pinwheel, again and again, at places that sums of the sides reach; this
//! finds the greatest count of nearly every layer of up to some fifty boxes (Morabito and Morales 1998, from memory), and what the area
//! allows is told beside it.

/// Cuts looked at in one layer before the rest is filled in rows alone.
const EFFORT: u32 = 6_000;
/// Places for cuts beyond which a layer is filled in rows, with one straight cut: boxes so small leave little in any arrangement.
const MOST_PLACES: usize = 6_000;
/// Boxes of a layer that are laid one by one; of more the count suffices.
const MOST_LAID: usize = 5_000;
/// Tenths of a millimetre: boxes that fill a bay to the edge must not be lost to rounding.
const STEP_M: f64 = 1e-4;

/// One box of a layer: corner, size along and size across, tenths of a millimetre.
type Piece = [u32; 4];

/// Boxes of a layer and what no arrangement exceeds.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub struct Layer {
    /// Boxes, none over another; no more than some thousand of them.
    pub pieces: Vec<Piece>,
    /// How many there are.
    pub count: u32,
    /// As many as the area allows.
    pub at_most: u32,
    /// Height, tenths of a millimetre.
    pub height: u32,
}

/// Boxes in a bay.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub struct Packed {
    /// Layers that differ.
    pub kinds: Vec<Layer>,
    /// Which of them each layer is, from the floor upwards.
    pub stack: Vec<usize>,
    /// Boxes in all.
    pub count: u32,
    /// What no arrangement in layers exceeds.
    pub at_most: u32,
}

/// How a stretch of a layer is filled; places are counted among the sums of sides.
#[derive(Debug, Clone, Copy)]
enum Cut {
    /// In rows, turned a quarter or not.
    Rows(bool),
    /// In two, along at this place.
    Along(usize),
    /// In two, across.
    Across(usize),
    /// Four parts around a fifth.
    Pinwheel([usize; 4]),
}

/// Places that sums of whole sides reach on one axis, and which of them is left behind each.
struct Places {
    at: Vec<u32>,
    /// Of place `i` less place `k`, at `i * len + k`.
    less: Vec<usize>,
}

impl Places {
    fn of(side: [u32; 2], room: u32) -> Self {
        let columns = (0..=room / side[0]).flat_map(|i| (0..=(room - i * side[0]) / side[1]).map(move |j| i * side[0] + j * side[1]));
        let mut at: Vec<u32> = columns.take(20_000).collect();
        at.sort_unstable();
        at.dedup();
        Self { at, less: Vec::new() }
    }

    /// Makes [`Self::less`] known.
    fn subtracted(mut self) -> Self {
        let at = &self.at;
        self.less = at
            .iter()
            .flat_map(|x| {
                // The further the cut, the less is left.
                let mut left = at.len() - 1;
                at.iter().map(move |k| {
                    while left > 0 && at[left] > x.saturating_sub(*k) {
                        left -= 1;
                    }
                    left
                })
            })
            .collect();
        self
    }

    fn less(&self, i: usize, k: usize) -> usize {
        self.less[i * self.at.len() + k]
    }
}

/// Search for the best layer of rectangles `side`; stretches are told by the places they reach along and across.
struct Plane {
    side: [u32; 2],
    along: Places,
    across: Places,
    /// What no arrangement of each stretch exceeds.
    most: Vec<u32>,
    /// Boxes found and how, of each stretch that was looked at.
    known: Vec<Option<(u32, Cut)>>,
    effort: u32,
}

impl Plane {
    fn of(room: [u32; 2], side: [u32; 2]) -> Self {
        let (along, across) = (Places::of(side, room[0]), Places::of(side, room[1]));
        let stretches = along.at.len() * across.at.len();
        if stretches > MOST_PLACES || along.at.len().max(across.at.len()) > MOST_PLACES / 8 {
            return Self { side, along, across, most: Vec::new(), known: Vec::new(), effort: 0 };
        }
        let most = along.at.iter().flat_map(|x| across.at.iter().map(|y| at_most([*x, *y], side))).collect();
        Self { side, along: along.subtracted(), across: across.subtracted(), most, known: vec![None; stretches], effort: EFFORT }
    }

    fn size(&self, [i, j]: [usize; 2]) -> [u32; 2] {
        [self.along.at[i], self.across.at[j]]
    }

    /// In rows, turned or not, whichever holds more.
    fn rows(&self, [x, y]: [u32; 2]) -> (u32, Cut) {
        let [a, b] = self.side;
        let (straight, turned) = ((x / a) * (y / b), (x / b) * (y / a));
        if turned > straight { (turned, Cut::Rows(true)) } else { (straight, Cut::Rows(false)) }
    }

    fn key(&self, [i, j]: [usize; 2]) -> usize {
        i * self.across.at.len() + j
    }

    /// Stretches a cut leaves.
    fn parts(&self, [i, j]: [usize; 2], cut: Cut) -> ([[usize; 2]; 5], usize) {
        let (x, y) = (&self.along, &self.across);
        let none = [0, 0];
        match cut {
            Cut::Rows(_) => ([none; 5], 0),
            Cut::Along(c) => ([[c, j], [x.less(i, c), j], none, none, none], 2),
            Cut::Across(c) => ([[i, c], [i, y.less(j, c)], none, none, none], 2),
            Cut::Pinwheel([x1, x2, y1, y2]) => {
                ([[x1, y2], [x.less(i, x1), y1], [x.less(i, x2), y.less(j, y1)], [x2, y.less(j, y2)], [x.less(x2, x1), y.less(y2, y1)]], 5)
            }
        }
    }

    /// Most boxes found in a stretch.
    fn best(&mut self, at: [usize; 2]) -> u32 {
        let key = self.key(at);
        if let Some((count, _)) = self.known[key] {
            return count;
        }
        let mut best = self.rows(self.size(at));
        let most = self.most[key];
        if best.0 < most && self.effort > 0 {
            let [x, y] = self.size(at);
            let halves = (1..at[0]).take_while(|c| 2 * self.along.at[*c] <= x).count();
            let across = (1..at[1]).take_while(|c| 2 * self.across.at[*c] <= y).count();
            for c in 1..=halves {
                self.consider(at, Cut::Along(c), most, &mut best);
            }
            for c in 1..=across {
                self.consider(at, Cut::Across(c), most, &mut best);
            }
            'found: for x1 in 1..at[0] {
                for x2 in x1 + 1..at[0] {
                    for y1 in 1..at[1] {
                        for y2 in y1 + 1..at[1] {
                            if self.effort == 0 || best.0 == most {
                                break 'found;
                            }
                            self.consider(at, Cut::Pinwheel([x1, x2, y1, y2]), most, &mut best);
                        }
                    }
                }
            }
        }
        self.known[key] = Some(best);
        best.0
    }

    fn consider(&mut self, at: [usize; 2], cut: Cut, most: u32, best: &mut (u32, Cut)) {
        if best.0 == most {
            return;
        }
        self.effort = self.effort.saturating_sub(1);
        let (parts, of) = self.parts(at, cut);
        // What the parts do not allow is not looked at.
        let mut allows: u32 = parts[..of].iter().map(|p| self.most[self.key(*p)]).sum();
        let mut count = 0;
        for part in &parts[..of] {
            if allows <= best.0 {
                return;
            }
            let found = self.best(*part);
            allows -= self.most[self.key(*part)] - found;
            count += found;
        }
        if count > best.0 {
            *best = (count, cut);
        }
    }

    /// Lays the boxes of a stretch.
    fn lay(&self, [left, top]: [u32; 2], at: [usize; 2], pieces: &mut Vec<Piece>) {
        let known = self.known.get(self.key(at)).copied().flatten();
        let (count, cut) = known.unwrap_or_else(|| self.rows(self.size(at)));
        if count == 0 {
            return;
        }
        let (parts, of) = self.parts(at, cut);
        let corners = match cut {
            Cut::Rows(turned) => return self.lay_rows([left, top], self.size(at), turned, pieces),
            Cut::Along(c) => vec![[0, 0], [self.along.at[c], 0]],
            Cut::Across(c) => vec![[0, 0], [0, self.across.at[c]]],
            Cut::Pinwheel([x1, x2, y1, y2]) => {
                let ([x1, x2], [y1, y2]) = ([x1, x2].map(|i| self.along.at[i]), [y1, y2].map(|j| self.across.at[j]));
                vec![[0, 0], [x1, 0], [x2, y1], [0, y2], [x1, y1]]
            }
        };
        for ([x, y], part) in corners.into_iter().zip(&parts[..of]) {
            self.lay([left + x, top + y], *part, pieces);
        }
    }

    fn lay_rows(&self, [left, top]: [u32; 2], [x, y]: [u32; 2], turned: bool, pieces: &mut Vec<Piece>) {
        let [a, b] = if turned { [self.side[1], self.side[0]] } else { self.side };
        for j in 0..(y / b).min(u32::try_from(MOST_LAID).unwrap_or(u32::MAX)) {
            let free = MOST_LAID.saturating_sub(pieces.len());
            pieces.extend((0..x / a).take(free).map(|i| [left + i * a, top + j * b, a, b]));
        }
    }

    /// In rows, or in two parts of rows, where there are too many places to look at.
    fn coarse(&self, [x, y]: [u32; 2]) -> (u32, Vec<Piece>) {
        let rows = |size: [u32; 2]| self.rows(size).0;
        let whole = (rows([x, y]), [[x, y], [0, 0]], [x, 0]);
        let along = self.along.at.iter().map(|c| (rows([*c, y]) + rows([x - c, y]), [[*c, y], [x - c, y]], [*c, 0]));
        let across = self.across.at.iter().map(|c| (rows([x, *c]) + rows([x, y - c]), [[x, *c], [x, y - c]], [0, *c]));
        let (count, [first, second], corner) = along.chain(across).fold(whole, |best, other| if other.0 > best.0 { other } else { best });
        let mut pieces = Vec::new();
        for (size, corner) in [(first, [0, 0]), (second, corner)] {
            if let (_, Cut::Rows(turned)) = self.rows(size) {
                self.lay_rows(corner, size, turned, &mut pieces);
            }
        }
        (count, pieces)
    }
}

/// What no arrangement of rectangles `side` in a stretch exceeds: the area, less what even bars as long as one of their sides and as thin as one
/// likes must leave (Barnes 1979, from memory).
fn at_most(stretch: [u32; 2], side: [u32; 2]) -> u32 {
    let ([x, y], area) = (stretch.map(u64::from), u64::from(side[0]) * u64::from(side[1]));
    let lost = side.map(u64::from).map(|n| ((x % n) * (y % n)).min((n - x % n) * (n - y % n)));
    u32::try_from((x * y - lost[0].max(lost[1])) / area).unwrap_or(u32::MAX)
}

/// The best layer of equal rectangles, turned a quarter wherever that helps.
fn layer(room: [u32; 2], side: [u32; 2], height: u32) -> Layer {
    let mut plane = Plane::of(room, side);
    let whole = [plane.along.at.len() - 1, plane.across.at.len() - 1];
    let at_most = at_most(plane.size(whole), side);
    if plane.known.is_empty() {
        let (count, pieces) = plane.coarse(room);
        return Layer { pieces, count, at_most, height };
    }
    let count = plane.best(whole);
    let mut pieces = Vec::new();
    plane.lay([0, 0], whole, &mut pieces);
    Layer { pieces, count, at_most, height }
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
/// // Four of 3 by 2 fit on 5 by 5 only around a hole.
/// assert_eq!(packed([0.5, 0.5, 0.1], [0.3, 0.2, 0.1], true).count, 4);
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
    let room_for = |height: u32, kind: usize| kinds.get(kind).map_or(0, |k| height / k.height);
    for first in 0..=room_for(room[2], 0) {
        let left = room[2] - first * kinds[0].height;
        for second in 0..=room_for(left, 1) {
            let left = left - kinds.get(1).map_or(0, |k| second * k.height);
            let numbers = [first, second, room_for(left, 2)];
            let sum = |of: &dyn Fn(&Layer) -> u32| {
                kinds.iter().zip(numbers).fold(0_u32, |all, (k, n)| all.saturating_add(n.saturating_mul(of(k))))
            };
            let count = sum(&|k| k.count);
            at_most = at_most.max(sum(&|k| k.at_most));
            if count > most {
                (most, chosen) = (count, numbers);
            }
        }
    }
    let stack = (0..kinds.len()).flat_map(|k| std::iter::repeat_n(k, chosen[k] as usize)).collect();
    Packed { kinds, stack, count: most, at_most }
}

/// Boxes in plain rows, each standing one way: cheap, and often enough to know that some fit.
pub(super) fn in_rows(room_m: [f64; 3], size_m: [f64; 3], upright: bool) -> u32 {
    let (room, [a, b, h]) = (room_m.map(tenths), size_m.map(tenths));
    let ways = [[a, b, h], [b, a, h], [a, h, b], [h, a, b], [b, h, a], [h, b, a]];
    let count = |way: &[u32; 3]| (0..3).map(|i| room[i].checked_div(way[i]).unwrap_or(0)).product();
    ways.iter().take(if upright { 2 } else { 6 }).map(count).max().unwrap_or(0)
}

impl Packed {
    /// The first `count` boxes from the floor upwards: corner (along, across, up) and size, m.
    #[must_use]
    pub fn boxes_m(&self, count: u32) -> Vec<[f64; 6]> {
        let mut floor = 0;
        let mut boxes = Vec::new();
        for layer in self.stack.iter().map(|k| &self.kinds[*k]) {
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
