//! A layout where little or nothing was said of places, and what a search makes of what was.

use joulethesis_core::cancel::Cancel;
use joulethesis_core::document::{Answers, Document, MatchRequest, VehicleKind};
use joulethesis_core::layout::{SizedBy, layout};
use joulethesis_core::library::builtin;
use joulethesis_core::matching::search;
use joulethesis_core::vehicle::masses;
use serde_json::json;

use crate::common::documents::demo;
use crate::common::{check, design_of, plain, read, with};

/// A document without anything put in, or with nothing but a donor, still has a layout.
#[test]
fn a_bare_donor_has_a_layout() {
    let bare = with(plain(), "/design", json!({}));
    let sheet = layout(&read(&bare));
    assert!(sheet.states.iter().all(|s| s.mass_kg > 0.0 && s.corners_kg.iter().all(|c| c.is_finite())));
}
/// Whatever the kind, a new vehicle stands on its wheels: usual places lie within its outline, every wheel carries something, what has two
/// tracks leans before it tips, and it takes no sides as long as nothing was placed to one.
#[test]
fn a_new_vehicle_of_any_kind_stands_on_its_wheels() {
    for kind in VehicleKind::ALL {
        let starter = Document::starter("New", kind, &Answers::default()).checked().expect("sound");
        let sheet = layout(&starter);
        let o = &sheet.outline;
        assert_eq!((o.kind, o.wheelbase_m), (kind, starter.donor.wheelbase_m));
        assert!(o.width_m >= o.track_front_m.max(o.track_rear_m) && o.height_m > o.wheel_radius_m, "{kind:?}");
        assert!(sheet.states.len() == 5 && sheet.limits.iter().all(|l| l.limit_kg > 0.0));
        for block in &sheet.blocks {
            let within = -o.overhang_front_m..=o.wheelbase_m + o.overhang_rear_m;
            assert!(within.contains(&block.along_m) && block.up_m > 0.0, "{kind:?}: {block:?}");
            assert!(block.length_m > 0.0 && block.width_m > 0.0 && block.height_m > 0.0 && block.mass_kg > 0.0, "{kind:?}: {block:?}");
            assert!(!block.placed && block.sized_by == SizedBy::Mass, "nobody has placed anything yet");
        }
        for s in &sheet.states {
            let [fl, fr, rl, rr] = s.corners_kg;
            assert!(fl > 0.0 && rl > 0.0 && fl == fr && rl == rr, "{kind:?}: {s:?}");
            assert_eq!(s.tips_sideways_deg.is_none(), kind == VehicleKind::Motorcycle, "{kind:?}");
            assert!(s.tips_sideways_deg.is_none_or(|deg| (10.0..80.0).contains(&deg)), "{kind:?}: {s:?}");
            assert!(s.tips_backwards_deg > 10.0 && s.tips_forwards_deg > 10.0, "{kind:?}: {s:?}");
        }
        // What is assumed is said.
        assert!(sheet.assumed.iter().any(|a| a.to_string().contains("as usual for the kind")), "{kind:?}");
    }
}
/// A search keeps what was said of places, boxes and all, whatever pack it tries: a pack of fewer modules leaves a box empty and is no fault.
#[test]
fn a_search_keeps_the_places() {
    let boxes = json!([{ "name": "Under the seat", "modules": 40, "at": { "along": "middle" } }]);
    let trike = with(demo("pipit-b"), "/design/layout", json!({ "motor": { "along": "rear" }, "boxes": boxes }));
    let document = read(&trike);
    let request = MatchRequest { pack: document.brief.search.pack, ..MatchRequest::default() };
    let answer = search(&document, builtin(), &request, &Cancel::new(), |_| true).expect("searched");
    assert!(!answer.designs.is_empty());
    for own in answer.designs.iter().take(5) {
        let design = design_of(&document, builtin(), &request, &own.pick);
        assert_eq!(design.layout, document.design.layout);
        let made = document.with(|d| d.design = design.clone()).expect("sound");
        let sheet = layout(&made);
        let boxed: u32 = sheet.blocks.iter().filter_map(|b| b.modules).sum();
        assert_eq!(boxed, design.pack.as_ref().expect("a pack").module_count());
        check(
            "the pack, box by box",
            sheet.blocks.iter().filter(|b| b.kind == "pack").map(|b| b.mass_kg).sum(),
            masses(&made).pack_kg,
            1e-12,
        );
    }
}
