//! A drive said as Rust, to be pasted into a game.

use ambulant::direction::{Axis, YAxis};
use ambulant::drive::{AnyDrive, Helm, Steering};
use ambulant::steps::{Diagonals, Easing, StepMode, StepRules};

use crate::scenario::{Actor, Guided, Moves, Pulled};

/// How an actor moves, as an expression within a function that returns a `Result`.
pub(crate) fn as_rust(actor: &Actor) -> String {
    match &actor.moves {
        Moves::Freely(Pulled::Level(guided)) => of_guided(guided),
        Moves::Freely(Pulled::Falling(falling)) => {
            let (pull, limit) = (falling.pull(), falling.limit());
            format!(
                "Falling::new({}, vec2({:?}, {:?}), {limit:?})?",
                of_guided(falling.drive()),
                pull.x,
                pull.y
            )
        }
        Moves::ByTiles(rules, _) => of_rules(rules),
        Moves::Flying(flying) => {
            let velocity = flying.velocity;
            format!("Ball::new(start, vec2({:?}, {:?}), footprint)", velocity.x, velocity.y)
        }
    }
}

fn of_guided(guided: &Guided) -> String {
    match guided {
        Guided::Free(drive) => of_drive(drive),
        Guided::Held(held) => {
            let axis = if held.axis == Axis::X { "X" } else { "Y" };
            format!("OneAxis {{ drive: {}, axis: Axis::{axis} }}", of_drive(&held.drive))
        }
    }
}

fn of_drive(drive: &AnyDrive) -> String {
    use ambulant::drive::Drive;
    match drive {
        AnyDrive::Pace(pace) => format!("Pace::new({:?})?", pace.top_speed()),
        AnyDrive::Gait(gait) => {
            let made = format!(
                "Gait::new({:?}, {:?}, {:?})?",
                gait.top_speed(),
                gait.acceleration(),
                gait.friction()
            );
            let usual = gait.turning() == gait.acceleration();
            if usual { made } else { format!("{made}.with_turning({:?})?", gait.turning()) }
        }
        AnyDrive::Glide(glide) => {
            let drag = glide.drag().rate();
            format!(
                "Glide::new({:?}, Drag::per_second({drag:?})?, {:?})?",
                glide.thrust(),
                glide.rest_speed()
            )
        }
        AnyDrive::Helm(helm) => of_helm(helm),
        other => format!("{other:?}"),
    }
}

fn of_helm(helm: &Helm) -> String {
    let steering = match helm.steering() {
        Steering::Wheel(YAxis::Down) => "Steering::Wheel(YAxis::Down)",
        Steering::Wheel(YAxis::Up) => "Steering::Wheel(YAxis::Up)",
        _ => "Steering::Toward",
    };
    let mut text = format!(
        "Helm::new({:?}, {:?}, Drag::per_second({:?})?, {steering})?",
        helm.turn_rate(),
        helm.thrust(),
        helm.drag().rate()
    );
    if helm.reverse() != helm.thrust() * 0.5 {
        text += &format!(".with_reverse({:?})?", helm.reverse());
    }
    if helm.grip().is_infinite() {
        text += ".on_rails()";
    } else if helm.grip() > 0.0 {
        text += &format!(".with_grip({:?})?", helm.grip());
    }
    if helm.rest_speed() > 0.0 {
        text += &format!(".with_rest_speed({:?})?", helm.rest_speed());
    }
    text
}

fn of_rules(rules: &StepRules) -> String {
    let mut text = format!("StepRules::new({:?})?", rules.speed());
    match rules.mode() {
        StepMode::Tap => text += ".with_mode(StepMode::Tap)",
        StepMode::Hold { delay, pause } => {
            text += &format!(".with_mode(StepMode::Hold {{ delay: {delay:?}, pause: {pause:?} }})");
        }
        _ => {}
    }
    let usual = StepRules::new(1.0).map(|rules| rules.input_buffer());
    if usual != Ok(rules.input_buffer()) {
        text += &format!(".with_input_buffer({:?})?", rules.input_buffer());
    }
    if let Diagonals::On { corners, lasts } = rules.diagonals() {
        text += &format!(
            ".with_diagonals(Diagonals::On {{ corners: CornerRule::{corners:?}, lasts: {lasts:?} }})?"
        );
    }
    if rules.pushes() {
        text += ".pushing()";
    }
    if rules.easing() != Easing::Linear {
        text += &format!(".with_easing(Easing::{:?})", rules.easing());
    }
    text
}
