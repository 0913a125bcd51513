//! The tool as a person runs it: its files, its words, its pictures, its refusals.

mod arcade;
mod bad_input;
mod browser;
mod compare;
mod documents;
mod draw;
mod harness;
mod limits;
mod maps;
mod outputs;
mod play;
mod probe;
mod report;
mod robust;
mod run;
mod steps;
