//! All bits of a recording in one number, to tell whether two runs were the same.

use std::hash::Hasher;

use fnv::FnvHasher;

use super::Recording;

/// The fingerprint of a recording, as 16 digits: the 64-bit FNV-1a hash of every row and event, number by number.
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
        row.facing.name().bytes().for_each(|byte| number(u64::from(byte)));
    }
    for event in &recording.events {
        number(event.time.to_bits());
        event.what.to_string().bytes().for_each(|byte| number(u64::from(byte)));
    }
    format!("{:016x}", hasher.finish())
}
