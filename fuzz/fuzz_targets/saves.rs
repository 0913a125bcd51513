//! Any bytes as a save: an error, or values that work.

#![no_main]

use ambulant::arcade::{Ball, Decision, Paddle, Projectile, tick_balls};
use ambulant::drive::AnyDrive;
use ambulant::intent::{DirectionSnap, KeyLayout, PressOrder, Stick};
use ambulant::prelude::*;
use ambulant::steps::{Claims, StepGround, Stepper};
use ambulant::time::Ticks;
use ambulant::walker::{Character, Walker};

type Saved = (
    World,
    Vec<Walker<AnyDrive>>,
    Vec<Character<AnyDrive>>,
    Vec<Ball>,
    Vec<Projectile>,
    (Vec<Stepper>, Claims),
    (Ticks, Option<Paddle>, Option<Stick>, Option<DirectionSnap>, Option<PressOrder>, Option<KeyLayout>),
);

libfuzzer_sys::fuzz_target!(|bytes: &[u8]| {
    let Ok(saved) = postcard::from_bytes::<Saved>(bytes) else { return };
    let (mut world, mut walkers, mut characters, mut balls, mut shots, (mut steppers, mut claims), inputs) = saved;
    let again = postcard::to_allocvec(&(&world, &claims)).expect("plain data");
    let (same, _) = postcard::from_bytes::<(World, Claims)>(&again).expect("what was saved is restored");
    assert_eq!(same.state_hash(), world.state_hash());
    let (mut ticks, _, stick, snap, order, layout) = inputs;
    let _ = ticks.advance(0.02);
    let mut intent = stick.map_or(Intent::NONE, |stick| stick.intent(vec2(0.7, -0.2)));
    if let (Some(order), Some(layout)) = (order, layout) {
        intent = layout.intent(&order);
    }
    if let Some(mut snap) = snap {
        intent = snap.snap(intent);
    }
    let dt = 1.0 / 60.0;
    walkers.iter_mut().take(8).for_each(|walker| { let _ = walker.tick(intent, dt, &world); });
    characters.iter_mut().take(8).for_each(|character| { let _ = character.tick(intent, dt, &world, |_| {}); });
    shots.iter_mut().take(8).for_each(|shot| { let _ = shot.tick(dt, &world); });
    balls.truncate(8);
    let _ = tick_balls(&mut balls, dt, &mut world, |_, _| Decision::bounce(1.0).hitting_wall());
    if let Some(map) = world.map() {
        let ground = StepGround::new(map);
        steppers.iter_mut().take(8).for_each(|stepper| { let _ = stepper.tick(intent, dt, &ground, &mut claims); });
    }
});
