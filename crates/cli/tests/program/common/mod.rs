//! The real program on a lasting cluster of its own, and a client of it.
#![allow(dead_code)] // each test file uses some of it

use std::io::{BufRead, BufReader, Read, Write};
use std::net::TcpStream;
use std::path::PathBuf;
use std::process::{Child, Command, Stdio};
use std::time::Duration;

use serde_json::Value;

pub(crate) fn root() -> PathBuf {
    PathBuf::from(concat!(env!("CARGO_MANIFEST_DIR"), "/../.."))
}

/// A bound of a test's work, from the environment.
pub(crate) fn seconds(name: &str, usual: u64) -> Duration {
    Duration::from_secs(std::env::var(name).ok().and_then(|s| s.parse().ok()).unwrap_or(usual))
}

pub(crate) fn pause() {
    std::thread::sleep(Duration::from_millis(50));
}

/// Ends a process at once. Only ever given ids of processes that the test started, or that those started.
pub(crate) fn kill(pid: u32) {
    Command::new("kill").args(["-KILL", &pid.to_string()]).stderr(Stdio::null()).status().expect("kill");
}

/// A folder that a user without rights can reach, gone with the test.
pub(crate) struct Folder(pub PathBuf);

impl Folder {
    pub(crate) fn new() -> Self {
        let path = Command::new("mktemp").args(["-d", "/tmp/joulethesis-test.XXXXXX"]).output().expect("mktemp").stdout;
        let path = PathBuf::from(String::from_utf8(path).expect("a path").trim());
        assert!(Command::new("chmod").arg("755").arg(&path).status().expect("chmod").success());
        Self(path)
    }
}

impl Drop for Folder {
    fn drop(&mut self) {
        let _ = std::fs::remove_dir_all(&self.0);
    }
}

/// A PostgreSQL cluster as the start command makes it: durable.
pub(crate) struct Cluster {
    pub(crate) url: String,
    pub(crate) folder: PathBuf,
    _parent: Folder,
}

impl Cluster {
    pub(crate) fn new() -> Self {
        let parent = Folder::new();
        let folder = parent.0.join("pg");
        let made = Command::new(root().join("scripts/postgres.sh")).arg("start").arg(&folder).output().expect("the script");
        assert!(made.status.success(), "{}", String::from_utf8_lossy(&made.stderr));
        Self { url: String::from_utf8(made.stdout).expect("an address").trim().to_owned(), folder, _parent: parent }
    }

    pub(crate) fn postmaster(&self) -> u32 {
        // Only its owner may read the file; root may too.
        let text = std::fs::read_to_string(self.folder.join("data/postmaster.pid")).expect("it runs");
        text.lines().next().and_then(|l| l.trim().parse().ok()).expect("a process id")
    }
}

impl Drop for Cluster {
    fn drop(&mut self) {
        let _ = Command::new(root().join("scripts/postgres.sh")).arg("stop").arg(&self.folder).status();
    }
}

/// The program, serving.
pub(crate) struct Server {
    child: Child,
    pub(crate) port: u16,
}

impl Server {
    pub(crate) fn start(url: &str, port: u16) -> Self {
        Self::start_as("serve", url, port)
    }

    /// Waits until it says where it is served; while the database recovers it is started again, as its watcher does.
    pub(crate) fn start_as(mode: &str, url: &str, port: u16) -> Self {
        for _ in 0..100 {
            let mut child = Command::new(env!("CARGO_BIN_EXE_joulethesis"))
                .args([mode, "--port", &port.to_string(), "--web", "no/such/folder"])
                .env("DATABASE_URL", url)
                .current_dir(root())
                .stdout(Stdio::piped())
                .stderr(Stdio::null())
                .spawn()
                .expect("the program");
            let said = BufReader::new(child.stdout.take().expect("piped"));
            let place = said.lines().map_while(Result::ok).find(|l| l.contains("http://"));
            match place.and_then(|l| l.split("http://").nth(1)?.split_whitespace().next()?.rsplit(':').next()?.parse().ok()) {
                Some(own) if port == 0 || own == port => return Self { child, port: own },
                _ => {
                    let _ = child.kill();
                    let _ = child.wait();
                    pause();
                }
            }
        }
        panic!("the program does not come up");
    }

    pub(crate) fn pid(&self) -> u32 {
        self.child.id()
    }

    pub(crate) fn kill(&mut self) {
        self.child.kill().expect("it runs");
        self.child.wait().expect("it ends");
    }

    pub(crate) fn stop(mut self) {
        Command::new("kill").args(["-TERM", &self.child.id().to_string()]).status().expect("kill");
        assert!(self.child.wait().expect("it ends").success());
    }
}

impl Drop for Server {
    fn drop(&mut self) {
        let _ = self.child.kill();
        let _ = self.child.wait();
    }
}

/// A client of one connection a request.
#[derive(Clone)]
pub(crate) struct Client {
    port: u16,
}

impl Client {
    pub(crate) fn new(port: u16) -> Self {
        Self { port }
    }

    /// Status and body; nothing when the connection broke before a whole answer was there.
    pub(crate) fn send(&self, method: &str, path: &str, body: Option<&Value>) -> Option<(u16, Value)> {
        let mut stream = TcpStream::connect(("127.0.0.1", self.port)).ok()?;
        stream.set_read_timeout(Some(Duration::from_secs(30))).ok()?;
        let body = body.map(Value::to_string).unwrap_or_default();
        let head = format!(
            "{method} {path} HTTP/1.1\r\nHost: 127.0.0.1\r\nConnection: close\r\nContent-Type: application/json\r\nContent-Length: {}\r\n\r\n",
            body.len()
        );
        stream.write_all(head.as_bytes()).and_then(|()| stream.write_all(body.as_bytes())).ok()?;
        let mut said = Vec::new();
        stream.read_to_end(&mut said).ok()?;
        let said = String::from_utf8(said).ok()?;
        let (head, body) = said.split_once("\r\n\r\n")?;
        let status = head.split(' ').nth(1)?.parse().ok()?;
        let length = head.lines().find_map(|l| l.to_ascii_lowercase().strip_prefix("content-length: ").and_then(|n| n.parse().ok()));
        (length.is_none_or(|n: usize| n == body.len())).then(|| (status, serde_json::from_str(body).unwrap_or(Value::Null)))
    }
}
