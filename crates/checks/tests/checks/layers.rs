//! The arrows between the modules of the core run one way: a module uses only those that stand before it in [`LAYERS`].

use std::fs;
use std::path::{Path, PathBuf};

/// From what stands on nothing to what stands on everything; docs/ARCHITECTURE.md says what each is for.
const LAYERS: [&str; 31] = [
    "error",
    "cancel",
    "quantity",
    "limits",
    "library",
    "document",
    "vehicle",
    "layout",
    "trip",
    "pack",
    "charge",
    "powertrain",
    "simulate",
    "inputs",
    "figures",
    "estimate",
    "uncertainty",
    "claims",
    "electrics",
    "mechanics",
    "findings",
    "schematic",
    "bench",
    "evidence",
    "network",
    "explain",
    "report",
    "alternatives",
    "usage",
    "matching",
    "candidates",
];

/// All sources below a folder.
pub(crate) fn sources(folder: &Path, found: &mut Vec<PathBuf>) {
    for entry in fs::read_dir(folder).expect("a folder") {
        let path = entry.expect("an entry").path();
        if path.is_dir() {
            sources(&path, found);
        } else if path.extension().is_some_and(|e| e == "rs") {
            found.push(path);
        }
    }
}

/// Modules of the crate that a source names, with the line: `crate::a::B`, `use crate::{a::B, c}`. Comments may name what they like.
fn named(source: &str) -> Vec<(usize, String)> {
    let code: String = source.lines().map(|l| format!("{}\n", l.split("//").next().unwrap_or_default())).collect();
    let mut out = Vec::new();
    for (at, _) in code.match_indices("crate::") {
        let before = code[..at].chars().next_back();
        if before.is_some_and(|c| c.is_alphanumeric() || c == '_' || c == '$') {
            continue;
        }
        let line = code[..at].matches('\n').count() + 1;
        let rest = &code[at + "crate::".len()..];
        let word = |text: &str| text.trim_start().chars().take_while(|c| c.is_alphanumeric() || *c == '_').collect::<String>();
        let Some(group) = rest.strip_prefix('{') else {
            out.push((line, word(rest)));
            continue;
        };
        // The names before the commas of the outermost braces.
        let mut depth = 0usize;
        let mut starts = true;
        for (i, c) in group.char_indices() {
            if starts && !c.is_whitespace() {
                out.push((line, word(&group[i..])));
                starts = false;
            }
            match c {
                '{' => depth += 1,
                '}' if depth == 0 => break,
                '}' => depth -= 1,
                ',' if depth == 0 => starts = true,
                _ => {}
            }
        }
    }
    out.retain(|(_, name)| !name.is_empty());
    out
}

/// What a source of a module names that does not stand before it.
fn upward(module: &str, source: &str) -> Vec<String> {
    let rank = |name: &str| LAYERS.iter().position(|l| *l == name);
    let own = rank(module).unwrap_or_else(|| panic!("{module} has no layer: give it one in LAYERS and in docs/ARCHITECTURE.md"));
    named(source)
        .into_iter()
        .filter(|(_, name)| name != module && rank(name).is_none_or(|r| r > own))
        .map(|(line, name)| format!("line {line}: {module} uses {name}"))
        .collect()
}

#[test]
fn no_module_uses_one_above_it() {
    let root = Path::new(env!("CARGO_MANIFEST_DIR")).join("../core/src");
    let mut all = Vec::new();
    sources(&root, &mut all);
    let mut seen = Vec::new();
    let mut broken = Vec::new();
    for path in all {
        let inside = path.strip_prefix(&root).expect("below src");
        let module = inside.iter().next().expect("a name").to_string_lossy().trim_end_matches(".rs").to_owned();
        if module == "lib" {
            continue;
        }
        let source = fs::read_to_string(&path).expect("a source");
        broken.extend(upward(&module, &source).into_iter().map(|b| format!("{}, {b}", inside.display())));
        seen.push(module);
    }
    assert!(broken.is_empty(), "{}", broken.join("\n"));
    let absent: Vec<&&str> = LAYERS.iter().filter(|l| !seen.iter().any(|s| s == *l)).collect();
    assert!(absent.is_empty(), "no such module: {absent:?}");
}

#[test]
fn an_arrow_that_runs_back_is_found() {
    let planted =
        "use crate::quantity::units;\nuse crate::{error::Result, report::{Report, report}};\nfn f() { crate::matching::search(); }\n";
    assert_eq!(upward("simulate", planted), ["line 2: simulate uses report", "line 3: simulate uses matching"]);
    assert!(upward("simulate", "// see crate::report\nuse crate::trip::Trace;\n").is_empty());
}

/// Names of the records that the description of the service tells of, with the file each stands in.
fn described(root: &Path) -> Vec<(String, PathBuf)> {
    let mut all = Vec::new();
    sources(root, &mut all);
    let mut names = Vec::new();
    for path in all {
        let source = fs::read_to_string(&path).expect("a source");
        let mut lines = source.lines();
        while let Some(line) = lines.next() {
            if !line.contains("ToSchema)") {
                continue;
            }
            let item = lines.by_ref().find(|l| l.contains("struct ") || l.contains("enum ")).unwrap_or_default();
            let after = item.split("struct ").nth(1).or(item.split("enum ").nth(1)).unwrap_or_default();
            let name: String = after.chars().take_while(|c| c.is_alphanumeric()).collect();
            if !name.is_empty() {
                names.push((name, path.clone()));
            }
        }
    }
    names
}

/// Two records of one name would be told as one: the interface would read the fields of the other.
#[test]
fn no_two_records_of_the_service_share_a_name() {
    let root = Path::new(env!("CARGO_MANIFEST_DIR")).join("..");
    let mut names = described(&root.join("core/src"));
    names.extend(described(&root.join("server/src")));
    assert!(names.len() > 100, "{}", names.len());
    names.sort();
    let twice: Vec<_> = names.windows(2).filter(|w| w[0].0 == w[1].0).collect();
    assert!(twice.is_empty(), "{twice:#?}");
}
