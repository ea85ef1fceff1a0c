//! The start command watches what it started: killed, it is started again; stopped, it ends whole; and two do not share one database.

use std::io::{BufRead, BufReader};
use std::path::Path;
use std::process::{Child, Command, Stdio};
use std::sync::mpsc;
use std::time::Duration;

use crate::common::{Client, Folder, kill, pause, root};

/// Far above what it waits for, on the slowest machine.
const NEVER: Duration = Duration::from_secs(120);

fn run(data: &Path, errors: Stdio) -> Child {
    Command::new(root().join("scripts/run.sh"))
        .arg("demo")
        .env("JOULETHESIS_DATA", data)
        .env("PORT", "0")
        .env_remove("DATABASE_URL")
        .stdout(Stdio::piped())
        .stderr(errors)
        .spawn()
        .expect("the script")
}

/// Ports that the program tells, as it comes up again and again.
fn ports(child: &mut Child) -> mpsc::Receiver<u16> {
    let lines = BufReader::new(child.stdout.take().expect("piped")).lines();
    let (tell, told) = mpsc::channel();
    std::thread::spawn(move || {
        for line in lines.map_while(Result::ok) {
            let port = line.split("http://").nth(1).and_then(|l| l.split_whitespace().next()?.rsplit(':').next()?.parse().ok());
            if let Some(port) = port
                && tell.send(port).is_err()
            {
                return;
            }
        }
    });
    told
}

/// Process ids below `of` whose command line contains `words`.
fn below(of: u32, words: &str) -> Vec<u32> {
    let found = Command::new("pgrep").args(["-P", &of.to_string(), "-f", words]).output().expect("pgrep");
    String::from_utf8_lossy(&found.stdout).lines().filter_map(|l| l.parse().ok()).collect()
}

#[test]
fn what_is_killed_is_started_again_and_a_second_run_stops_nothing() {
    let folder = Folder::new();
    let data = folder.0.join("data");
    let mut first = run(&data, Stdio::null());
    let told = ports(&mut first);
    let port = told.recv_timeout(NEVER).expect("it comes up");
    let listed = |port: u16| loop {
        match Client::new(port).send("GET", "/api/v1/conversions", None) {
            Some((200, list)) => break list.as_array().map(Vec::len),
            _ => pause(),
        }
    };
    assert_eq!(listed(port), Some(4));

    // A second run in the same checkout says so, and leaves the first alone.
    let second = run(&data, Stdio::piped()).wait_with_output().expect("it ends");
    assert!(!second.status.success());
    assert!(String::from_utf8_lossy(&second.stderr).contains("already"), "{}", String::from_utf8_lossy(&second.stderr));
    assert_eq!(listed(port), Some(4));

    // The password stands on no command line, and the program's role may not do everything.
    let url = std::fs::read_to_string(data.join("password")).expect("a password");
    let lines = Command::new("ps").args(["-eo", "args"]).output().expect("ps");
    assert!(!String::from_utf8_lossy(&lines.stdout).contains(url.trim()));

    for pid in below(first.id(), "joulethesis demo") {
        kill(pid);
    }
    let port = told.recv_timeout(NEVER).expect("the server is started again");
    assert_eq!(listed(port), Some(4));

    let postmaster = || {
        let text = std::fs::read_to_string(data.join("data/postmaster.pid")).ok()?;
        text.lines().next()?.trim().parse::<u32>().ok()
    };
    let before = postmaster().expect("it runs");
    kill(before);
    while postmaster().is_none_or(|now| now == before) {
        pause();
    }
    assert_eq!(listed(port), Some(4));

    Command::new("kill").args(["-TERM", &first.id().to_string()]).status().expect("kill");
    assert!(first.wait().expect("it ends").success());
    assert!(postmaster().is_none(), "the database ends with it");
    assert!(Client::new(port).send("GET", "/healthz", None).is_none(), "the server ends with it");
}
