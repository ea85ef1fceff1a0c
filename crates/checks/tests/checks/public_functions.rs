//! Every function of the core that other crates may call is named in a test or has an example that runs.

use std::fs;
use std::path::{Path, PathBuf};

use crate::layers::sources;

fn is_of_word(c: char) -> bool {
    c.is_alphanumeric() || c == '_'
}

/// Names of the functions of a source that are open to other crates.
fn open(source: &str) -> Vec<&str> {
    let after = source.lines().filter_map(|l| l.trim_start().strip_prefix("pub ").map(|l| l.trim_start_matches("const ")));
    after.filter_map(|l| l.strip_prefix("fn ")?.split(|c| !is_of_word(c)).next()).collect()
}

/// Whether a text names something, as a word of its own.
fn names(text: &str, word: &str) -> bool {
    text.match_indices(word).any(|(at, _)| !text[..at].ends_with(is_of_word) && !text[at + word.len()..].starts_with(is_of_word))
}

fn below(folder: &Path) -> Vec<(PathBuf, String)> {
    let mut all = Vec::new();
    sources(folder, &mut all);
    all.into_iter().map(|path| (path.clone(), fs::read_to_string(&path).expect("a source"))).collect()
}

#[test]
fn every_function_others_may_call_is_tried() {
    let crates = Path::new(env!("CARGO_MANIFEST_DIR")).join("..");
    let of_tests = |path: &Path| path.components().any(|c| c.as_os_str() == "tests") || path.ends_with("tests.rs");
    let (inner, core): (Vec<_>, Vec<_>) = below(&crates.join("core/src")).into_iter().partition(|(path, _)| of_tests(path));
    let outer = ["checks", "server", "cli", "store"].iter().flat_map(|name| below(&crates.join(name).join("tests")));
    let examples = core.iter().flat_map(|(_, t)| t.lines()).filter(|l| l.trim_start().starts_with("//")).collect::<Vec<_>>().join("\n");
    let own = Path::new(file!()).file_name();
    let tests = outer.chain(inner).filter(|(path, _)| path.file_name() != own).map(|(_, text)| text).collect::<Vec<_>>().join("\n");
    let mut tried = 0;
    let mut untried = Vec::new();
    for (path, source) in &core {
        for name in open(source) {
            let by_example = examples.contains(&format!("{name}("));
            tried += 1;
            if !by_example && !names(&tests, name) {
                untried.push(format!("{}: {name}", path.display()));
            }
        }
    }
    assert!(tried > 300 && tests.len() > 500_000, "{tried} functions, {} bytes of tests: these are not all", tests.len());
    assert!(untried.is_empty(), "tried nowhere:\n{}", untried.join("\n"));
}

#[test]
fn one_that_is_not_tried_is_found() {
    let planted = "impl A {\n    pub const fn one() {}\n    pub(crate) fn two() {}\n    /// pub fn three\n    pub fn four(&self) {}\n}\n";
    assert_eq!(open(planted), ["one", "four"]);
    assert!(names("a.four();", "four") && !names("fourteen(); the_four();", "four"));
}
