//! The `joulethesis` command.

mod demo;
mod generate;
mod layout;
mod schema;
mod search;
mod serve;

use std::io::{Read, Write};
use std::path::PathBuf;
use std::process::ExitCode;

use clap::{Parser, Subcommand};
use joulethesis_core::cancel::Cancel;
use joulethesis_core::document::{Checked, Document};
use joulethesis_core::error::Error;
use joulethesis_core::estimate::curves;
use joulethesis_core::inputs::Counted;
use joulethesis_core::library::{Component, Part, builtin, exchange};
use joulethesis_core::network::{SIMULATED_DBC, simulated_log};
use joulethesis_core::report::{report, report_with_bands};
use joulethesis_core::schematic::{drawn, electrics, parts_csv, wiring_csv};
use joulethesis_core::usage::{mends, week, years};

/// Gives back what one large request took: the system's allocator keeps it for good, and answers no sooner.
#[global_allocator]
static ALLOCATOR: mimalloc::MiMalloc = mimalloc::MiMalloc;

/// Computes, judges and keeps electric conversions.
#[derive(Parser)]
#[command(version)]
struct Arguments {
    #[command(subcommand)]
    command: Command,
}

#[derive(Subcommand)]
enum Command {
    /// Estimate a design document and print the result as JSON; needs no database.
    Estimate {
        /// File to read, or - for standard input.
        file: PathBuf,
        /// Leave out the curves to draw.
        #[arg(long)]
        no_curves: bool,
        /// Central figures only, without the bands.
        #[arg(long)]
        no_bands: bool,
    },
    /// The usual week of a design document hour by hour, in summer and winter, and what would make it hold, as JSON; needs no database.
    Week {
        /// Design document, or - for standard input.
        file: PathBuf,
    },
    /// Smaller and bigger packs over the years of a design document, as JSON; needs no database.
    Years {
        /// Design document, or - for standard input.
        file: PathBuf,
    },
    /// Everything between pack, motor, charger and the 12 V side of a design document, sized, as JSON; needs no database.
    Electrics {
        /// Design document, or - for standard input.
        file: PathBuf,
    },
    /// The one-line drawing of a design document's circuits as SVG; needs no database.
    Drawing {
        /// Design document, or - for standard input.
        file: PathBuf,
    },
    /// The wiring list of a design document's circuits as CSV; needs no database.
    Wiring {
        /// Design document, or - for standard input.
        file: PathBuf,
        /// The parts list in its place.
        #[arg(long)]
        parts: bool,
    },
    /// Where every mass of a design document sits and what its axles and wheels carry, as JSON; needs no database.
    Layout {
        /// Design document, or - for standard input.
        file: PathBuf,
        /// Something else in its place.
        #[arg(long, value_enum)]
        of: Option<layout::Form>,
    },
    /// Search the library for chains that meet the brief of a design document and print the answer as JSON; needs no database.
    Match {
        /// Design document, or - for standard input; its own parts are not looked at.
        file: PathBuf,
        /// What to search for (JSON, see docs/FORMATS.md); absent: everything, judged by the brief.
        #[arg(long)]
        request: Option<PathBuf>,
        /// Library file (CSV or JSON) in place of the built-in library.
        #[arg(long)]
        library: Option<PathBuf>,
        /// Ask why a part or combination is not in the answer (JSON, see docs/FORMATS.md).
        #[arg(long)]
        why_not: Option<PathBuf>,
        /// Print what the brief demands before any part is chosen, and stop.
        #[arg(long, conflicts_with = "why_not")]
        needs: bool,
    },
    /// Print the built-in library, or check a library file.
    Library {
        /// Form to print.
        #[arg(long, value_parser = ["csv", "json"], default_value = "json")]
        format: String,
        /// Library file (CSV or JSON) to check and print in place of the built-in one.
        file: Option<PathBuf>,
    },
    /// What the simulated network of a donor says, as a candump log; a stand-in for trying without a vehicle.
    Network {
        /// Seconds, up to 120.
        #[arg(long, default_value_t = 10)]
        seconds: u32,
        /// Unplug the engine's unit.
        #[arg(long)]
        without_engine: bool,
        /// Print its descriptions (DBC) in place of the log.
        #[arg(long)]
        dbc: bool,
    },
    /// Print the JSON Schema of a format.
    Schema {
        /// What to describe.
        #[arg(value_parser = ["design"])]
        what: String,
    },
    /// Print the OpenAPI description of the HTTP service.
    Openapi,
    /// Print what other files are made from: the units and fields of the interface, or the tables of docs/FORMATS.md.
    Generate {
        /// What to print.
        #[arg(value_parser = ["interface", "formats"])]
        what: String,
    },
    /// Bring the database to the newest schema.
    Migrate(serve::Database),
    /// Serve the application.
    Serve(serve::Serve),
    /// Load the demo data into an empty database, then serve.
    Demo(serve::Serve),
}

fn main() -> ExitCode {
    match run(Arguments::parse().command) {
        Ok(()) => ExitCode::SUCCESS,
        Err(Failure { status, message }) => {
            eprintln!("joulethesis: {message}");
            ExitCode::from(status)
        }
    }
}

/// Why the command failed: 2 for bad input, 1 for anything else.
struct Failure {
    status: u8,
    message: String,
}

impl Failure {
    fn input(message: impl ToString) -> Self {
        Self { status: 2, message: message.to_string() }
    }

    fn other(message: impl ToString) -> Self {
        Self { status: 1, message: message.to_string() }
    }
}

impl From<Error> for Failure {
    fn from(error: Error) -> Self {
        Self::input(error)
    }
}

fn run(command: Command) -> Result<(), Failure> {
    match command {
        Command::Estimate { file, no_curves, no_bands } => {
            let document = Document::from_json(&read(&file)?)?;
            let computed = if no_bands { report(&document)? } else { report_with_bands(&document)? };
            let mut result = serde_json::to_value(computed).map_err(Failure::other)?;
            if !no_curves {
                let drawn = curves(&Counted::of(&document), &Cancel::new())?;
                result["curves"] = serde_json::to_value(drawn).map_err(Failure::other)?;
            }
            let (counted, cancel) = (Counted::of(&document), Cancel::new());
            result["electrics"] = sheet(&document)?;
            result["week"] = serde_json::to_value(week(&counted, &cancel)?).map_err(Failure::other)?;
            print(&result)
        }
        Command::Week { file } => {
            let document = Document::from_json(&read(&file)?)?;
            let answer = week(&Counted::of(&document), &Cancel::new())?;
            let mends = mends(&document, builtin(), &answer.seasons, &Cancel::new())?;
            let mut result = serde_json::to_value(answer).map_err(Failure::other)?;
            result["mends"] = serde_json::to_value(mends).map_err(Failure::other)?;
            print(&result)
        }
        Command::Years { file } => {
            let document = Document::from_json(&read(&file)?)?;
            print(&serde_json::to_value(years(&document, &[], &Cancel::new())?).map_err(Failure::other)?)
        }
        Command::Electrics { file } => print(&sheet(&Document::from_json(&read(&file)?)?)?),
        Command::Drawing { file } => {
            let (_, drawing) = drawn(&Document::from_json(&read(&file)?)?, &Cancel::new())?;
            write(&drawing)
        }
        Command::Wiring { file, parts } => {
            let (circuit, _) = drawn(&Document::from_json(&read(&file)?)?, &Cancel::new())?;
            write(&if parts { parts_csv(&circuit) } else { wiring_csv(&circuit) })
        }
        Command::Layout { file, of } => layout::run(&file, of),
        Command::Match { file, request, library, why_not, needs } => search::run(&search::Inputs {
            file: &file,
            request: request.as_deref(),
            library: library.as_deref(),
            why_not: why_not.as_deref(),
            needs,
        }),
        Command::Library { format, file } => {
            let parts = search::library(file.as_deref())?;
            write(&if format == "csv" { exchange::to_csv(&parts) } else { exchange::to_json(&parts) })
        }
        Command::Schema { .. } => print(&schema::design()),
        Command::Network { dbc: true, .. } => write(SIMULATED_DBC),
        Command::Network { seconds, without_engine, .. } => write(&simulated_log(seconds, without_engine)),
        Command::Openapi => print(&serde_json::to_value(joulethesis_server::open_api()).map_err(Failure::other)?),
        Command::Generate { what } if what == "interface" => print(&generate::interface()),
        Command::Generate { .. } => write(&generate::formats()),
        Command::Migrate(database) => serve::migrate(&database),
        Command::Serve(settings) => serve::serve(&settings, false),
        Command::Demo(settings) => serve::serve(&settings, true),
    }
}

/// The electrics with the built-in library; the drawing has a command of its own.
fn sheet(document: &Checked) -> Result<serde_json::Value, Failure> {
    let of = |p: &Part| if let Part::Component(c) = p { Some(c.clone()) } else { None };
    let components: Vec<Component> = builtin().iter().filter_map(of).collect();
    let mut value = serde_json::to_value(electrics(document, &components, &Cancel::new())?).map_err(Failure::other)?;
    if let Some(sheet) = value.as_object_mut() {
        for drawn in ["drawing", "wiring_csv", "parts_csv"] {
            sheet.remove(drawn);
        }
    }
    Ok(value)
}

/// Largest design document read, bytes; the service accepts as much.
const LARGEST_FILE: u64 = 8 * 1024 * 1024;

fn read(file: &std::path::Path) -> Result<Vec<u8>, Failure> {
    let name = file.display();
    let mut bytes = Vec::new();
    let source: Box<dyn Read> = if file.as_os_str() == "-" {
        Box::new(std::io::stdin())
    } else {
        Box::new(std::fs::File::open(file).map_err(|e| Failure::input(format!("{name}: {e}")))?)
    };
    source.take(LARGEST_FILE + 1).read_to_end(&mut bytes).map_err(|e| Failure::input(format!("{name}: {e}")))?;
    if bytes.len() as u64 > LARGEST_FILE {
        return Err(Failure::input(format!("{name}: larger than {LARGEST_FILE} bytes")));
    }
    Ok(bytes)
}

fn print(value: &serde_json::Value) -> Result<(), Failure> {
    write(&(serde_json::to_string_pretty(value).map_err(Failure::other)? + "\n"))
}

/// Writes to standard output; a reader that has seen enough is no failure.
fn write(text: &str) -> Result<(), Failure> {
    match std::io::stdout().write_all(text.as_bytes()) {
        Err(e) if e.kind() != std::io::ErrorKind::BrokenPipe => Err(Failure::other(e)),
        _ => Ok(()),
    }
}
