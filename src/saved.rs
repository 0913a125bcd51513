//! Saves: their version, and the checks of what is restored.
//!
//! A save contains what cannot be derived. Everything else (bit tables, cells, scratch memory) is rebuilt when it is
//! restored. What a constructor would refuse is refused here too, so nothing restored can make a later call panic.

/// The version of a saved value: the number `N` in the save. Another number is an error.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Default)]
pub(crate) struct Version<const N: u16>;

#[cfg(feature = "serde")]
pub(crate) use checks::{Endless, Invalid, endless, ensure};

/// Restores a type from its fields: `restored!(Pace { speed: f32 } as saved => Ok(Pace::new(saved.speed)?))`. The
/// expression checks the fields and returns the value, or what is wrong with a field.
macro_rules! restored {
    ($name:ident { $($field:ident: $type:ty),* $(,)? } as $saved:ident => $make:expr) => {
        #[cfg(feature = "serde")]
        const _: () = {
            #[allow(unused_imports, reason = "not every type has more to check than numbers")]
            use $crate::saved::{Endless, ensure};

            type Restored = $name;

            mod fields {
                #[allow(unused_imports, reason = "which names the fields need differs")]
                use super::*;
                #[allow(unused_imports, reason = "few types have such a field")]
                use $crate::saved::Endless;

                #[derive(serde::Deserialize)]
                pub(super) struct $name {
                    $(pub(super) $field: $type),*
                }
            }

            impl<'de> serde::Deserialize<'de> for Restored {
                fn deserialize<D: serde::Deserializer<'de>>(deserializer: D) -> Result<Self, D::Error> {
                    let $saved = <fields::$name as serde::Deserialize>::deserialize(deserializer)?;
                    let make = || -> Result<Self, $crate::saved::Invalid> { $make };
                    make().map_err($crate::saved::Invalid::refuse)
                }
            }
        };
    };
}
pub(crate) use restored;

#[cfg(feature = "serde")]
mod checks {
    use alloc::string::{String, ToString};
    use core::fmt::Display;

    use serde::de::{Deserialize, Deserializer, Error};
    use serde::ser::{Serialize, Serializer};

    use super::Version;

    impl<const N: u16> Serialize for Version<N> {
        fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
            N.serialize(serializer)
        }
    }

    impl<'de, const N: u16> Deserialize<'de> for Version<N> {
        fn deserialize<D: Deserializer<'de>>(deserializer: D) -> Result<Self, D::Error> {
            let found = u16::deserialize(deserializer)?;
            if found == N { Ok(Self) } else { Err(D::Error::custom(WrongVersion { found, wanted: N })) }
        }
    }

    /// Saves a number that may be infinite: nothing stands for infinity, which text formats do not have.
    #[expect(clippy::trivially_copy_pass_by_ref, reason = "the signature that serde asks for")]
    pub(crate) fn endless<S: Serializer>(number: &f32, serializer: S) -> Result<S::Ok, S::Error> {
        number.is_finite().then_some(*number).serialize(serializer)
    }

    /// A number that was saved by [`endless`].
    pub(crate) struct Endless(pub(crate) f32);

    impl<'de> Deserialize<'de> for Endless {
        fn deserialize<D: Deserializer<'de>>(deserializer: D) -> Result<Self, D::Error> {
            Ok(Self(Option::deserialize(deserializer)?.unwrap_or(f32::INFINITY)))
        }
    }

    struct WrongVersion {
        found: u16,
        wanted: u16,
    }

    impl Display for WrongVersion {
        fn fmt(&self, f: &mut core::fmt::Formatter<'_>) -> core::fmt::Result {
            let Self { found, wanted } = self;
            write!(f, "version is {found}, but this library restores version {wanted} of it")
        }
    }

    /// Why a save is refused.
    #[derive(Debug)]
    pub(crate) struct Invalid(String);

    impl Invalid {
        pub(crate) fn refuse<E: Error>(self) -> E {
            E::custom(self.0)
        }
    }

    impl<E: Display> From<E> for Invalid {
        fn from(error: E) -> Self {
            Self(error.to_string())
        }
    }

    /// Refuses a save unless a condition holds; `why` names the field.
    pub(crate) fn ensure(holds: bool, why: &str) -> Result<(), Invalid> {
        if holds { Ok(()) } else { Err(Invalid(why.to_string())) }
    }
}
