//! Every check of the core in one program: it is linked once, and the checks share both cores.

mod common;

mod air_and_tyres;
mod bad_input;
mod bands;
mod brute_force;
mod catalogue;
mod closed_forms;
mod coast_down;
mod direct_current_motors;
mod electric_parts;
mod findings;
mod fuzz;
mod heat;
mod heat_and_driveline;
mod hopeful;
mod laws;
mod laws_of_every_motor;
mod layers;
mod library_files;
mod matching;
mod published_figures;
mod readings;
mod recorded_tracks;
mod records;
mod reference_model;
mod schedules;
mod second_opinion;
mod textbook_vehicles;
mod trade_figures;
mod trips;
mod units;
mod vehicle;
mod verdicts;
