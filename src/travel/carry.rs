//! Carrying out a displacement, with a response to each wall met.
//!
//! The sweep is continuous: nothing is passed through at any speed. At each wall the response decides
//! what is left of the velocity and of the rest of the way; then the rest is swept again from there.

use glam::Vec2;

use super::passage::{Contact, MAX_CONTACTS, Passage, without_inward};
use crate::drive::Motion;
use crate::shape::Footprint;
use crate::terrain::{Hit, Minds, Terrain};
use crate::tolerance::WEDGED;

/// What a wall does to the velocity and to the rest of the way.
#[derive(Debug, Clone, Copy, PartialEq)]
#[non_exhaustive]
pub enum Response {
    /// What points into the wall is taken away, what runs along it is kept.
    Slide,
    /// What points into the wall is turned round and multiplied by the restitution: 1 keeps the speed,
    /// 0 slides.
    Rebound {
        /// The part of the inward speed that comes back, usually 0 to 1.
        restitution: f32,
    },
    /// It stops, for the rest of the tick and with no velocity left.
    Halt,
}

impl Response {
    /// What is left of a vector that points into a wall.
    fn applied(self, vector: Vec2, normal: Vec2) -> Vec2 {
        match self {
            Self::Slide => without_inward(vector, normal),
            Self::Rebound { restitution } => {
                let inward = vector.dot(normal).min(0.0);
                without_inward(vector, normal) - normal * (inward * restitution)
            }
            Self::Halt => Vec2::ZERO,
        }
    }
}

/// Carries out one tick's motion and slides along the walls it meets.
///
/// The sweep is continuous: nothing is passed through at any speed. At each wall the rest of the
/// displacement and the velocity lose the part that points into it. A mover that starts inside a
/// wall may leave it, and is held by other walls only.
///
/// ```
/// use ambulant::drive::Motion;
/// use ambulant::intent::Angle;
/// use ambulant::shape::Footprint;
/// use ambulant::terrain::{Legend, TileGrid, TileKind};
/// use ambulant::travel::slide;
/// use glam::vec2;
///
/// let legend = Legend::new().with('#', TileKind::wall("bed")).with('.', TileKind::floor("path"));
/// let map = TileGrid::from_rows(&["...#", "...#", "...#"], &legend)?;
/// let gardener = Footprint::boxed(0.5, 0.5)?;
///
/// let motion = Motion { displacement: vec2(4.0, 1.0), velocity: vec2(40.0, 10.0), heading: Angle::ZERO };
/// let passage = slide(&map, &gardener, vec2(1.0, 1.0), motion);
/// assert_eq!(passage.position, vec2(2.75, 2.0));
/// assert_eq!(passage.velocity, vec2(0.0, 10.0));
/// assert_eq!(passage.contacts.iter().next().unwrap().normal, vec2(-1.0, 0.0));
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
pub fn slide(
    terrain: &(impl Terrain + ?Sized),
    footprint: &Footprint,
    from: Vec2,
    motion: Motion,
) -> Passage {
    carry(terrain, footprint, from, motion, |_| Response::Slide)
}

/// Carries out one tick's motion and asks for a response at each wall.
///
/// Up to [`MAX_CONTACTS`] walls are met in order; what is left of the way then is told as
/// [`Passage::unspent`].
///
/// ```
/// use ambulant::drive::Motion;
/// use ambulant::intent::Angle;
/// use ambulant::shape::Footprint;
/// use ambulant::terrain::{Legend, TileGrid, TileKind};
/// use ambulant::travel::{Response, carry};
/// use glam::vec2;
///
/// let legend = Legend::new().with('.', TileKind::floor("air"));
/// let box_of_four = TileGrid::from_rows(&["....", "....", "....", "...."], &legend)?;
/// let dewdrop = Footprint::circle(0.5)?;
///
/// // To the right wall, to the left one and back to the start: the remainder is kept, and the speed.
/// let motion = Motion { displacement: vec2(6.0, 0.0), velocity: vec2(360.0, 0.0), heading: Angle::ZERO };
/// let bounce = |_: &_| Response::Rebound { restitution: 1.0 };
/// let passage = carry(&box_of_four, &dewdrop, vec2(1.5, 2.0), motion, bounce);
/// assert!(passage.position.distance(vec2(1.5, 2.0)) < 1e-6);
/// assert_eq!(passage.velocity, vec2(360.0, 0.0));
/// assert_eq!(passage.contacts.len(), 2);
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
pub fn carry(
    terrain: &(impl Terrain + ?Sized),
    footprint: &Footprint,
    from: Vec2,
    motion: Motion,
    mut respond: impl FnMut(&Hit) -> Response,
) -> Passage {
    let mut passage = Passage { position: from, velocity: motion.velocity, ..Passage::default() };
    let mut rest = motion.displacement;
    let mut elapsed = 0.0;
    while passage.contacts.len() < MAX_CONTACTS {
        let Some(hit) = terrain.sweep(footprint, passage.position, rest, &Minds::ALL) else {
            passage.position += rest;
            return passage;
        };
        elapsed += (1.0 - elapsed) * hit.fraction;
        let response = respond(&hit);
        let kept = response.applied(passage.velocity, hit.normal);
        passage.contacts.push(Contact::new(&hit, elapsed, passage.velocity, kept));
        passage.position = hit.position;
        passage.velocity = kept;
        rest *= 1.0 - hit.fraction;
        if response == Response::Halt {
            passage.unspent = rest;
            return passage;
        }
        rest = response.applied(rest, hit.normal);
        // Between two slanted walls, what the second one leaves may lead into the first.
        let wedged = passage.contacts.iter().any(|met| rest.dot(met.normal) < -WEDGED * rest.length());
        if rest == Vec2::ZERO || (wedged && hit.fraction == 0.0) {
            break;
        }
    }
    passage.unspent = rest;
    passage
}
