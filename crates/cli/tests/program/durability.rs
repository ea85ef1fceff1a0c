//! What has been acknowledged is kept, whatever is killed: clients that edit as fast as they are answered, on the real program and a lasting
//! PostgreSQL cluster of their own, while single processes of the database and the server are killed at random moments.
//!
//! Seconds of it by `JOULETHESIS_TORTURE_S`; a few in the tests.

use std::path::Path;
use std::process::Command;
use std::sync::Arc;
use std::sync::atomic::{AtomicBool, AtomicUsize, Ordering};
use std::time::{Duration, Instant};

use crate::common::{Client, Cluster, Server, kill, pause, seconds};
use serde_json::{Value, json};

/// Editors at once, each of a design of its own.
const EDITORS: usize = 6;

/// Process ids of the backends that serve the program.
fn backends(postmaster: u32) -> Vec<u32> {
    let children = Command::new("pgrep").args(["-P", &postmaster.to_string(), "-f", "postgres: app joulethesis"]).output().expect("pgrep");
    String::from_utf8_lossy(&children.stdout).lines().filter_map(|l| l.parse().ok()).collect()
}

struct Tally {
    acknowledged: AtomicUsize,
    unknown: AtomicUsize,
    /// Acknowledged and then not there, or said not to be and there.
    wrong: std::sync::Mutex<Vec<String>>,
}

/// Edits one conversion over and over; after each failure it reads again and compares with what it was told.
fn edit(client: &Client, id: &str, tally: &Tally, over: &AtomicBool) {
    let path = format!("/api/v1/conversions/{id}");
    let read = || loop {
        if let Some((200, body)) = client.send("GET", &path, None) {
            break body;
        }
        pause();
    };
    let told = |body: &Value| body["notes"].as_str().and_then(|n| n.parse::<u64>().ok()).unwrap_or(0);
    let mut stored = read();
    let mut number = 0;
    while !over.load(Ordering::Relaxed) {
        number += 1;
        let change = json!({
            "version": stored["version"], "name": stored["name"], "notes": number.to_string(), "units": "metric",
            "brief": stored["brief"], "donor": stored["donor"], "shortlist": stored["shortlist"]
        });
        let (kept, may_be_there) = match client.send("PUT", &path, Some(&change)) {
            Some((200, body)) => {
                tally.acknowledged.fetch_add(1, Ordering::Relaxed);
                // Once in a while looked at again: seconds later, after other kills.
                stored["version"] = body["version"].clone();
                if number % 50 != 0 {
                    continue;
                }
                (number, true)
            }
            Some((status, body)) => {
                assert!(status >= 500, "{status}: {body}");
                (number - 1, !body["detail"].as_str().is_some_and(|d| d.contains("nothing was changed")))
            }
            None => (number - 1, true),
        };
        if may_be_there && kept < number {
            tally.unknown.fetch_add(1, Ordering::Relaxed);
        }
        stored = read();
        let found = told(&stored);
        if found < kept || found > number || (found > kept && !may_be_there) {
            let words = format!("told that {kept} was kept, {number} {}; found {found}", if may_be_there { "perhaps" } else { "not" });
            tally.wrong.lock().expect("lock").push(words);
        }
        number = found;
    }
    let found = told(&read());
    if found != number {
        tally.wrong.lock().expect("lock").push(format!("{number} at the end; found {found}"));
    }
}

#[test]
fn nothing_acknowledged_is_lost() {
    let cluster = Cluster::new();
    let mut server = Server::start(&cluster.url, 0);
    let client = Client::new(server.port);
    let pipit: Value =
        serde_json::from_slice(&std::fs::read(crate::common::root().join("demo/pipit-a.json")).expect("demo")).expect("JSON");
    let ids: Vec<String> = (0..EDITORS)
        .map(|_| {
            let (status, body) = client.send("POST", "/api/v1/conversions/import", Some(&pipit)).expect("an answer");
            assert_eq!(status, 201, "{body}");
            body["id"].as_str().expect("an id").to_owned()
        })
        .collect();
    let tally = Arc::new(Tally { acknowledged: AtomicUsize::new(0), unknown: AtomicUsize::new(0), wrong: std::sync::Mutex::default() });
    let over = Arc::new(AtomicBool::new(false));
    let editors: Vec<_> = ids
        .into_iter()
        .map(|id| {
            let (client, tally, over) = (client.clone(), tally.clone(), over.clone());
            std::thread::spawn(move || edit(&client, &id, &tally, &over))
        })
        .collect();
    let end = Instant::now() + seconds("JOULETHESIS_TORTURE_S", 8);
    // A fixed row of moments: what it meets there is random enough.
    let mut seed = 20_261_126_u64;
    let mut kills = 0;
    while Instant::now() < end {
        seed = seed.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1_442_695_040_888_963_407);
        let random = (seed >> 33) as usize;
        std::thread::sleep(Duration::from_millis(150 + (random % 700) as u64));
        if random.is_multiple_of(5) {
            server.kill();
            server = Server::start(&cluster.url, server.port);
        } else if let Some(pid) = { backends(cluster.postmaster()) }.get(random / 5 % EDITORS) {
            kill(*pid);
        }
        kills += 1;
    }
    over.store(true, Ordering::Relaxed);
    for editor in editors {
        editor.join().expect("an editor");
    }
    let (acknowledged, unknown) = (tally.acknowledged.load(Ordering::Relaxed), tally.unknown.load(Ordering::Relaxed));
    println!("{acknowledged} edits acknowledged, {unknown} of unknown outcome, {kills} kills");
    assert!(acknowledged > 50 && kills > 3, "{acknowledged} edits, {kills} kills: nothing was tried");
    let wrong = tally.wrong.lock().expect("lock");
    assert!(wrong.is_empty(), "{} of {acknowledged}: {wrong:#?}", wrong.len());
    server.stop();
    // It was a cluster that keeps what it commits.
    assert!(Path::new(&cluster.folder).join("data").exists());
}

#[test]
fn servers_that_start_together_on_an_empty_database_all_come_up() {
    let cluster = Cluster::new();
    let starting: Vec<_> = (0..3)
        .map(|_| {
            let url = cluster.url.clone();
            std::thread::spawn(move || Server::start_as("demo", &url, 0))
        })
        .collect();
    let servers: Vec<Server> = starting.into_iter().map(|s| s.join().expect("it comes up")).collect();
    let (status, list) = Client::new(servers[0].port).send("GET", "/api/v1/conversions", None).expect("an answer");
    assert_eq!((status, list.as_array().map(Vec::len)), (200, Some(4)), "the demo is loaded once");
    for server in servers {
        server.stop();
    }
}
