//! Moving through terrain: a displacement goes in, a [`Passage`] comes out.
//!
//! The passage says where the mover ended, what velocity is left and every wall it met on the way.
//! [`slide`] is what walking needs; [`carry`] lets the caller choose a [`Response`] for each contact.
//! [`Feelers`] tell how much room there is.

mod carry;
mod feelers;
mod passage;

pub use carry::{Response, carry, slide};
pub use feelers::{Feelers, free_distance};
pub(crate) use passage::without_inward;
pub use passage::{Contact, Contacts, MAX_CONTACTS, Passage};
