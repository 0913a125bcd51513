//! State as plain data: saved, restored, rolled back and shared among cores with the same bits, and no memory asked
//! for while it goes on.

mod bits;
mod world;
