//! What was played, as a scenario: the same file with what the hand did instead of the actor's script.

use glam::Vec2;
use toml_edit::{Array, ArrayOfTables, DocumentMut, InlineTable, Item, Table, Value, value};

use super::input::{Act, Drag, USUAL_STICK};
use super::session::Session;
use crate::scenario::direction_name;
use crate::sim::time_of;

/// The scenario of a played run, its end expected to the last bit.
///
/// # Errors
/// When the text is no TOML document, or the actor is not in it.
pub(crate) fn kept_script(session: &Session<'_>) -> Result<String, String> {
    let mut document: DocumentMut = session
        .numbers()
        .text()
        .source()
        .parse()
        .map_err(|error| format!("cannot keep this run: {error}"))?;
    let name = &session.scenario().actors[session.actor()].name;
    let actor = actors(&mut document)
        .find(|table| table.get("name").and_then(Item::as_str) == Some(name))
        .ok_or("cannot keep this run: actors must be written as [[actor]] tables")?;
    // The others may have more to do than was played.
    let seconds = session.time().max(session.scenario().seconds);
    let script = Script { session, end: (seconds > session.time()).then(|| session.time()) };
    actor.insert("keys", Item::Value(Value::Array(script.keys())));
    put_in(actor, "stick", "moves", script.stick(), &USUAL_STICK_KEYS);
    put_in(actor, "flick", "drags", script.flicks(), &[]);
    // An empty list stays: a tick is divided where something can be fired.
    if actor.remove("shots").is_some() {
        actor.insert("shots", Item::Value(Value::Array(script.shots())));
    }
    // A ball that was not served is held to the end.
    serve(&mut document, name, script.served().unwrap_or(seconds));
    document.insert("seconds", value(seconds));
    document.insert("tick_rate", value(session.tick_rate()));
    document.insert("expect", Item::ArrayOfTables(ends(session)));
    let mut text = document.to_string();
    if let Some(at) = session.meddled_at() {
        text = format!(
            "# Played with numbers or walls changed at {at:.3} s: a run of this goes another way from there on.\n{text}"
        );
    }
    Ok(text)
}

/// The keys of a stick's table where the file has none.
const USUAL_STICK_KEYS: [(&str, f32); 3] =
    [("dead_zone", USUAL_STICK[0]), ("limit", USUAL_STICK[1]), ("curve", USUAL_STICK[2])];

/// Puts a list in a device's table, with the rest of it as it is in the file; a device that is not in the file is written only if
/// it was used.
fn put_in(actor: &mut Table, device: &str, key: &str, list: Array, usual: &[(&str, f32)]) {
    if actor.get(device).is_none() {
        if list.is_empty() {
            return;
        }
        let mut table = InlineTable::new();
        for (key, number) in usual {
            table.insert(*key, shortest(*number).into());
        }
        actor.insert(device, Item::Value(Value::InlineTable(table)));
    }
    if let Some(table) = actor.get_mut(device).and_then(Item::as_table_like_mut) {
        table.insert(key, Item::Value(Value::Array(list)));
    }
}

fn actors(document: &mut DocumentMut) -> impl Iterator<Item = &mut Table> {
    let actors = document.get_mut("actor").and_then(Item::as_array_of_tables_mut);
    actors.into_iter().flat_map(ArrayOfTables::iter_mut)
}

/// Sets when the balls are served that an actor holds.
fn serve(document: &mut DocumentMut, holder: &str, at: f64) {
    for actor in actors(document) {
        let ball = actor.get_mut("ball").and_then(Item::as_table_like_mut);
        if let Some(ball) = ball.filter(|ball| ball.get("held_by").and_then(Item::as_str) == Some(holder)) {
            ball.insert("serve_at", value(at));
        }
    }
}

/// What was played, as the parts of a script.
struct Script<'a> {
    session: &'a Session<'a>,
    /// When all is let go, where there is more to come.
    end: Option<f64>,
}

impl Script<'_> {
    /// What was played, each with its time, as far as it is wanted.
    fn played<T>(&self, wanted: impl Fn(Act) -> Option<T>) -> Vec<(f64, T)> {
        let rate = self.session.tick_rate();
        let played = self.session.played().iter();
        played.filter_map(|played| Some((time_of(played.tick, rate), wanted(played.act)?))).collect()
    }

    /// One line for each time.
    fn keys(&self) -> Array {
        let mut steps: Vec<(f64, InlineTable)> = Vec::new();
        let keys = self.played(|act| if let Act::Key(change) = act { Some(change) } else { None });
        for (at, (key, down)) in keys {
            let what = if down { "press" } else { "release" };
            // Released and pressed at one time is one step, and its release comes first; the rest is a step of its own.
            let fits = |step: &InlineTable| !step.contains_key(what) && (down || !step.contains_key("press"));
            let same = steps.last_mut().filter(|(last, step)| *last == at && fits(step));
            let step = match same {
                Some((_, step)) => step,
                None => {
                    steps.push((at, timed(at)));
                    &mut steps.last_mut().expect("just added").1
                }
            };
            step.insert(what, direction_name(key).into());
        }
        let [holds_keys, _] = self.session.holds_any();
        let let_go = self.end.filter(|_| holds_keys).map(|end| {
            let mut step = timed(end);
            step.insert("release", "all".into());
            step
        });
        listed(steps.into_iter().map(|(_, step)| step).chain(let_go))
    }

    fn stick(&self) -> Array {
        let moves = self.played(|act| if let Act::Stick(to) = act { Some(to) } else { None });
        let [_, holds_stick] = self.session.holds_any();
        let let_go = self.end.filter(|_| holds_stick).map(|end| (end, Vec2::ZERO));
        listed(moves.into_iter().chain(let_go).map(|(at, to)| {
            let mut step = timed(at);
            step.insert("to", pair(to));
            step
        }))
    }

    fn flicks(&self) -> Array {
        let drags = self.played(|act| if let Act::Flick(drag) = act { Some(drag) } else { None });
        listed(drags.into_iter().map(|(at, Drag { from, to, seconds })| {
            let mut step = timed(at);
            step.insert("from", pair(from));
            step.insert("to", pair(to));
            step.insert("seconds", shortest(seconds).into());
            step
        }))
    }

    fn shots(&self) -> Array {
        let Some(model) = self.session.actor_in_hand().shots.first() else { return Array::new() };
        let shots = self.played(|act| if let Act::Shot(toward) = act { Some(toward) } else { None });
        listed(shots.into_iter().map(|(at, toward)| {
            let mut step = timed(at);
            step.insert("toward", pair(toward));
            step.insert("speed", shortest(model.speed).into());
            let radius = model.footprint.radius().unwrap_or_default();
            step.insert("radius", shortest(radius).into());
            if model.bounces > 0 {
                step.insert("bounces", i64::from(model.bounces).into());
            }
            for (key, limit) in [("range", model.range), ("seconds", model.seconds)] {
                if let Some(limit) = limit {
                    step.insert(key, shortest(limit).into());
                }
            }
            step
        }))
    }

    /// When the ball was served.
    fn served(&self) -> Option<f64> {
        self.played(|act| (act == Act::Serve).then_some(())).first().map(|(at, ())| *at)
    }
}

fn timed(at: f64) -> InlineTable {
    let mut step = InlineTable::new();
    step.insert("at", at.into());
    step
}

/// A list with a line for each of its entries.
fn listed(steps: impl Iterator<Item = InlineTable>) -> Array {
    let mut list = Array::new();
    for step in steps {
        let mut step = Value::InlineTable(step);
        step.decor_mut().set_prefix("\n  ");
        list.push_formatted(step);
    }
    if !list.is_empty() {
        list.set_trailing("\n");
        list.set_trailing_comma(true);
    }
    list
}

fn pair(at: Vec2) -> Value {
    Value::Array(at.to_array().into_iter().map(shortest).collect())
}

/// The shortest number that is read as the same one again.
fn shortest(number: f32) -> f64 {
    format!("{number:?}").parse().unwrap_or(f64::from(number))
}

/// Where each actor ended, to the last bit.
fn ends(session: &Session<'_>) -> ArrayOfTables {
    let mut ends = ArrayOfTables::new();
    for (place, actor) in session.scenario().actors.iter().enumerate() {
        let Some(row) = session.stage().row(place, session.ticks(), session.time()) else { continue };
        let mut end = Table::new();
        let position: Array = row.position.to_array().into_iter().map(f64::from).collect();
        end.insert("at", value(session.time()));
        end.insert("actor", value(&actor.name));
        end.insert("position", value(position));
        end.insert("speed", value(f64::from(row.velocity.length())));
        end.insert("within", value(0.0));
        ends.push(end);
    }
    ends
}

#[cfg(test)]
mod tests {
    use std::path::Path;

    use ambulant::intent::Direction;
    use proptest::prelude::*;
    use rstest::rstest;

    use super::*;
    use crate::scenario::ScenarioText;
    use crate::sim::play;

    /// One thing that a random hand does, and for how many ticks it then waits.
    #[derive(Debug, Clone, Copy)]
    enum Hand {
        Key(usize, bool),
        Stick(Vec2),
        Flick(Vec2, Vec2, f32),
        Serve,
        Shoot(Vec2),
        Back,
    }

    fn hands() -> impl Strategy<Value = Vec<(Hand, u32)>> {
        let at = || (-40.0f32..260.0, -40.0f32..200.0).prop_map(Vec2::from);
        let stick = (-1.2f32..1.2, -1.2f32..1.2).prop_map(|to| Hand::Stick(Vec2::from(to)));
        let flick = (at(), at(), 0.02f32..0.4).prop_map(|(from, to, seconds)| Hand::Flick(from, to, seconds));
        let hand = prop_oneof![
            4 => (0usize..4, any::<bool>()).prop_map(|(key, down)| Hand::Key(key, down)),
            2 => stick,
            1 => flick,
            1 => Just(Hand::Serve),
            1 => at().prop_map(Hand::Shoot),
            1 => Just(Hand::Back),
        ];
        proptest::collection::vec((hand, 0u32..25), 1..40)
    }

    /// Plays a scenario with a random hand; whatever an actor cannot do is refused, and what remains is what was played.
    fn played<'a>(session: &mut Session<'a>, hands: &[(Hand, u32)]) -> [u32; 4] {
        for (hand, ticks) in hands {
            match *hand {
                Hand::Key(key, down) => session.keys(vec![(Direction::ALL[key], down)]),
                Hand::Stick(to) => session.stick(to),
                Hand::Flick(from, to, seconds) => _ = session.flick(Drag { from, to, seconds }),
                Hand::Serve => _ = session.serve(),
                Hand::Shoot(toward) => _ = session.shoot(toward),
                Hand::Back => _ = session.step_back(),
            }
            (0..*ticks).for_each(|_| session.tick());
        }
        session.tick();
        let mut counts = [0; 4];
        for played in session.played() {
            match played.act {
                Act::Key(_) => {}
                Act::Stick(_) => counts[0] += 1,
                Act::Flick(_) => counts[1] += 1,
                Act::Serve => counts[2] += 1,
                Act::Shot(_) => counts[3] += 1,
            }
        }
        counts
    }

    /// What a hand does with any device is a script that goes the same way to the last bit. `reached` is what must be played in
    /// at least a quarter of the plays: sticks, flicks, serves and shots.
    #[rstest]
    #[case::a_gait("gardener", [true, false, false, false])]
    #[case::a_flicked_glide("flicked_pebble", [true, true, false, false])]
    #[case::a_paddle("dewdrop", [true, false, true, false])]
    #[case::shots("night_field", [true, false, false, true])]
    #[case::steps("rail_cart", [true, false, false, false])]
    #[case::doors("door_and_net", [true, false, false, false])]
    #[case::blocking_each_other("gate", [true, false, false, false])]
    fn what_a_hand_does_is_a_script_that_goes_the_same_way(#[case] demo: &str, #[case] reached: [bool; 4]) {
        let file = Path::new(env!("CARGO_MANIFEST_DIR")).join(format!("../demo/{demo}.toml"));
        let text = ScenarioText::read(&file).expect("a demo");
        let scenario = text.parse().expect("a demo");
        let actors = scenario.actors.iter();
        let actor = actors.clone().position(|actor| !actor.shots.is_empty());
        let actor = actor.or_else(|| actors.clone().position(|actor| !actor.script.is_empty())).unwrap_or(0);
        let seen = std::cell::Cell::new((0u32, [0u32; 4]));
        let mut runner = proptest::test_runner::TestRunner::new(ProptestConfig {
            failure_persistence: None,
            rng_seed: proptest::test_runner::RngSeed::Fixed(1),
            ..ProptestConfig::with_cases(10)
        });
        runner
            .run(&(hands(), prop_oneof![Just(60.0), Just(37.0), Just(144.0)]), |(hands, rate)| {
                let mut session = Session::new(&scenario, &text, rate, actor);
                let counts = played(&mut session, &hands);
                let (plays, with) = seen.get();
                let add = |place: usize| with[place] + u32::from(counts[place] > 0);
                seen.set((plays + 1, [add(0), add(1), add(2), add(3)]));
                let kept = text.with_source(kept_script(&session).expect("a document"));
                let kept = kept.parse().map_err(|problems| TestCaseError::fail(format!("{problems:?}")))?;
                let run = play(&kept, rate);
                prop_assert!(!run.verdicts.is_empty());
                for verdict in run.verdicts.iter().filter(|verdict| !verdict.held) {
                    prop_assert!(false, "{} {} was {}", verdict.actor, verdict.expected, verdict.found);
                }
                Ok(())
            })
            .unwrap_or_else(|error| panic!("{error}"));
        let (plays, with) = seen.get();
        for ((name, must), with) in ["stick", "flick", "serve", "shot"].iter().zip(reached).zip(with) {
            assert!(!must || with * 4 >= plays, "{name} in {with} of {plays} plays");
        }
    }
}
