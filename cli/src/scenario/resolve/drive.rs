//! How an actor moves: one drive, from raw numbers or from what is wanted of it.

use ambulant::InvalidNumber;
use ambulant::direction::{Axis, YAxis};
use ambulant::drive::{AnyDrive, Drag, Gait, Glide, Helm, Pace, Steering};
use glam::Vec2;
use toml::Spanned;

use super::super::file;
use super::super::problem::Problem;
use super::refused;

/// A number with its name, or `None` where it is not written.
type Named<'a> = (&'static str, Option<&'a Spanned<f32>>);

pub(super) fn resolve(actor: &file::Actor, y_axis: YAxis) -> Result<AnyDrive, Problem> {
    let drive = any(actor, y_axis)?;
    let drive = match actor.axis {
        None => drive,
        Some(file::Axis::X) => drive.on_axis(Axis::X),
        Some(file::Axis::Y) => drive.on_axis(Axis::Y),
    };
    let Some(falling) = &actor.falling else { return Ok(drive) };
    let file::Falling { pull, limit } = falling.get_ref();
    drive
        .falling(Vec2::from(*pull.get_ref()), *limit.get_ref())
        .map_err(at_field(&[("pull", None), ("limit", Some(limit))], pull.span()))
}

fn any(actor: &file::Actor, y_axis: YAxis) -> Result<AnyDrive, Problem> {
    let name = actor.name.get_ref();
    let file::Actor { pace, gait, glide, helm, .. } = actor;
    let made = [
        pace.as_ref().map(|written| (written.span(), resolve_pace(written.get_ref()).map(AnyDrive::from))),
        gait.as_ref().map(|written| (written.span(), resolve_gait(written).map(AnyDrive::from))),
        glide.as_ref().map(|written| (written.span(), resolve_glide(written).map(AnyDrive::from))),
        helm.as_ref().map(|written| (written.span(), resolve_helm(written, y_axis).map(AnyDrive::from))),
    ];
    let mut made = made.into_iter().flatten();
    match (made.next(), made.next()) {
        (Some((_, drive)), None) => drive,
        (_, Some((place, _))) => {
            Err(Problem::at(place, format!("`{name}` has two drives"), "the second one")
                .help("keep one of pace, gait, glide and helm"))
        }
        (None, None) => Err(Problem::at(actor.name.span(), format!("`{name}` has no drive"), "")
            .help("add one of pace, gait, glide and helm")),
    }
}

fn resolve_pace(written: &file::Pace) -> Result<Pace, Problem> {
    Pace::new(*written.speed.get_ref()).map_err(refused(written.speed.span()))
}

fn resolve_gait(written: &Spanned<file::Gait>) -> Result<Gait, Problem> {
    let file::Gait { top_speed, acceleration, seconds_to_top, friction, stop_distance, turning } =
        written.get_ref();
    let top = *top_speed.get_ref();
    let rise = one_of(
        written,
        [("acceleration", acceleration.as_ref()), ("seconds_to_top", seconds_to_top.as_ref())],
    )?;
    let fall = one_of(written, [("friction", friction.as_ref()), ("stop_distance", stop_distance.as_ref())])?;
    // From v = a t and v² = 2 f d; a bad wish becomes a bad rate, which is refused at its place.
    let rise_rate = if rise.0 == "acceleration" { rise.1 } else { top / rise.1 };
    let fall_rate = if fall.0 == "friction" { fall.1 } else { top * top / (2.0 * fall.1) };
    let places = [
        ("top_speed", Some(top_speed)),
        ("acceleration", acceleration.as_ref().or(seconds_to_top.as_ref())),
        ("friction", friction.as_ref().or(stop_distance.as_ref())),
        ("turning", turning.as_ref()),
    ];
    let gait = Gait::new(top, rise_rate, fall_rate).and_then(|gait| match turning {
        Some(turning) => gait.with_turning(*turning.get_ref()),
        None => Ok(gait),
    });
    gait.map_err(at_field(&places, written.span()))
}

fn resolve_glide(written: &Spanned<file::Glide>) -> Result<Glide, Problem> {
    let file::Glide { thrust, top_speed, rest_speed, .. } = written.get_ref();
    let drag = drag(written, written.get_ref().drag_forms())?;
    let thrust_wanted = thrust_of(written, thrust.as_ref(), top_speed.as_ref(), drag)?;
    let rest = rest_speed.as_ref().map_or(0.0, |rest| *rest.get_ref());
    let places = [("thrust", thrust.as_ref().or(top_speed.as_ref())), ("rest_speed", rest_speed.as_ref())];
    Glide::new(thrust_wanted, drag, rest).map_err(at_field(&places, written.span()))
}

fn resolve_helm(written: &Spanned<file::Helm>, y_axis: YAxis) -> Result<Helm, Problem> {
    let helm = written.get_ref();
    let drag = drag(written, helm.drag_forms())?;
    let thrust = thrust_of(written, helm.thrust.as_ref(), helm.top_speed.as_ref(), drag)?;
    let steering = match helm.steering {
        file::Steering::Wheel => Steering::Wheel(y_axis),
        file::Steering::Toward => Steering::Toward,
    };
    if let (true, Some(grip)) = (helm.on_rails, &helm.grip) {
        return Err(
            Problem::at(grip.span(), "a helm on rails has no other grip", "").help("remove one of the two")
        );
    }
    let places = [
        ("turn_rate", Some(&helm.turn_degrees)),
        ("thrust", helm.thrust.as_ref().or(helm.top_speed.as_ref())),
        ("reverse", helm.reverse.as_ref()),
        ("grip", helm.grip.as_ref()),
        ("rest_speed", helm.rest_speed.as_ref()),
    ];
    let build = || -> Result<Helm, InvalidNumber> {
        let mut built = Helm::new(helm.turn_degrees.get_ref().to_radians(), thrust, drag, steering)?;
        if let Some(reverse) = &helm.reverse {
            built = built.with_reverse(*reverse.get_ref())?;
        }
        if let Some(grip) = &helm.grip {
            built = built.with_grip(*grip.get_ref())?;
        }
        if let Some(rest) = &helm.rest_speed {
            built = built.with_rest_speed(*rest.get_ref())?;
        }
        Ok(if helm.on_rails { built.on_rails() } else { built })
    };
    build().map_err(at_field(&places, written.span()))
}

/// The thrust, as written or from the top speed that it leads to.
fn thrust_of<T>(
    table: &Spanned<T>,
    thrust: Option<&Spanned<f32>>,
    top_speed: Option<&Spanned<f32>>,
    drag: Drag,
) -> Result<f32, Problem> {
    let (form, value) = one_of(table, [("thrust", thrust), ("top_speed", top_speed)])?;
    Ok(if form == "thrust" { value } else { value * drag.rate() })
}

fn drag<T>(table: &Spanned<T>, forms: file::Drag<'_>) -> Result<Drag, Problem> {
    let (form, value) = one_of(
        table,
        [
            ("drag", forms.drag),
            ("half_life", forms.half_life),
            ("kept_per_second", forms.kept_per_second),
            ("kept_per_frame", forms.kept_per_frame),
        ],
    )?;
    let given = forms.drag.or(forms.half_life).or(forms.kept_per_second).or(forms.kept_per_frame);
    let place = given.map_or_else(|| table.span(), Spanned::span);
    match (form, forms.frame_rate) {
        ("kept_per_frame", None) => {
            let help = "add frame_rate, the frames per second of the game that the number comes from";
            Err(Problem::at(place, "kept_per_frame needs a frame_rate", "").help(help))
        }
        ("kept_per_frame", Some(rate)) => Drag::kept_per_frame(value, *rate.get_ref())
            .map_err(at_field(&[("kept_per_frame", given), ("frame_rate", Some(rate))], place)),
        (_, Some(rate)) => {
            Err(Problem::at(rate.span(), "frame_rate goes with kept_per_frame", "").help("remove it"))
        }
        ("drag", _) => Drag::per_second(value).map_err(refused(place)),
        ("half_life", _) => Drag::half_life(value).map_err(refused(place)),
        _ => Drag::kept_per_second(value).map_err(refused(place)),
    }
}

/// The one of several forms of a number that is written.
fn one_of<T, const N: usize>(
    table: &Spanned<T>,
    forms: [Named<'_>; N],
) -> Result<(&'static str, f32), Problem> {
    let names = forms.map(|(name, _)| name).join(", ");
    let mut given = forms.into_iter().filter_map(|(name, value)| Some((name, value?)));
    match (given.next(), given.next()) {
        (Some((name, value)), None) => Ok((name, *value.get_ref())),
        (Some((first, _)), Some((second, value))) => {
            Err(Problem::at(value.span(), format!("`{second}` says again what `{first}` says"), "")
                .help(format!("keep one of {names}")))
        }
        (None, _) => {
            Err(Problem::at(table.span(), format!("one of {names} is missing"), "").help("add one of them"))
        }
    }
}

/// A library error at the place of the field that it names.
fn at_field(places: &[Named<'_>], table: std::ops::Range<usize>) -> impl FnOnce(InvalidNumber) -> Problem {
    move |error| {
        let place = places.iter().find(|(name, _)| *name == error.field()).and_then(|(_, value)| *value);
        refused(place.map_or(table, Spanned::span))(error)
    }
}
