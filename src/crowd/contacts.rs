//! What movers of a group note of each other: in a piece, each meets the neighbours into which it leads.

use alloc::rc::Rc;
use alloc::vec::Vec;

use super::group::Group;
use super::member::{Wish, gap};
use super::plan::Plan;
use super::rounds::Touch;
use crate::direction::Side;
use crate::travel::Contact;

impl Group<'_> {
    /// Adds a contact to the result of each mover that runs into a neighbour or presses on it, one for each neighbour and tick. It has
    /// the velocity that the mover has alone where they meet: what it does in the piece starts with one that is turned already.
    pub(super) fn note_contacts(&mut self, now: f64, plan: &Plan<'_>, moved: &[Rc<Wish<'_>>]) {
        let found =
            plan.presses().map(|touch| (touch.one, self.contact(&touch, now, plan, &moved[touch.one])));
        for (place, contact) in found.collect::<Vec<_>>() {
            let contacts = &mut self.members[place].result.contacts;
            if contacts.iter().all(|known| known.wall != contact.wall) {
                contacts.push(contact);
            }
        }
    }

    /// That a mover meets another one, at the start of a piece or within it.
    fn contact(&self, touch: &Touch, now: f64, plan: &Plan<'_>, wish: &Wish<'_>) -> Contact {
        let (Touch { one: place, other, after, .. }, alone) = (*touch, &plan.wishes[touch.one]);
        let [walker, neighbour] = [place, other].map(|place| {
            let mut walker = self.members[place].walker;
            walker.carry((plan.wishes[place].velocity * after).as_dvec2());
            walker
        });
        let wall = self.members[other].as_wall(&neighbour);
        let before = walker.velocity + (alone.walker.velocity - walker.velocity) * (after / plan.lasts);
        let outward = gap((&self.members[place], &walker), (&self.members[other], &neighbour)).1;
        let normal = outward.as_vec2();
        let taken = (wish.walker.velocity - before).dot(normal).max(0.0);
        #[expect(clippy::cast_possible_truncation, reason = "a time within a tick, rounded once")]
        let seconds = (now + f64::from(after)) as f32;
        Contact {
            wall: wall.wall,
            side: Side::facing(normal, self.terrain.y_axis()),
            normal,
            point: wall.touching_point(&walker.footprint, walker.place().middle(&walker.footprint), outward),
            position: walker.position,
            seconds,
            tag: wall.tag,
            velocity_before: before,
            velocity_after: before + normal * taken,
            pushed: plan.agreed.pushed[other].dot(normal) > 0.0,
        }
    }
}
