//! One question to a map: what does a footprint meet on a way, and where does each response leave it? A
//! [`Question`] and the walls it is put to go in, an [`Answer`] comes out, as words or as JSON.

mod answer;
mod parse;
mod question;
mod walls;

pub(crate) use answer::Answer;
pub(crate) use parse::{Reaction, footprint, reaction, two_numbers};
pub(crate) use question::{Question, asked_in_json};
pub(crate) use walls::Walls;
