//! The store against a model of it in memory: whatever is asked in whatever order, with versions seen now or long ago, the answer is that
//! of the model, and in the end so is what is stored.

use std::collections::BTreeMap;

use joulethesis_core::document::{Checked, Document};
use joulethesis_core::library::{Part, builtin};
use joulethesis_store::testing::TestDatabase;
use joulethesis_store::{ConversionChange, NewConversion, NewDesign, Store, StoreError, UnitSystem};
use proptest::prelude::*;
use proptest::test_runner::{Config, RngSeed, TestRunner};
use serde_json::{Value, json};
use uuid::Uuid;

/// What is asked; rows are named by their place among all there ever were, versions by how many writes ago they were seen.
#[derive(Debug, Clone)]
enum Asked {
    AddConversion { name: usize, variants: usize },
    Rename { conversion: usize, ago: i32, name: usize },
    RemoveConversion { conversion: usize, ago: i32 },
    AddDesign { conversion: usize, copy: Option<usize> },
    ChangeDesign { design: usize, ago: i32, motors: u32 },
    RemoveDesign { design: usize, ago: i32 },
    AddPart { part: usize, name: usize },
    ChangePart { part: usize, ago: i32, name: usize },
    RetirePart { part: usize, ago: i32, retired: bool },
    RemovePart { part: usize, ago: i32 },
}

fn asked() -> impl Strategy<Value = Asked> {
    let ago = || prop_oneof![6 => Just(0), 1 => 1..3i32];
    prop_oneof![
        (0usize..4, 1usize..3).prop_map(|(name, variants)| Asked::AddConversion { name, variants }),
        (0usize..6, ago(), 0usize..4).prop_map(|(conversion, ago, name)| Asked::Rename { conversion, ago, name }),
        (0usize..6, ago()).prop_map(|(conversion, ago)| Asked::RemoveConversion { conversion, ago }),
        (0usize..6, proptest::option::of(0usize..8)).prop_map(|(conversion, copy)| Asked::AddDesign { conversion, copy }),
        (0usize..8, ago(), 1u32..5).prop_map(|(design, ago, motors)| Asked::ChangeDesign { design, ago, motors }),
        (0usize..8, ago()).prop_map(|(design, ago)| Asked::RemoveDesign { design, ago }),
        (0usize..3, 0usize..3).prop_map(|(part, name)| Asked::AddPart { part, name }),
        (0usize..4, ago(), 0usize..3).prop_map(|(part, ago, name)| Asked::ChangePart { part, ago, name }),
        (0usize..4, ago(), any::<bool>()).prop_map(|(part, ago, retired)| Asked::RetirePart { part, ago, retired }),
        (0usize..4, ago()).prop_map(|(part, ago)| Asked::RemovePart { part, ago }),
    ]
}

/// How a call ended.
#[derive(Debug, PartialEq)]
enum Ended {
    Done,
    Missing,
    Stale(i32),
    Taken,
}

fn ended<T>(result: Result<T, StoreError>) -> (Ended, Option<T>) {
    match result {
        Ok(value) => (Ended::Done, Some(value)),
        Err(StoreError::NotFound(_)) => (Ended::Missing, None),
        Err(StoreError::Stale { current, .. }) => (Ended::Stale(current), None),
        Err(StoreError::Taken(_)) => (Ended::Taken, None),
        Err(other) => panic!("{other}"),
    }
}

/// One row of the model: its version, and what it holds.
#[derive(Debug, Clone)]
struct Row<T> {
    id: Uuid,
    version: i32,
    holds: T,
}

/// Whether a write with a version may happen, and what is said where not.
fn may<T>(row: Option<&Row<T>>, seen: i32) -> Ended {
    row.map_or(Ended::Missing, |r| if r.version == seen { Ended::Done } else { Ended::Stale(r.version) })
}

/// Variant letters, each with the motors of its design.
type Variants = BTreeMap<String, Row<u32>>;

#[derive(Default)]
struct Model {
    conversions: Vec<(Row<String>, Variants)>,
    parts: Vec<Row<(usize, usize, bool)>>,
    /// Ids that once were.
    gone: Vec<Uuid>,
}

const NAMES: [&str; 4] = ["Wren", "Dunlin", "Plover", "Knot"];
const NOWHERE: Uuid = Uuid::nil();

impl Model {
    fn conversion(&self, place: usize) -> Option<usize> {
        (place < self.conversions.len()).then_some(place)
    }

    /// A design by its place among all, as conversion and letter.
    fn design(&self, place: usize) -> Option<(usize, String)> {
        self.conversions.iter().enumerate().flat_map(|(i, (_, v))| v.keys().map(move |l| (i, l.clone()))).nth(place)
    }

    fn next_letter(variants: &Variants) -> String {
        ('A'..='Z').map(String::from).find(|l| !variants.contains_key(l)).expect("a free letter")
    }
}

fn part(kind: usize, name: usize) -> Value {
    let kinds = ["motor", "component", "charger"];
    let mut value = serde_json::to_value(builtin().iter().find(|p| p.kind() == kinds[kind]).expect("built in")).expect("JSON");
    value["name"] = json!(NAMES[name]);
    value
}

struct Bench<'a> {
    store: &'a Store,
    van: &'a Checked,
    model: Model,
}

impl Bench<'_> {
    async fn ask(&mut self, asked: &Asked) {
        let Self { store, van, model } = self;
        match asked {
            Asked::AddConversion { name, variants } => {
                let new = NewConversion::of_documents(NAMES[*name], "", vec![(*van).clone(); *variants]).expect("documents");
                let added = store.add_conversion(new).await.expect("added");
                let holds = added.designs.iter().map(|d| (d.label.clone(), Row { id: d.id, version: 1, holds: d.design.motor_count }));
                let row = Row { id: added.head.id, version: added.head.version, holds: NAMES[*name].to_owned() };
                model.conversions.push((row, holds.collect()));
            }
            Asked::Rename { conversion, ago, name } => {
                let row = model.conversion(*conversion).map(|i| &mut model.conversions[i].0);
                let (id, seen) = row.as_ref().map_or((NOWHERE, 1), |r| (r.id, r.version - ago));
                let change = ConversionChange {
                    version: seen,
                    name: NAMES[*name].to_owned(),
                    notes: String::new(),
                    units: UnitSystem::Metric,
                    brief: serde_json::to_value(&van.brief).expect("JSON"),
                    donor: serde_json::to_value(&van.donor).expect("JSON"),
                    shortlist: serde_json::json!({}),
                };
                let (how, head) = ended(store.change_conversion(id, change).await);
                assert_eq!(how, may(row.as_deref(), seen), "{asked:?}");
                if let (Some(row), Some(head)) = (row, head) {
                    (row.version, row.holds) = (row.version + 1, NAMES[*name].to_owned());
                    assert_eq!((head.version, &head.name), (row.version, &row.holds));
                }
            }
            Asked::RemoveConversion { conversion, ago } => {
                let place = model.conversion(*conversion);
                let row = place.map(|i| &model.conversions[i].0);
                let (id, seen) = row.map_or((NOWHERE, 1), |r| (r.id, r.version - ago));
                let (how, _) = ended(store.remove_conversion(id, seen).await);
                assert_eq!(how, may(row, seen), "{asked:?}");
                if let (Some(i), Ended::Done) = (place, how) {
                    let (row, variants) = model.conversions.remove(i);
                    model.gone.push(row.id);
                    model.gone.extend(variants.values().map(|d| d.id));
                }
            }
            Asked::AddDesign { conversion, copy } => {
                let place = model.conversion(*conversion);
                let copied = copy.and_then(|c| model.design(c));
                let from = copied.as_ref().map(|(i, letter)| (*i, model.conversions[*i].1[letter].clone()));
                let new = NewDesign { copy_of: copy.map(|_| from.as_ref().map_or(NOWHERE, |(_, d)| d.id)), design: None };
                let id = place.map_or(NOWHERE, |i| model.conversions[i].0.id);
                let (how, record) = ended(store.add_design(id, new).await);
                // Only a variant of the same conversion can be copied.
                let known = copy.is_none() || from.as_ref().is_some_and(|(i, _)| Some(*i) == place);
                assert_eq!(how, if place.is_some() && known { Ended::Done } else { Ended::Missing }, "{asked:?}");
                if let (Some(i), Some(record)) = (place, record) {
                    let variants = &mut model.conversions[i].1;
                    assert_eq!(record.label, Model::next_letter(variants));
                    let holds = from.map_or(1, |(_, d)| d.holds);
                    assert_eq!(record.design.motor_count, holds);
                    variants.insert(record.label.clone(), Row { id: record.id, version: record.version, holds });
                }
            }
            Asked::ChangeDesign { design, ago, motors } => {
                let at = model.design(*design);
                let row = at.and_then(|(i, letter)| model.conversions[i].1.get_mut(&letter));
                let (id, seen) = row.as_ref().map_or((NOWHERE, 1), |r| (r.id, r.version - ago));
                let (how, record) = ended(store.change_design(id, seen, &json!({ "motor_count": motors })).await);
                assert_eq!(how, may(row.as_deref(), seen), "{asked:?}");
                if let (Some(row), Some(record)) = (row, record) {
                    (row.version, row.holds) = (row.version + 1, *motors);
                    assert_eq!((record.version, record.design.motor_count), (row.version, row.holds));
                }
            }
            Asked::RemoveDesign { design, ago } => {
                let at = model.design(*design);
                let row = at.as_ref().map(|(i, letter)| model.conversions[*i].1[letter].clone());
                let (id, seen) = row.as_ref().map_or((NOWHERE, 1), |r| (r.id, r.version - ago));
                let (how, _) = ended(store.remove_design(id, seen).await);
                assert_eq!(how, may(row.as_ref(), seen), "{asked:?}");
                if let (Some((i, letter)), Ended::Done) = (at, how) {
                    model.gone.extend(model.conversions[i].1.remove(&letter).map(|d| d.id));
                }
            }
            Asked::AddPart { part: kind, name } => {
                let taken = model.parts.iter().any(|p| (p.holds.0, p.holds.1) == (*kind, *name));
                let (how, record) = ended(store.add_part(&part(*kind, *name)).await);
                assert_eq!(how, if taken { Ended::Taken } else { Ended::Done }, "{asked:?}");
                model.parts.extend(record.map(|r| Row { id: r.id, version: r.version, holds: (*kind, *name, false) }));
            }
            Asked::ChangePart { part: place, ago, name } => {
                let row = model.parts.get(*place).cloned();
                let (id, seen, kind) = row.as_ref().map_or((NOWHERE, 1, 0), |r| (r.id, r.version - ago, r.holds.0));
                let taken = row.as_ref().is_some_and(|r| {
                    r.version == seen && model.parts.iter().any(|p| p.id != r.id && (p.holds.0, p.holds.1) == (kind, *name))
                });
                let (how, record) = ended(store.change_part(id, seen, &part(kind, *name)).await);
                assert_eq!(how, if taken { Ended::Taken } else { may(row.as_ref(), seen) }, "{asked:?}");
                if let Some(record) = record {
                    let row = &mut model.parts[*place];
                    (row.version, row.holds.1) = (row.version + 1, *name);
                    assert_eq!((record.version, record.retired), (row.version, row.holds.2));
                }
            }
            Asked::RetirePart { part, ago, retired } => {
                let row = model.parts.get_mut(*part);
                let (id, seen) = row.as_ref().map_or((NOWHERE, 1), |r| (r.id, r.version - ago));
                let (how, version) = ended(store.retire_part(id, seen, *retired).await);
                assert_eq!(how, may(row.as_deref(), seen), "{asked:?}");
                if let (Some(row), Some(version)) = (row, version) {
                    (row.version, row.holds.2) = (row.version + 1, *retired);
                    assert_eq!(version, row.version);
                }
            }
            Asked::RemovePart { part, ago } => {
                let row = model.parts.get(*part).cloned();
                let (id, seen) = row.as_ref().map_or((NOWHERE, 1), |r| (r.id, r.version - ago));
                let (how, _) = ended(store.remove_part(id, seen).await);
                assert_eq!(how, may(row.as_ref(), seen), "{asked:?}");
                if how == Ended::Done {
                    model.parts.remove(*part);
                }
            }
        }
    }

    /// What is stored is what the model holds, and no more.
    async fn agree(&self) {
        for (row, variants) in &self.model.conversions {
            let stored = self.store.conversion(row.id).await.expect("stored");
            assert_eq!((stored.head.version, &stored.head.name), (row.version, &row.holds));
            let held: Vec<_> = stored.designs.iter().map(|d| (d.label.clone(), d.id, d.version, d.design.motor_count)).collect();
            let want: Vec<_> = variants.iter().map(|(l, d)| (l.clone(), d.id, d.version, d.holds)).collect();
            assert_eq!(held, want);
        }
        assert_eq!(self.store.conversions().await.expect("listed").len(), self.model.conversions.len());
        let (parts, unreadable) = self.store.parts().await.expect("listed");
        let name = |p: &Part| NAMES.iter().position(|n| *n == p.name());
        let mut held: Vec<_> = parts.iter().map(|p| (p.id, p.version, name(&p.part), p.retired)).collect();
        let mut want: Vec<_> = self.model.parts.iter().map(|r| (r.id, r.version, Some(r.holds.1), r.holds.2)).collect();
        held.sort_by_key(|p| p.0);
        want.sort_by_key(|p| p.0);
        assert_eq!((held, unreadable.len()), (want, 0));
        for id in &self.model.gone {
            assert!(matches!(self.store.conversion(*id).await, Err(StoreError::NotFound(_))));
            assert!(matches!(self.store.design(*id).await, Err(StoreError::NotFound(_))));
        }
    }
}

#[test]
fn the_store_is_its_model() {
    let path = format!("{}/../../demo/wren-a.json", env!("CARGO_MANIFEST_DIR"));
    let van = Document::from_json(&std::fs::read(path).expect("demo file")).expect("sound");
    let runtime = tokio::runtime::Runtime::new().expect("a runtime");
    let more = std::env::var("JOULETHESIS_TORTURE_CASES").ok().and_then(|n| n.parse().ok());
    let rng_seed = if more.is_some() { RngSeed::Random } else { RngSeed::Fixed(20_261_126) };
    let mut runner = TestRunner::new(Config { cases: more.unwrap_or(24), rng_seed, failure_persistence: None, ..Config::default() });
    runner
        .run(&proptest::collection::vec(asked(), 1..40), |all| {
            runtime.block_on(async {
                let db = TestDatabase::new().await;
                let mut bench = Bench { store: &db.store, van: &van, model: Model::default() };
                for one in &all {
                    bench.ask(one).await;
                }
                bench.agree().await;
                db.drop_database().await;
            });
            Ok(())
        })
        .unwrap_or_else(|e| panic!("{e}"));
}
