//! Sliding: what points into a wall is taken away, what runs along it is kept.

use glam::Vec2;

use super::passage::{Contact, MAX_CONTACTS, Passage, without_inward};
use crate::drive::Motion;
use crate::shape::Footprint;
use crate::terrain::Terrain;

/// What leads into a wall by less than this part of a motion is rounding.
const WEDGED: f32 = 1e-6;

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
    let mut passage = Passage { position: from, velocity: motion.velocity, ..Passage::default() };
    let mut rest = motion.displacement;
    let mut elapsed = 0.0;
    for _ in 0..MAX_CONTACTS {
        let Some(hit) = terrain.sweep(footprint, passage.position, rest) else {
            passage.position += rest;
            return passage;
        };
        elapsed += (1.0 - elapsed) * hit.fraction;
        let kept = without_inward(passage.velocity, hit.normal);
        let contact = Contact::new(&hit, elapsed, passage.velocity, kept);
        passage.contacts.push(contact);
        passage.position = hit.position;
        passage.velocity = contact.kept;
        rest = without_inward(rest * (1.0 - hit.fraction), hit.normal);
        // Between two slanted walls, what the second one leaves may lead into the first.
        let wedged = passage.contacts.iter().any(|met| rest.dot(met.normal) < -WEDGED * rest.length());
        if rest == Vec2::ZERO || (wedged && hit.fraction == 0.0) {
            break;
        }
    }
    passage
}
