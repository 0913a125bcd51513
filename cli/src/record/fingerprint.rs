//! All bits of a recording in one number, to tell whether two runs were the same.

use std::hash::Hasher;

use ambulant::direction::Facing;
use fnv::FnvHasher;

use super::{Happening, Recording};

/// The fingerprint of a recording, as 16 digits: the 64-bit FNV-1a hash of every row and event, number by number. Kinds and
/// directions count by fixed codes, so that another wording is the same run.
pub(crate) fn fingerprint(recording: &Recording) -> String {
    let mut hasher = FnvHasher::default();
    let mut number = |bits: u64| hasher.write(&bits.to_le_bytes());
    for row in &recording.rows {
        number(u64::from(row.tick));
        number(row.time.to_bits());
        for part in [row.position, row.velocity, row.intent] {
            part.to_array().into_iter().for_each(|part| number(u64::from(part.to_bits())));
        }
        number(u64::from(row.heading.to_bits()));
        row.tile.to_array().into_iter().for_each(|part| number(u64::from(part.unsigned_abs())));
        number(facing_code(row.facing));
    }
    for event in &recording.events {
        number(event.time.to_bits());
        number(event.actor as u64);
        number(event.what.kind() as u64);
        if let Happening::Touched { contact, touch } = &event.what {
            let tile = touch.tile.unwrap_or_default();
            tile.to_array().into_iter().for_each(|part| number(u64::from(part.unsigned_abs())));
            for part in [contact.normal, contact.velocity_before, contact.velocity_after] {
                part.to_array().into_iter().for_each(|part| number(u64::from(part.to_bits())));
            }
        }
    }
    format!("{:016x}", hasher.finish())
}

/// Eighths of a turn from the right, clockwise on a screen.
fn facing_code(facing: Facing) -> u64 {
    match facing {
        Facing::Right => 0,
        Facing::DownRight => 1,
        Facing::Down => 2,
        Facing::DownLeft => 3,
        Facing::Left => 4,
        Facing::UpLeft => 5,
        Facing::Up => 6,
        Facing::UpRight => 7,
    }
}
