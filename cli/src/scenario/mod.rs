//! The scenario format: a file goes in, a checked [`Scenario`] or a list of [`Problems`] comes out.
//!
//! `file` mirrors the TOML with the place of every value, `resolve` checks it and turns it into the
//! library's own types, `problem` explains what is wrong and where. The rest of the tool sees only
//! [`Scenario`].

mod file;
mod layers;
mod problem;
mod resolve;
mod standing;
mod vary;

use std::path::{Path, PathBuf};

use ambulant::Warning;
use ambulant::arcade::{AngleLimits, Hover, Paddle};
use ambulant::direction::{Angle, Facing};
use ambulant::drive::{AnyDrive, Surface};
use ambulant::intent::{Flick, Intent, KeyLayout, Stick};
use ambulant::shape::Footprint;
use ambulant::steps::{GridEdge, Portals, StepGround, StepRules};
use ambulant::terrain::{Layers, PlayArea, TileGrid};
use ambulant::walker::AlongWalls;
use glam::{IVec2, Vec2};

pub(crate) use layers::LayerNames;
pub(crate) use problem::Problems;
pub(crate) use resolve::{check_length, direction_name};
pub(crate) use standing::{Item, Standing};

/// The most ticks that a run may have, over all its actors.
pub(crate) const MAX_TICKS: f64 = 2_000_000.0;
/// The fastest tick rate, in ticks a second.
pub(crate) const MAX_TICK_RATE: f64 = 10_000.0;
/// The largest scenario file, in bytes.
pub(crate) const MAX_FILE_BYTES: u64 = 64 << 20;
/// The most words, values and signs of a scenario file.
pub(crate) const MAX_FILE_PARTS: usize = 2_000_000;

/// A run, checked and in the library's own types.
#[derive(Debug, Clone)]
pub(crate) struct Scenario {
    pub(crate) title: String,
    pub(crate) seconds: f64,
    pub(crate) tick_rate: f64,
    pub(crate) map: TileGrid,
    /// What blows over all of the map, in units/s.
    pub(crate) wind: Surface,
    pub(crate) standing: Standing,
    pub(crate) layers: LayerNames,
    pub(crate) tracks: Tracks,
    /// What the four sides do, where the map says so.
    pub(crate) edges: Option<PlayArea>,
    /// How many hits walls take.
    pub(crate) breaking: Vec<(String, u32)>,
    pub(crate) actors: Vec<Actor>,
    pub(crate) expectations: Vec<Expectation>,
}

/// A mover and what its hand does.
#[derive(Debug, Clone)]
pub(crate) struct Actor {
    pub(crate) name: String,
    pub(crate) start: Vec2,
    pub(crate) heading: Angle,
    pub(crate) footprint: Footprint,
    pub(crate) moves: Moves,
    pub(crate) mask: Layers,
    pub(crate) along_walls: AlongWalls,
    /// Whether it and others that do block each other.
    pub(crate) blocks: bool,
    /// What it makes of balls, if it is a paddle.
    pub(crate) paddle: Option<Paddle>,
    pub(crate) hover: Option<Hover>,
    pub(crate) shots: Vec<Shot>,
    /// Whether the file has `shots`, even an empty list: its ticks are divided at the instants of shots then.
    pub(crate) shoots: bool,
    pub(crate) keys: KeyLayout,
    pub(crate) script: Script,
    /// How its stick is read, where the file says so.
    pub(crate) stick: Option<Stick>,
    /// What a drag launches, where the file says so.
    pub(crate) flick: Option<Flick>,
}

/// How an actor moves.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(crate) enum Moves {
    Freely(AnyDrive),
    /// From tile to tile, starting on this one.
    ByTiles(StepRules, IVec2),
    /// Straight on, and bouncing.
    Flying(Flying),
}

/// How a ball starts.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(crate) struct Flying {
    pub(crate) velocity: Vec2,
    pub(crate) angle_limits: AngleLimits,
    /// The actor on whose paddle it is held until it is served, and when that is.
    pub(crate) held: Option<(usize, f64)>,
}

/// A projectile that an actor sends off.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(crate) struct Shot {
    pub(crate) at: f64,
    pub(crate) toward: Vec2,
    pub(crate) speed: f32,
    pub(crate) footprint: Footprint,
    pub(crate) bounces: u32,
    pub(crate) range: Option<f32>,
    pub(crate) seconds: Option<f32>,
}

impl Actor {
    /// The drive of an actor that moves freely.
    pub(crate) fn drive(&self) -> Option<&AnyDrive> {
        match &self.moves {
            Moves::Freely(drive) => Some(drive),
            Moves::ByTiles(..) | Moves::Flying(_) => None,
        }
    }

    /// Whether it looks somewhere: balls and paddles do not.
    pub(crate) fn has_face(&self) -> bool {
        self.paddle.is_none() && !matches!(self.moves, Moves::Flying(_))
    }

    /// Whether it goes from tile to tile.
    pub(crate) fn steps_by_tiles(&self) -> bool {
        matches!(self.moves, Moves::ByTiles(..))
    }

    /// What is allowed and yet hardly meant.
    pub(crate) fn warnings(&self) -> impl Iterator<Item = Warning> {
        let of_drive = self.drive().map(|drive| drive.warnings()).unwrap_or_default();
        of_drive.into_iter().chain(self.stick.map(|stick| stick.warnings()).unwrap_or_default())
    }
}

/// Portals and things: what only steppers need.
#[derive(Debug, Clone, Default)]
pub(crate) struct Tracks {
    pub(crate) edge: GridEdge,
    pub(crate) portals: Portals,
    /// Names and tiles of things that can be pushed.
    pub(crate) crates: Vec<(String, IVec2)>,
}

/// What a hand does, in order of time.
pub(crate) type Script = Vec<Change>;

/// From this time on, something else is asked for.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(crate) struct Change {
    pub(crate) at: f64,
    pub(crate) asked: Asked,
}

/// What a change asks for.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(crate) enum Asked {
    /// This intent, until the next one; `pressed` is how far left, right, up and down are pressed,
    /// 0 to 1, for pictures.
    Intent { intent: Intent, pressed: [f32; 4] },
    /// A velocity added at once.
    Launch(Vec2),
}

/// What the scenario says will be true at a time.
#[derive(Debug, Clone)]
pub(crate) struct Expectation {
    pub(crate) at: f64,
    /// The actor's place in [`Scenario::actors`].
    pub(crate) actor: usize,
    pub(crate) claims: Vec<Claim>,
}

/// One thing that is said of an actor.
#[derive(Debug, Clone, PartialEq)]
pub(crate) enum Claim {
    Position {
        expected: Vec2,
        within: f32,
    },
    Speed {
        expected: f32,
        within: f32,
    },
    Tile(IVec2),
    AtRest(bool),
    Facing(Facing),
    /// The name of a tile kind, or nothing.
    Touching(Option<String>),
}

impl Scenario {
    /// The map for steppers.
    pub(crate) fn step_ground(&self) -> StepGround<'_> {
        StepGround { grid: &self.map, edge: self.tracks.edge, portals: &self.tracks.portals }
    }

    /// Reads and checks a scenario.
    ///
    /// # Errors
    /// Every problem found, each with its place in the file.
    pub(crate) fn read(path: &Path) -> Result<Self, Problems> {
        ScenarioText::read(path)?.parse()
    }
}

/// A scenario as text, with the name that messages call it.
#[derive(Debug, Clone)]
pub(crate) struct ScenarioText {
    name: String,
    source: String,
    /// Where the files that it names are looked for.
    folder: PathBuf,
}

impl ScenarioText {
    /// A text that is already in memory.
    pub(crate) fn new(name: &str, source: &str) -> Self {
        Self { name: name.to_owned(), source: source.to_owned(), folder: PathBuf::new() }
    }

    /// Reads a file.
    ///
    /// # Errors
    /// When it cannot be read or is not text.
    pub(crate) fn read(path: &Path) -> Result<Self, Problems> {
        let folder = path.parent().map(Path::to_owned).unwrap_or_default();
        Ok(Self { name: path.display().to_string(), source: problem::read_source(path)?, folder })
    }

    /// The same text with another value for a number of an actor.
    ///
    /// # Errors
    /// When there is no such actor or number; the message says which there are.
    pub(crate) fn with_number(&self, actor: &str, key: &str, value: f64) -> Result<Self, String> {
        Ok(Self { source: vary::with_number(&self.source, actor, key, value)?, ..self.clone() })
    }

    /// The numbers of an actor's movement, each with the way to it.
    pub(crate) fn movement_numbers(&self, actor: &str) -> Vec<(String, f64)> {
        vary::movement_numbers(&self.source, actor)
    }

    /// Another text in the place of this one.
    #[cfg(test)]
    pub(crate) fn with_source(&self, source: String) -> Self {
        Self { source, ..self.clone() }
    }

    /// The text itself.
    pub(crate) fn source(&self) -> &str {
        &self.source
    }

    /// Checks the scenario.
    ///
    /// # Errors
    /// Every problem found, each with its place.
    pub(crate) fn parse(&self) -> Result<Scenario, Problems> {
        let found = match toml::from_str(&self.source) {
            Ok(file) => resolve::resolve(file, &self.folder),
            Err(error) => Err(vec![problem::from_toml(&error)]),
        };
        found.map_err(|list| Problems::in_source(&self.name, &self.source, list))
    }
}
