//! Memory that hostile bodies took is given back once they have been refused.

use crate::common::{Client, Cluster, Server, pause};
use serde_json::{Value, json};

/// Resident memory of a process, MB.
fn resident_mb(pid: u32) -> u64 {
    let status = std::fs::read_to_string(format!("/proc/{pid}/status")).expect("it runs");
    let line = status.lines().find_map(|l| l.strip_prefix("VmRSS:")).expect("a figure");
    line.trim().trim_end_matches(" kB").trim().parse::<u64>().expect("kB") / 1024
}

#[test]
fn what_a_large_body_took_is_given_back() {
    let cluster = Cluster::new();
    let server = Server::start(&cluster.url, 0);
    let client = Client::new(server.port);
    let part = json!({ "part": "motor", "name": "m" });
    let send = |parts: usize| {
        let body = json!({ "format": "joulethesis-library", "version": 1, "parts": vec![part.clone(); parts] });
        client.send("POST", "/api/v1/library/import", Some(&body)).map(|a: (u16, Value)| a.0)
    };
    assert_eq!(send(10), Some(422));
    let before = resident_mb(server.pid());
    for _ in 0..6 {
        let status = send(150_000).expect("an answer");
        assert!((400..500).contains(&status), "{status}");
    }
    // It takes a moment; far more than it needs is waited before it counts as kept.
    let after = (0..200)
        .map(|_| {
            pause();
            resident_mb(server.pid())
        })
        .find(|mb| *mb < before + 40);
    assert!(after.is_some(), "{before} MB before, {} MB kept", resident_mb(server.pid()));
    server.stop();
}
