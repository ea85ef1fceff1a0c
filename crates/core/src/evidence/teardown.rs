//! What comes out of a donor: what to think of before and while it does, and the ledger as a table.

use serde::Serialize;
use serde_json::{Map, json};

use crate::document::{Document, Fate, RemovedItem, VehicleKind};
use crate::error::{Error, Problem, Problems, Result};
use crate::library::exchange::{guarded, unguarded};
use crate::quantity::{check_name, fields, within};
use crate::trip::table::table;

/// One thing to take out, or to see to before something is.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct TeardownStep {
    /// What.
    pub name: &'static str,
    /// What such a thing usually weighs, kg; 0: nothing is weighed.
    pub usual_kg: f64,
    /// What can hurt.
    pub caution: &'static str,
    /// Who may do it, where not everybody may.
    pub who: &'static str,
    /// What stops working with it, and has to be replaced.
    pub ends: &'static str,
    /// Whether an item of the ledger names it.
    pub done: bool,
}

/// First year in which a car usually had it (common practice).
const AIR_CONDITIONED: u32 = 1985;
const AIRBAGS: u32 = 1990;
const ENGINE_UNIT: u32 = 1988;
const STEERING_HELP: u32 = 1980;

/// Usual mass of the engine of a kind with what is bolted to it, kg (common practice).
const fn engine_kg(kind: VehicleKind) -> f64 {
    match kind {
        VehicleKind::Car => 120.0,
        VehicleKind::Van => 135.0,
        VehicleKind::OffRoad => 170.0,
        VehicleKind::Motorcycle => 45.0,
        VehicleKind::Trike => 35.0,
        VehicleKind::Kart => 18.0,
        VehicleKind::Quad => 40.0,
        VehicleKind::Sled => 45.0,
        VehicleKind::Utility => 260.0,
    }
}

/// What to take out of a donor and to see to, by its kind and the year it was built, in the order of the work (common practice).
#[must_use]
pub fn teardown(document: &Document) -> Vec<TeardownStep> {
    let donor = &document.donor;
    let (closed, road) = (donor.kind.is_closed(), donor.kind.is_closed() || donor.kind == VehicleKind::Utility);
    // Of what nobody knows the year it may have everything.
    let since = |year: u32| donor.built.is_none_or(|built| built >= year);
    let engine_kg = engine_kg(donor.kind);
    let all: [(bool, TeardownStep); 13] = [
        (
            true,
            step(
                "Evidence first",
                0.0,
                "",
                "",
                "what it weighed, how it rolled and what it burned cannot be found any more once it is apart",
            ),
        ),
        (
            closed && since(AIR_CONDITIONED),
            step(
                "Refrigerant",
                0.0,
                "frostbite, and a greenhouse gas that must not be let out",
                "licensed refrigerant workshop, before any pipe is opened",
                "cooling, until a compressor of its own is fitted",
            ),
        ),
        (
            closed && since(AIRBAGS),
            step(
                "Airbags and belt tensioners",
                0.0,
                "they fire from a spark: battery off, and wait as the maker's manual says",
                "whoever is trained for it",
                "",
            ),
        ),
        (true, step("Fuel", 0.0, "vapour lies on the ground and catches fire: outdoors, earthed, no lamp and no spark", "", "")),
        (
            true,
            step(
                "Tank and fuel lines",
                if road { 16.0 } else { 4.0 },
                "an empty tank holds the vapour that explodes: never cut or weld it",
                "",
                "the fuel gauge",
            ),
        ),
        (
            road,
            step(
                "Coolant and radiator",
                0.15 * engine_kg,
                "coolant is sweet and poisonous: caught, not poured away; hot under pressure",
                "",
                "the heater",
            ),
        ),
        (true, step("Exhaust", 0.2 * engine_kg, "old seals and lagging may hold asbestos: wetted, masked, bagged", "", "")),
        (
            true,
            step(
                "Engine",
                engine_kg,
                "it hangs over feet and hands: a hoist rated for it, nobody beneath",
                "",
                "the brake's vacuum, where the brakes are helped by it",
            ),
        ),
        (
            closed,
            step(
                "Clutch and flywheel",
                0.12 * engine_kg,
                "old linings may hold asbestos",
                "",
                "shifting while rolling, if the clutch goes too",
            ),
        ),
        (true, step("Starter and alternator", if road { 14.0 } else { 3.0 }, "", "", "the 12 V supply, until a converter is fitted")),
        (road && since(STEERING_HELP), step("Steering pump", 5.0, "", "", "the help of the steering: electric help, or a rack without")),
        (
            closed && since(ENGINE_UNIT),
            step(
                "Engine's control unit and harness",
                4.0,
                "",
                "",
                "messages that gauges, anti-lock brakes or the immobiliser wait for: log them first",
            ),
        ),
        (closed, step("Oils of engine and gearbox", 0.0, "into the ground goes none of it; old oil is bad for the skin", "", "")),
    ];
    // Counted twice, an engine would make the vehicle lighter than it can be: any item that names it will do.
    let has = |step: &TeardownStep| {
        let names = donor.removed.iter().map(|r| r.name.to_lowercase());
        let of_another =
            |name: &str| step.name == "Engine" && told_by("Engine's control unit and harness").iter().any(|w| name.contains(w));
        names.into_iter().any(|name| told_by(step.name).iter().any(|word| name.contains(word)) && !of_another(&name))
    };
    all.into_iter().filter(|(applies, _)| *applies).map(|(_, step)| TeardownStep { done: has(&step), ..step }).collect()
}

/// Words by which an item of a ledger is known to be of a step; those that weigh nothing have none.
fn told_by(step: &str) -> &'static [&'static str] {
    match step {
        "Tank and fuel lines" => &["tank"],
        "Coolant and radiator" => &["radiator"],
        "Exhaust" => &["exhaust"],
        "Engine" => &["engine", "motor", "two-stroke", "diesel"],
        "Clutch and flywheel" => &["clutch", "flywheel"],
        "Starter and alternator" => &["starter", "alternator"],
        "Steering pump" => &["steering"],
        "Engine's control unit and harness" => &["control unit", "harness"],
        _ => &[],
    }
}

const fn step(name: &'static str, usual_kg: f64, caution: &'static str, who: &'static str, ends: &'static str) -> TeardownStep {
    TeardownStep { name, usual_kg, caution, who, ends, done: false }
}

const HEADINGS: [&str; 8] = ["item", "mass_kg", "fate", "price", "sold_to", "behind_front_axle_m", "right_m", "up_m"];
/// Most items of a ledger, as of a donor.
const MOST_ITEMS: usize = 200;

/// The ledger as CSV: a row an item, places along the vehicle in metres behind the front axle.
///
/// ```
/// # use joulethesis_core::document::Document;
/// # let demo = |name: &str| std::fs::read(format!("{}/../../demo/{name}.json", env!("CARGO_MANIFEST_DIR")));
/// use joulethesis_core::evidence::{ledger_from_csv, ledger_to_csv};
/// let van = Document::from_json(&demo("whimbrel-9-a")?)?;
/// assert_eq!(ledger_from_csv(&ledger_to_csv(&van))?, van.donor.removed);
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[must_use]
pub fn ledger_to_csv(document: &Document) -> String {
    let donor = &document.donor;
    let number = |x: Option<f64>| x.map_or_else(String::new, |x| x.to_string());
    let mut writer = csv::Writer::from_writer(Vec::new());
    let rows = donor.removed.iter().map(|r| {
        let along = r.at.along.map(|a| a.metres(donor.wheelbase_m));
        let price = (r.sale_price != 0.0).then_some(r.sale_price);
        [
            guarded(&r.name),
            r.mass_kg.to_string(),
            r.fate.word().to_owned(),
            number(price),
            guarded(&r.sold_to),
            number(along),
            number(r.at.right_m),
            number(r.at.up_m),
        ]
    });
    let written = writer.write_record(HEADINGS).and_then(|()| rows.into_iter().try_for_each(|row| writer.write_record(row)));
    // Writing to memory does not fail.
    written.ok().and_then(|()| writer.into_inner().ok()).and_then(|bytes| String::from_utf8(bytes).ok()).unwrap_or_default()
}

/// Reads a ledger: columns `item` and `mass_kg`, and what else is known: `fate` (`sold`, `for sale`, `kept`, `scrapped`), `price`, `sold_to`,
/// `behind_front_axle_m`, `right_m`, `up_m`.
///
/// # Errors
/// Names every row that cannot be read.
pub fn ledger_from_csv(text: &str) -> Result<Vec<RemovedItem>> {
    let columns = table(text, &["item", "mass_kg"])?;
    let mut problems = Problems::new();
    let mut items = Vec::new();
    for row in columns.rows() {
        let line = row.number;
        if items.len() == MOST_ITEMS {
            problems.add(|| Problem::new(format!("row {line}"), "one item more", format!("at most {MOST_ITEMS} are accepted")));
            break;
        }
        let word = row.word("fate");
        let fate =
            if word.is_empty() { Some(Fate::default()) } else { Fate::ALL.into_iter().find(|f| f.word().eq_ignore_ascii_case(word)) };
        if fate.is_none() {
            let words = Fate::ALL.map(Fate::word).join(", ");
            problems.add(|| Problem::new(format!("row {line}, fate"), format!("\"{word}\""), format!("accepted are {words}")));
        }
        let mut at = Map::new();
        if let Some(metres) = row.maybe("behind_front_axle_m", &mut problems) {
            at.insert("along".to_owned(), json!({ "behind_front_axle_m": metres }));
        }
        for key in ["right_m", "up_m"] {
            at.extend(row.maybe(key, &mut problems).map(|m| (key.to_owned(), json!(m))));
        }
        let item = json!({ "name": unguarded(row.word("item")), "mass_kg": row.number("mass_kg", &mut problems), "at": at, "fate": fate.unwrap_or_default(),
            "sale_price": row.maybe("price", &mut problems).unwrap_or_default(), "sold_to": unguarded(row.word("sold_to")) });
        if problems.is_empty() {
            match within::<RemovedItem>(&item, fields::REMOVED) {
                Ok(item) => {
                    check_name(&item.name, &format!("row {line}"), &mut problems);
                    items.push(item);
                }
                Err(Error::Invalid(found)) => {
                    for p in found {
                        problems.push(Problem {
                            path: format!("row {line}, {}", p.path),
                            message: format!("row {line}, {}", p.message),
                            ..p
                        });
                    }
                }
                Err(other) => return Err(other),
            }
        }
    }
    problems.or(items)
}
