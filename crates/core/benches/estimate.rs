//! Budgets of the computation, printed; and a proof that the inner loop does not allocate.
//!
//! Budgets: an 1800 s trip 100 us, a whole estimate 5 ms (one core each).
#![allow(missing_docs, unsafe_code)]

use std::alloc::{GlobalAlloc, Layout, System};
use std::hint::black_box;
use std::sync::atomic::{AtomicUsize, Ordering};

use criterion::{Criterion, criterion_group, criterion_main};
use joulethesis_core::cancel::Cancel;
use joulethesis_core::document::Schedule;
use joulethesis_core::document::{Checked, Document, TripPath};
use joulethesis_core::estimate::{estimate, socket_studies, trip_loads};
use joulethesis_core::inputs::Counted;
use joulethesis_core::layout::{layout, offers, pack_splits};
use joulethesis_core::library::{Part, builtin};
use joulethesis_core::powertrain::{Chain, Rating};
use joulethesis_core::report::report;
use joulethesis_core::schematic::{derived, electrics};
use joulethesis_core::simulate::{ACCELERATION_STEP_M_S, ShiftPolicy, TractiveForce, accelerate, drive_trace, range};
use joulethesis_core::trip::Trace;
use joulethesis_core::uncertainty::{bands, tornado};
use joulethesis_core::usage::{mends, week, years};
use joulethesis_core::vehicle::masses;

struct Counting;

static ALLOCATIONS: AtomicUsize = AtomicUsize::new(0);

// SAFETY: every call is passed on to the system's allocator unchanged; only a counter is kept beside it.
unsafe impl GlobalAlloc for Counting {
    unsafe fn alloc(&self, layout: Layout) -> *mut u8 {
        ALLOCATIONS.fetch_add(1, Ordering::Relaxed);
        unsafe { System.alloc(layout) }
    }
    unsafe fn dealloc(&self, pointer: *mut u8, layout: Layout) {
        unsafe { System.dealloc(pointer, layout) }
    }
}

#[global_allocator]
static ALLOCATOR: Counting = Counting;

fn demo(name: &str) -> Checked {
    let path = format!("{}/../../demo/{name}.json", env!("CARGO_MANIFEST_DIR"));
    Document::from_json(&std::fs::read(path).expect("demo file")).expect("sound")
}

fn benches(c: &mut Criterion) {
    let document = demo("whimbrel-9-a");
    let chain = Chain::of(&document, masses(&document).test_kg).expect("complete");
    let wltc = Trace::of(&TripPath::Schedule(Schedule::Wltc2));
    assert_eq!(wltc.duration_s(), 1800.0);

    let before = ALLOCATIONS.load(Ordering::Relaxed);
    black_box(drive_trace(&chain, &wltc, ShiftPolicy::default(), 0.9));
    println!("allocations in an 1800 s trip: {}", ALLOCATIONS.load(Ordering::Relaxed) - before);

    c.bench_function("1800 s trip, fourth gear", |b| {
        b.iter(|| drive_trace(&chain, &wltc, ShiftPolicy { gear: Some(4), ..ShiftPolicy::default() }, black_box(0.9)));
    });
    c.bench_function("1800 s trip, choosing among five gears", |b| {
        b.iter(|| drive_trace(&chain, &wltc, ShiftPolicy::default(), black_box(0.9)));
    });
    c.bench_function("range, 1800 s trip repeated", |b| b.iter(|| range(&chain, &wltc, ShiftPolicy::default(), black_box(0.9))));
    let limits = chain.limits(0.7, chain.low_voltage_w, Rating::Peak);
    c.bench_function("0-100 km/h, five gears with changes", |b| {
        b.iter(|| accelerate(&mut TractiveForce::new(&chain, &chain.gears, &limits, ACCELERATION_STEP_M_S), 0.0, black_box(100.0 / 3.6)));
    });
    for name in ["whimbrel-9-a", "pipit-a", "pipit-b"] {
        let document = demo(name);
        c.bench_function(&format!("whole estimate, {name}, {} trips", document.brief.trips.len() + document.brief.schedules.len()), |b| {
            b.iter(|| report(black_box(&document)));
        });
        c.bench_function(&format!("bands of 256 draws, {name}"), |b| b.iter(|| bands(black_box(&document), &Cancel::new())));
    }
    let (van, counted) = (demo("whimbrel-9-a"), Counted::of(&demo("whimbrel-9-a")));
    let components: Vec<_> = builtin().iter().filter_map(|p| if let Part::Component(c) = p { Some(c.clone()) } else { None }).collect();
    c.bench_function("electrics with drawing, whimbrel-9-a", |b| b.iter(|| electrics(black_box(&document), &components, &Cancel::new())));
    let estimated = estimate(&counted, &Cancel::new()).expect("computed");
    let loads = trip_loads(&counted, &chain, &Cancel::new()).expect("driven");
    c.bench_function("what the trips ask of the cables, whimbrel-9-a", |b| {
        b.iter(|| trip_loads(black_box(&counted), &chain, &Cancel::new()));
    });
    c.bench_function("derivation of the electrics with drawing, from an estimate, whimbrel-9-a", |b| {
        b.iter(|| derived(black_box(&document), &chain, &estimated, loads.clone(), &components));
    });
    c.bench_function("a week in summer and winter, whimbrel-9-a", |b| b.iter(|| week(black_box(&counted), &Cancel::new())));
    let runs = week(&counted, &Cancel::new()).expect("computed").seasons;
    c.bench_function("what mends the week, whimbrel-9-a", |b| b.iter(|| mends(black_box(&van), builtin(), &runs, &Cancel::new())));
    let (quick, sockets) = (demo("wren-a"), Counted::of(&demo("whimbrel-9-a")));
    c.bench_function("five packs over the years, 64 samples each, wren-a", |b| b.iter(|| years(black_box(&quick), &[], &Cancel::new())));
    c.bench_function("charging at three sockets on three days", |b| b.iter(|| socket_studies(black_box(&sockets), None, None)));
    c.bench_function("tornado of a range, whimbrel-9-a", |b| {
        let figure = format!("trip.{}.range_km", document.brief.trips[0].id);
        b.iter(|| tornado(black_box(&document), &figure, &Cancel::new()));
    });
    c.bench_function("layout with three bays, whimbrel-9-a", |b| b.iter(|| layout(black_box(&van))));
    let modules: Vec<_> = builtin().iter().filter_map(|p| if let Part::Module(m) = p { Some(m) } else { None }).collect();
    c.bench_function("the whole library held against a bay", |b| {
        b.iter(|| offers(black_box(&van.donor.bays[0]), modules.iter().copied(), &Cancel::new()));
    });
    let full = {
        let mut full = (*van).clone();
        let bay = full.donor.bays[0].clone();
        full.donor.bays = vec![bay; 6];
        if let Some(pack) = &mut full.design.pack {
            pack.strings_in_parallel = 30;
        }
        full
    };
    c.bench_function("90 modules spread over six bays", |b| b.iter(|| pack_splits(black_box(&full), None, &[], &Cancel::new())));
    let text = std::fs::read(format!("{}/../../demo/whimbrel-9-a.json", env!("CARGO_MANIFEST_DIR"))).expect("demo file");
    c.bench_function("reading and checking a document", |b| b.iter(|| Document::from_json(black_box(&text))));
}

criterion_group!(group, benches);
criterion_main!(group);
