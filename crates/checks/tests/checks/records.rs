//! Documents of every kind of vehicle, and every price in one.

use crate::common::sound_demo;
use joulethesis_core::document::{AddedStrings, Answers, Document, Item, VehicleKind};

#[test]
fn every_kind_starts_sound_and_survives_its_own_format() {
    for kind in VehicleKind::ALL {
        let starter = Document::starter("New", kind, &Answers::default());
        let text = serde_json::to_vec(&starter).expect("a document is JSON");
        assert_eq!(Document::from_json(&text).unwrap_or_else(|e| panic!("{kind:?}: {e}")).into_written(), starter);
    }
}

#[test]
fn every_price_is_reached() {
    let mut document = sound_demo("whimbrel-9-a").into_written();
    let pack = document.design.pack.as_mut().expect("a pack");
    pack.added_strings.push(AddedStrings { module: pack.module.clone(), modules_in_series: 7, strings_in_parallel: 2 });
    let sum = |d: &Document| d.design.items().iter().map(Item::total_price).sum::<f64>();
    let before = sum(&document);
    document.design.prices_mut().into_iter().for_each(|p| *p *= 3.0);
    assert!(before > 0.0 && (sum(&document) / before - 3.0).abs() < 1e-12);
}
