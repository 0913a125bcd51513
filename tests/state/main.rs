//! State as plain data: saved, restored, rolled back and shared among cores with the same bits, and no memory asked
//! for while it goes on; and the structure of the code itself.

#[macro_use]
#[path = "../promises/properties.rs"]
mod properties;

mod bits;
mod saves;
mod structure;
mod world;
