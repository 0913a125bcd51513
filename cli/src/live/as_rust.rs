//! A drive said as Rust, to be pasted into a game.

use ambulant::direction::{Axis, YAxis};
use ambulant::drive::{AnyDrive, DriveKind, Helm, Steering};
use ambulant::steps::{Diagonals, Easing, StepMode, StepRules};

use crate::scenario::{Actor, Moves};

/// How an actor moves, as an expression within a function that returns a `Result`.
pub(crate) fn as_rust(actor: &Actor) -> String {
    match &actor.moves {
        Moves::Freely(drive) => of_drive(drive),
        Moves::ByTiles(rules, _) => of_rules(rules),
        Moves::Flying(flying) => {
            let velocity = flying.velocity;
            format!("Ball::new(start, vec2({:?}, {:?}), footprint)", velocity.x, velocity.y)
        }
    }
}

fn of_drive(drive: &AnyDrive) -> String {
    let mut text = of_kind(drive.kind());
    if let Some(axis) = drive.held_to() {
        let axis = if axis == Axis::X { "X" } else { "Y" };
        text = format!("OneAxis {{ drive: {text}, axis: Axis::{axis} }}");
    }
    if let Some((pull, limit)) = drive.pull() {
        text = format!("Falling::new({text}, vec2({:?}, {:?}), {limit:?})?", pull.x, pull.y);
    }
    text
}

fn of_kind(drive: &DriveKind) -> String {
    use ambulant::drive::Drive;
    match drive {
        DriveKind::Pace(pace) => format!("Pace::new({:?})?", pace.top_speed()),
        DriveKind::Gait(gait) => {
            let made = format!(
                "Gait::new({:?}, {:?}, {:?})?",
                gait.top_speed(),
                gait.acceleration(),
                gait.friction()
            );
            let usual = gait.turning() == gait.acceleration();
            if usual { made } else { format!("{made}.with_turning({:?})?", gait.turning()) }
        }
        DriveKind::Glide(glide) => {
            let drag = glide.drag().rate();
            format!(
                "Glide::new({:?}, Drag::per_second({drag:?})?, {:?})?",
                glide.thrust(),
                glide.rest_speed()
            )
        }
        DriveKind::Helm(helm) => of_helm(helm),
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
