//! Moving through terrain: a displacement goes in, a [`Passage`] comes out.
//!
//! The passage says where the mover ended, what velocity is left and every wall it met on the way.

mod passage;
mod slide;

pub(crate) use passage::without_inward;
pub use passage::{Contact, Contacts, MAX_CONTACTS, Passage};
pub use slide::slide;
