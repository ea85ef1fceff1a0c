//! `joulethesis layout`: where every mass sits, and the drawings that follow from it.

use std::path::Path;

use joulethesis_core::document::Document;
use joulethesis_core::layout::layout;
use joulethesis_core::schematic::{account_csv, layout_plan, plate_plan};

use crate::{Failure, print, read, write};

/// What of a layout is printed in place of the sheet.
#[derive(Clone, Copy, clap::ValueEnum)]
pub(crate) enum Form {
    /// The mass account, CSV.
    Account,
    /// The vehicle from above and from the side, SVG at one to one.
    Plan,
    /// The adapter plate, SVG at one to one.
    Plate,
}

pub(crate) fn run(file: &Path, form: Option<Form>) -> Result<(), Failure> {
    let document = Document::from_json(&read(file)?)?;
    match form {
        None => print(&serde_json::to_value(layout(&document)).map_err(Failure::other)?),
        Some(Form::Account) => write(&account_csv(&document)),
        Some(Form::Plan) => write(&layout_plan(&document).svg()),
        Some(Form::Plate) => {
            let none = || Failure::input("design.mechanics.plate is absent; a design with an adapter plate is accepted".to_owned());
            write(&plate_plan(&document).ok_or_else(none)?.svg())
        }
    }
}
