//! One number for all bits of a state, to detect that two machines have diverged.
//!
//! A state is hashed as it is saved: every number that a save contains goes in, in its order, so caches do not count.
//! Each number is one step of a multiplicative hash (multiplication by an odd constant, D. Knuth, The Art of Computer
//! Programming, volume 3, section 6.4), and the end mixes the upper bits into the lower ones.

use core::fmt;

use serde::ser::{self, Serialize, Serializer};

/// The bits of the golden ratio.
const SPREAD: u64 = 0x9E37_79B9_7F4A_7C15;

/// The hash of a value as it is saved.
pub(crate) fn state_hash(value: &impl Serialize) -> u64 {
    let mut hash = Hash(0);
    // Only a drive of the game's own can refuse; then what came before it counts.
    let _ = value.serialize(&mut hash);
    let mixed = (hash.0 ^ (hash.0 >> 32)).wrapping_mul(SPREAD);
    mixed ^ (mixed >> 29)
}

/// Adds the method to a type.
macro_rules! hashed {
    ($($name:ident)::+ $(, $drive:ident)?) => {
        #[cfg(feature = "serde")]
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

struct Hash(u64);

impl Hash {
    fn add(&mut self, number: u64) {
        self.0 = (self.0.rotate_left(5) ^ number).wrapping_mul(SPREAD);
    }

    fn add_all(&mut self, bytes: &[u8]) {
        self.add(bytes.len() as u64);
        bytes.iter().for_each(|byte| self.add(u64::from(*byte)));
    }
}

/// What a drive of the game's own refuses to save.
#[derive(Debug)]
struct Refused;

impl fmt::Display for Refused {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str("a value refuses to be saved")
    }
}

impl core::error::Error for Refused {}

impl ser::Error for Refused {
    fn custom<T: fmt::Display>(_: T) -> Self {
        Self
    }
}

/// Numbers that go in as they are.
macro_rules! numbers {
    ($($name:ident($type:ty) => |$value:ident| $number:expr),* $(,)?) => {
        $(fn $name(self, $value: $type) -> Result<(), Refused> {
            self.add($number);
            Ok(())
        })*
    };
}

#[expect(clippy::cast_sign_loss, reason = "only the bits count")]
impl Serializer for &mut Hash {
    type Ok = ();
    type Error = Refused;
    type SerializeSeq = Self;
    type SerializeTuple = Self;
    type SerializeTupleStruct = Self;
    type SerializeTupleVariant = Self;
    type SerializeMap = Self;
    type SerializeStruct = Self;
    type SerializeStructVariant = Self;

    numbers! {
        serialize_bool(bool) => |value| u64::from(value),
        serialize_i8(i8) => |value| i64::from(value) as u64,
        serialize_i16(i16) => |value| i64::from(value) as u64,
        serialize_i32(i32) => |value| i64::from(value) as u64,
        serialize_i64(i64) => |value| value as u64,
        serialize_u8(u8) => |value| u64::from(value),
        serialize_u16(u16) => |value| u64::from(value),
        serialize_u32(u32) => |value| u64::from(value),
        serialize_u64(u64) => |value| value,
        serialize_f32(f32) => |value| u64::from(value.to_bits()),
        serialize_f64(f64) => |value| value.to_bits(),
        serialize_char(char) => |value| u64::from(u32::from(value)),
    }

    fn serialize_str(self, text: &str) -> Result<(), Refused> {
        self.serialize_bytes(text.as_bytes())
    }

    fn serialize_bytes(self, bytes: &[u8]) -> Result<(), Refused> {
        self.add_all(bytes);
        Ok(())
    }

    fn serialize_none(self) -> Result<(), Refused> {
        self.serialize_unit()
    }

    fn serialize_some<T: Serialize + ?Sized>(self, value: &T) -> Result<(), Refused> {
        self.add(1);
        value.serialize(self)
    }

    fn serialize_unit(self) -> Result<(), Refused> {
        self.add(0);
        Ok(())
    }

    fn serialize_unit_struct(self, _: &'static str) -> Result<(), Refused> {
        self.serialize_unit()
    }

    fn serialize_unit_variant(self, _: &'static str, index: u32, _: &'static str) -> Result<(), Refused> {
        self.serialize_u32(index)
    }

    fn serialize_newtype_struct<T: Serialize + ?Sized>(
        self,
        _: &'static str,
        value: &T,
    ) -> Result<(), Refused> {
        value.serialize(self)
    }

    fn serialize_newtype_variant<T: Serialize + ?Sized>(
        self,
        _: &'static str,
        index: u32,
        _: &'static str,
        value: &T,
    ) -> Result<(), Refused> {
        self.add(u64::from(index));
        value.serialize(self)
    }

    fn serialize_seq(self, count: Option<usize>) -> Result<Self, Refused> {
        self.add(count.unwrap_or_default() as u64);
        Ok(self)
    }

    fn serialize_tuple(self, _: usize) -> Result<Self, Refused> {
        Ok(self)
    }

    fn serialize_tuple_struct(self, _: &'static str, _: usize) -> Result<Self, Refused> {
        Ok(self)
    }

    fn serialize_tuple_variant(
        self,
        _: &'static str,
        index: u32,
        _: &'static str,
        _: usize,
    ) -> Result<Self, Refused> {
        self.add(u64::from(index));
        Ok(self)
    }

    fn serialize_map(self, count: Option<usize>) -> Result<Self, Refused> {
        self.serialize_seq(count)
    }

    fn serialize_struct(self, _: &'static str, _: usize) -> Result<Self, Refused> {
        Ok(self)
    }

    fn serialize_struct_variant(
        self,
        _: &'static str,
        index: u32,
        _: &'static str,
        _: usize,
    ) -> Result<Self, Refused> {
        self.add(u64::from(index));
        Ok(self)
    }
}

/// Parts that go in one after the other.
macro_rules! parts {
    ($($kind:ident: $method:ident),*) => {
        $(impl ser::$kind for &mut Hash {
            type Ok = ();
            type Error = Refused;

            fn $method<T: Serialize + ?Sized>(&mut self, value: &T) -> Result<(), Refused> {
                value.serialize(&mut **self)
            }

            fn end(self) -> Result<(), Refused> {
                Ok(())
            }
        })*
    };
}

parts!(
    SerializeSeq: serialize_element,
    SerializeTuple: serialize_element,
    SerializeTupleStruct: serialize_field,
    SerializeTupleVariant: serialize_field
);

/// The same with names, which do not count.
macro_rules! fields {
    ($($kind:ident),*) => {
        $(impl ser::$kind for &mut Hash {
            type Ok = ();
            type Error = Refused;

            fn serialize_field<T: Serialize + ?Sized>(
                &mut self,
                _: &'static str,
                value: &T,
            ) -> Result<(), Refused> {
                value.serialize(&mut **self)
            }

            fn end(self) -> Result<(), Refused> {
                Ok(())
            }
        })*
    };
}

fields!(SerializeStruct, SerializeStructVariant);

impl ser::SerializeMap for &mut Hash {
    type Ok = ();
    type Error = Refused;

    fn serialize_key<T: Serialize + ?Sized>(&mut self, key: &T) -> Result<(), Refused> {
        key.serialize(&mut **self)
    }

    fn serialize_value<T: Serialize + ?Sized>(&mut self, value: &T) -> Result<(), Refused> {
        value.serialize(&mut **self)
    }

    fn end(self) -> Result<(), Refused> {
        Ok(())
    }
}
