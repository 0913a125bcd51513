//! The gardener's hands: keys that come and go, and a stick with a round dead zone.

use ambulant::intent::{DirectionSnap, Directions, Opposites, PressOrder, Stick};
use ambulant::prelude::*;

/// What a hand does to its keys.
type Change = fn(&mut PressOrder);

fn main() -> Result<(), Box<dyn std::error::Error>> {
    println!("keys         eight ways            the newest alone");
    let mut keys = PressOrder::default();
    let hand: [(&str, Change); 5] = [
        ("right", |keys| keys.press(Direction::Right)),
        ("and down", |keys| keys.press(Direction::Down)),
        ("and left", |keys| keys.press(Direction::Left)),
        ("down let go", |keys| keys.release(Direction::Down)),
        ("left let go", |keys| keys.release(Direction::Left)),
    ];
    for (what, change) in hand {
        change(&mut keys);
        let eight = keys.eight_way(Opposites::Cancel, YAxis::Down).vector();
        let four = keys.four_way(YAxis::Down).vector();
        println!("{what:11}  {:6.3}, {:6.3}        {:3}, {:3}", eight.x, eight.y, four.x, four.y);
    }

    println!("\nstick at     strength   snapped to four ways");
    let stick = Stick::new(0.2, 0.95, 1.5)?; // dead zone, outer limit, response curve
    let mut snap = DirectionSnap::new(Directions::Four, 0.1)?;
    for position in [vec2(0.1, 0.1), vec2(0.3, 0.1), vec2(0.6, 0.5), vec2(0.6, 0.63), vec2(0.4, 0.9)] {
        let intent = stick.intent(position);
        let way = snap.snap(intent).vector().normalize_or_zero();
        println!(
            "{:.2}, {:.2}      {:.3}     {:3.0}, {:3.0}",
            position.x,
            position.y,
            intent.strength(),
            way.x,
            way.y
        );
    }
    Ok(())
}
