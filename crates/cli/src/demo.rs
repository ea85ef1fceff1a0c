//! The demo: a cooperative on an island and the vehicles it converts. All invented.

use joulethesis_core::document::{Document, Shortlist, section};
use joulethesis_core::quantity::parse_json;
use joulethesis_store::{NewConversion, Store, StoreError};

struct Scene {
    name: &'static str,
    notes: &'static str,
    documents: &'static [&'static str],
    /// Vehicles that were looked at beside it.
    shortlist: Option<&'static str>,
}

const SCENES: &[Scene] = &[
    Scene {
        name: "Dunlin, ferry-slip tug",
        notes: "Saltmarsh Growers & Bakers: bought half-finished, with a restored series motor.",
        documents: &[include_str!("../../../demo/dunlin-a.json")],
        shortlist: None,
    },
    Scene {
        name: "Wren, orchard hauler",
        notes: "Saltmarsh Growers & Bakers: two ranges, terraces, and cells whose seller says much.",
        documents: &[include_str!("../../../demo/wren-a.json")],
        shortlist: None,
    },
    Scene {
        name: "Pipit, market trike",
        notes: "Saltmarsh Growers & Bakers: lead-acid first, lithium later.",
        documents: &[include_str!("../../../demo/pipit-a.json"), include_str!("../../../demo/pipit-b.json")],
        shortlist: None,
    },
    Scene {
        name: "Whimbrel 9, delivery van",
        notes: "Saltmarsh Growers & Bakers: the bakery round with the harbour hill. B is cheaper; look at its findings.",
        documents: &[
            include_str!("../../../demo/whimbrel-9-a.json"),
            include_str!("../../../demo/whimbrel-9-b.json"),
            include_str!("../../../demo/whimbrel-9-c.json"),
        ],
        shortlist: Some(include_str!("../../../demo/whimbrel-9-shortlist.json")),
    },
];

/// Loads the demo conversions into a database that has none, all or nothing; true when it did.
pub(crate) async fn load(store: &Store) -> Result<bool, StoreError> {
    let mut all = Vec::new();
    for scene in SCENES {
        let documents = scene.documents.iter().map(|text| Document::from_json(text.as_bytes())).collect::<Result<Vec<_>, _>>()?;
        let mut new = NewConversion::of_documents(scene.name, scene.notes, documents);
        if let (Some(new), Some(text)) = (&mut new, scene.shortlist) {
            new.shortlist = section::<Shortlist>(&parse_json(text.as_bytes())?)?;
        }
        all.extend(new);
    }
    store.add_to_empty(all).await
}
