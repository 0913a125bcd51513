//! A play under way, whatever shows it: the session with its clock, the files that it writes, and what the last command
//! did.

use std::io::Write;
use std::path::{Path, PathBuf};

use ambulant::time::Ticks;

use super::as_rust::as_rust;
use super::keep::kept_script;
use super::session::Session;
use crate::output::Output;
use crate::scenario::{Moves, Scenario, ScenarioText};

/// A session that is played.
pub(crate) struct Game<'a> {
    file: &'a Path,
    text: &'a ScenarioText,
    session: Session<'a>,
    ticks: Ticks,
    pace: f32,
    /// How often the past was changed.
    version: u32,
    /// The actors that can be controlled.
    able: Vec<usize>,
    message: String,
    /// The files that were written.
    written: Vec<String>,
}

impl<'a> Game<'a> {
    /// A scenario before its first tick, with one of its actors in the hand: the named one, or the first with keys.
    ///
    /// # Errors
    /// When there is no such actor, or none that can be moved.
    pub(crate) fn new(
        file: &'a Path,
        (text, scenario): (&'a ScenarioText, &'a Scenario),
        tick_rate: f64,
        actor: Option<&str>,
    ) -> anyhow::Result<Self> {
        let able: Vec<usize> = (0..scenario.actors.len())
            .filter(|place| !matches!(scenario.actors[*place].moves, Moves::Flying(_)))
            .collect();
        let called = |name: &str| able.iter().position(|place| scenario.actors[*place].name == name);
        let place = match actor {
            None => able.iter().position(|place| !scenario.actors[*place].script.is_empty()).unwrap_or(0),
            Some(name) => called(name).ok_or_else(|| {
                let names: Vec<&str> =
                    able.iter().map(|place| scenario.actors[*place].name.as_str()).collect();
                anyhow::anyhow!(
                    "no actor that can be moved is called `{name}`; there are: {}",
                    names.join(", ")
                )
            })?,
        };
        let Some(actor) = able.get(place) else {
            anyhow::bail!("{} has no actor that can be moved; `ambulant run` plays it", file.display());
        };
        let session = Session::new(scenario, text, tick_rate, *actor);
        let ticks = Ticks::new(narrowed(tick_rate))?;
        let (message, written) = (String::new(), Vec::new());
        Ok(Self { file, text, session, ticks, pace: 1.0, version: 1, able, message, written })
    }

    pub(crate) fn session(&self) -> &Session<'a> {
        &self.session
    }

    pub(crate) fn session_mut(&mut self) -> &mut Session<'a> {
        &mut self.session
    }

    /// The actors that can be controlled.
    pub(crate) fn able(&self) -> &[usize] {
        &self.able
    }

    /// What the last command did.
    pub(crate) fn message(&self) -> &str {
        &self.message
    }

    /// Says something, or nothing any more.
    pub(crate) fn say(&mut self, message: impl Into<String>) {
        self.message = message.into();
    }

    /// Does something with the session, and says why if it cannot be done.
    pub(crate) fn attempt(&mut self, what: impl FnOnce(&mut Session<'a>) -> Result<(), String>) {
        if let Err(why) = what(&mut self.session) {
            self.say(why);
        }
    }

    /// Lets time pass, in seconds.
    pub(crate) fn pass_time(&mut self, seconds: f32) {
        for _ in 0..self.ticks.advance(seconds) {
            self.session.tick();
        }
    }

    /// How far the time is between the last two ticks, from 0 to 1.
    pub(crate) fn fraction(&self) -> f32 {
        if self.is_paused() { 1.0 } else { self.ticks.fraction() }
    }

    pub(crate) fn is_paused(&self) -> bool {
        self.ticks.is_paused()
    }

    pub(crate) fn pause(&mut self, paused: bool) {
        self.ticks.set_paused(paused);
    }

    /// One tick forward, and a pause.
    pub(crate) fn step(&mut self) {
        self.pause(true);
        self.ticks.step();
    }

    /// One tick back, and a pause.
    pub(crate) fn step_back(&mut self) {
        self.pause(true);
        if self.session.step_back() {
            self.version += 1;
        } else {
            self.say("no further back than this");
        }
    }

    /// Goes so many times as fast as the real time, if that is a pace, from 1/16 to 4.
    pub(crate) fn set_pace(&mut self, pace: f32) {
        let is_pace = (1.0 / 16.0..=4.0).contains(&pace);
        if is_pace && self.ticks.set_time_scale(pace).is_ok() {
            self.pace = pace;
        } else {
            self.say(format!("a pace of {pace} is not between 1/16 and 4"));
        }
    }

    pub(crate) fn pace(&self) -> f32 {
        self.pace
    }

    /// How often the past was changed: by a new start, another actor or a step back; from 1.
    pub(crate) fn version(&self) -> u32 {
        self.version
    }

    pub(crate) fn restart(&mut self) {
        self.session.restart();
        self.version += 1;
        self.say("from the start");
    }

    pub(crate) fn toggle_through_walls(&mut self) {
        let through = self.session.toggle_through_walls();
        self.say(if through { "walks through walls" } else { "collides with walls" });
    }

    /// Controls the next actor.
    pub(crate) fn next_actor(&mut self) {
        let place = self.able.iter().position(|actor| *actor == self.session.actor()).unwrap_or(0);
        self.take_actor(self.able[(place + 1) % self.able.len()]);
    }

    /// Controls another actor, unless numbers were changed; its own run starts again, so that what is saved of it is complete.
    pub(crate) fn take_actor(&mut self, actor: usize) {
        let scenario = self.session.scenario();
        if actor == self.session.actor() {
            return self.say("there is no other actor that can be moved");
        }
        if !self.able.contains(&actor) {
            return self.say("there is no such actor that can be moved");
        }
        if self.session.numbers().changed() {
            return self
                .say("save the changed numbers first, or put them back: another actor starts from the file");
        }
        let (text, rate) = (self.session.numbers().text().clone(), self.session.tick_rate());
        self.session = Session::new(scenario, &text, rate, actor);
        self.version += 1;
        self.say(format!("{} is in your hand", scenario.actors[actor].name));
    }

    /// Writes the changed numbers into the file as it is now, and says so, or why not.
    pub(crate) fn save_numbers(&mut self) {
        let said = self.saved().unwrap_or_else(|why| why);
        self.say(said);
    }

    /// Writes what was played beside the scenario, and says so, or why not.
    pub(crate) fn keep_run(&mut self) {
        let said = self.kept().unwrap_or_else(|why| why);
        self.say(said);
    }

    fn saved(&mut self) -> Result<String, String> {
        if !self.session.numbers().changed() {
            return Err("no number was changed".to_owned());
        }
        let name = self.file.display();
        let now = ScenarioText::read(self.file).map_err(|_| format!("{name} cannot be read any more"))?;
        let text = self.session.numbers().put_into(&now)?;
        text.parse()
            .map_err(|_| format!("{name} was changed meanwhile and is no scenario now; nothing saved"))?;
        write(self.file, text.source())?;
        self.session.settle_numbers();
        self.written.push(name.to_string());
        let others =
            if now.source() == self.text.source() { "" } else { ", with what was changed there meanwhile" };
        Ok(format!("saved the numbers into {name}{others}"))
    }

    fn kept(&mut self) -> Result<String, String> {
        if self.session.ticks() == 0 {
            return Err("nothing was played yet".to_owned());
        }
        let text = kept_script(&self.session)?;
        let place = free_name(self.file);
        write(&place, &text)?;
        let name = place.display().to_string();
        self.written.push(name.clone());
        let bits = match self.session.meddled_at() {
            None => "run plays it again to the last bit".to_owned(),
            Some(at) => format!("numbers or walls were changed at {at:.3} s, so run goes another way"),
        };
        Ok(format!("kept in {name}: {bits}"))
    }

    /// How the actor moves, as Rust.
    pub(crate) fn as_rust(&self) -> String {
        as_rust(self.session.tuned_actor())
    }

    /// What is worth knowing at the end.
    ///
    /// # Errors
    /// When it cannot be printed.
    pub(crate) fn farewell(&self, out: &mut dyn Write) -> std::io::Result<()> {
        for name in &self.written {
            writeln!(out, "wrote {name}")?;
        }
        let changed = self.session.numbers().list().iter().filter(|number| number.value != number.written);
        for number in changed {
            writeln!(out, "not saved: {} = {} (file: {})", number.way, number.value, number.written)?;
        }
        if self.session.numbers().changed() {
            writeln!(out, "as Rust: {}", self.as_rust())?;
        }
        out.flush()
    }
}

/// The first name beside the scenario that no file has: `walk-played.toml`, `walk-played-2.toml`, ...
fn free_name(file: &Path) -> PathBuf {
    let stem = file.file_stem().unwrap_or_default().to_string_lossy();
    let names = (1u32..).map(|number| match number {
        1 => format!("{stem}-played.toml"),
        number => format!("{stem}-played-{number}.toml"),
    });
    let mut places = names.map(|name| file.with_file_name(name));
    places.find(|place| !place.exists()).unwrap_or_else(|| file.with_extension("played.toml"))
}

fn write(place: &Path, text: &str) -> Result<(), String> {
    let written = Output::open(place).and_then(|mut file| {
        file.put(text.as_bytes())?;
        file.finish()
    });
    written.map_err(|error| format!("{error:#}"))
}

#[expect(clippy::cast_possible_truncation, reason = "a tick rate, rounded once")]
fn narrowed(rate: f64) -> f32 {
    rate as f32
}
