//! One number for all bits of a state, to detect that two machines have diverged.
//!
//! A state is hashed as it is saved, so caches do not count: the bytes of a binary save go through the 64-bit FNV-1a
//! hash (G. Fowler, L. C. Noll, K.-P. Vo, 1991), one after the other.

use postcard::ser_flavors::Flavor;
use serde::Serialize;

/// The hash of nothing.
const NOTHING: u64 = 0xCBF2_9CE4_8422_2325;
const PRIME: u64 = 0x0100_0000_01B3;

/// The hash of a value as it is saved.
pub(crate) fn state_hash(value: &impl Serialize) -> u64 {
    // Only a drive of the game's own can refuse to be saved; all of those have one hash.
    postcard::serialize_with_flavor(value, Hash(NOTHING)).unwrap_or(0)
}

/// Takes in bytes.
struct Hash(u64);

impl Flavor for Hash {
    type Output = u64;

    fn try_push(&mut self, byte: u8) -> postcard::Result<()> {
        self.0 = (self.0 ^ u64::from(byte)).wrapping_mul(PRIME);
        Ok(())
    }

    fn finalize(self) -> postcard::Result<u64> {
        Ok(self.0)
    }
}

/// Adds the method to a type.
macro_rules! hashed {
    ($($name:ident)::+ $(, $drive:ident)?) => {
        impl $(<$drive: serde::Serialize>)? $($name)::+ $(<$drive>)? {
            /// One number for all bits of its state, the same on every machine for the same bits. It costs as much
            /// as a save. Combine those of all values of a game, for example by a sum, to detect that two players
            /// have diverged.
            #[must_use]
            pub fn state_hash(&self) -> u64 {
                $crate::state_hash::state_hash(self)
            }
        }
    };
}

hashed!(crate::terrain::World);
hashed!(crate::terrain::TileGrid);
hashed!(crate::walker::Walker, D);
hashed!(crate::walker::Character, D);
hashed!(crate::arcade::Ball);
hashed!(crate::arcade::Projectile);
hashed!(crate::steps::Stepper);
hashed!(crate::steps::Claims);
hashed!(crate::time::Ticks);
