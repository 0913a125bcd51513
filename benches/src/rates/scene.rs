//! Random scenes: walls, a mover and eight seconds of keys, by class.

use ambulant::direction::{Axis, Corner, Side};
use ambulant::drive::{AnyDrive, Drag, Glide, Helm, Pace, Steering, Surface};
use ambulant::prelude::*;
use ambulant::shape::{Polygon, Solid};
use ambulant::terrain::{Course, Wall, World};

use crate::{Dice, free_place};

/// What kind of scene is played.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Class {
    /// A box or a circle in an empty room.
    OpenFloor,
    /// A box among full tiles and tiles closed from one side.
    Tiles,
    /// A box among half-tiles, slanted walls and rows of flush walls in several stores.
    FlatWalls,
    /// The same on a belt or under a pull, which slanted walls turn.
    PulledAlongFlatWalls,
    /// A circle among full tiles, which have corners.
    CircleAmongTiles,
    /// A box or a circle among round walls and slanted ones.
    RoundWalls,
    /// A box among doors that slide.
    Doors,
    /// A mover with a heading, among tiles and slanted walls.
    Vehicles,
    /// A box among walls that slide and take along what touches them.
    Lifts,
    /// A box or a circle on an open floor with rafts that drift.
    Rafts,
    /// A box or a circle among round walls that drift.
    Rocks,
    /// A box among full tiles and tiles with belts.
    Belts,
}

/// Every class, in the order in which they are played.
pub const CLASSES: [Class; 12] = [
    Class::OpenFloor,
    Class::Tiles,
    Class::FlatWalls,
    Class::PulledAlongFlatWalls,
    Class::CircleAmongTiles,
    Class::RoundWalls,
    Class::Doors,
    Class::Lifts,
    Class::Rafts,
    Class::Rocks,
    Class::Belts,
    Class::Vehicles,
];

impl Class {
    /// Its name on the command line and in the table.
    #[must_use]
    pub const fn name(self) -> &'static str {
        match self {
            Self::OpenFloor => "open floor",
            Self::Tiles => "tiles",
            Self::FlatWalls => "flat walls",
            Self::PulledAlongFlatWalls => "pulled along flat walls",
            Self::CircleAmongTiles => "circle among tiles",
            Self::RoundWalls => "round walls",
            Self::Doors => "doors",
            Self::Lifts => "lifts",
            Self::Rafts => "rafts",
            Self::Rocks => "rocks",
            Self::Belts => "belts",
            Self::Vehicles => "vehicles",
        }
    }
}

impl Class {
    /// Whether every scene has to end at the same place at every tick rate: flat walls, and nothing but a drive that moves.
    #[must_use]
    pub const fn must_agree(self) -> bool {
        matches!(self, Self::OpenFloor | Self::Tiles | Self::FlatWalls)
    }

    /// Whether walls or floors move.
    const fn has_moving_walls(self) -> bool {
        matches!(self, Self::Doors | Self::Lifts | Self::Rafts | Self::Rocks)
    }
}

/// Everything that a run needs.
#[derive(Debug, Clone)]
pub struct Scene {
    /// Tiles, and two stores of free-standing walls.
    pub walls: (TileGrid, World, World),
    /// Walls and floors of the first store that move, each with how it does.
    pub moving: Vec<(Wall, Course)>,
    /// What the mover covers.
    pub footprint: Footprint,
    /// How it moves.
    pub drive: AnyDrive,
    /// What is under it everywhere.
    pub surface: Surface,
    /// Where it starts.
    pub start: Vec2,
    /// What the player wants from which instant on, in seconds.
    pub keys: Vec<(f64, Intent)>,
}

/// How long a scene is played, in seconds.
pub(super) const SECONDS: f64 = 8.0;
const COLUMNS: usize = 20;
const ROWS: usize = 15;

impl Scene {
    /// The scene of a class that a seed stands for.
    ///
    /// # Panics
    /// Never: all numbers are in range.
    #[must_use]
    pub fn new(class: Class, seed: u64) -> Self {
        let pulled = class == Class::PulledAlongFlatWalls;
        let class = if pulled { Class::FlatWalls } else { class };
        let mut dice = Dice::new(seed.wrapping_mul(0x9E37_79B9_7F4A_7C15) ^ class as u64);
        let tile = [16.0, 16.0, 10.0, 13.7][pick(&mut dice, 4)];
        let size = vec2(COLUMNS as f32, ROWS as f32) * tile;
        let origin = if pick(&mut dice, 2) == 0 { Vec2::ZERO } else { dice.place(700.0) };
        let grid = tiles(class, tile, origin, &mut dice);
        let mut first = World::new();
        let mut second = with_other_ids();
        for number in 0..if class == Class::OpenFloor { 0 } else { 14 } {
            for solid in standing(class, number, tile, origin, size, &mut dice) {
                if pick(&mut dice, 2) == 0 {
                    first.add(solid)
                } else {
                    second.add(solid)
                };
            }
        }
        let mut moving = Vec::new();
        for _ in 0..if class.has_moving_walls() { 6 } else { 0 } {
            let corner = origin + dice.place(1.0) * (size - 40.0) + 16.0;
            let id = moving_wall(class, &mut first, corner, tile, &mut dice);
            let velocity = dice.direction() * dice.number(10.0, 50.0);
            let lasts = dice.number(0.5, 1.5);
            let there = Course::new().moves(velocity * lasts, lasts).expect("in range");
            let to_and_fro =
                there.moves(velocity * -lasts, lasts).and_then(Course::looping).expect("in range");
            moving.push((id, to_and_fro));
        }
        let footprint = footprint(class, tile, &mut dice);
        let walls = (grid, first, second);
        let start = loop {
            let start =
                origin + free_place(&Moved(&walls, origin), &footprint, size.max_element(), &mut dice);
            if walls.0.area().contains(start) {
                break start;
            }
        };
        let (drive, surface) = drive(class, pulled, &mut dice);
        let keys = keys(&mut dice);
        Self { walls, moving, footprint, drive, surface, start, keys }
    }
}

/// Walls as seen from another origin, so that places can be thrown from zero on.
struct Moved<'a, T>(&'a T, Vec2);

impl<T: ambulant::terrain::Terrain> ambulant::terrain::Terrain for Moved<'_, T> {
    fn walls_in(
        &self,
        area: ambulant::shape::Aabb,
        filter: &ambulant::terrain::WallFilter<'_>,
        see: &mut dyn FnMut(ambulant::terrain::FoundWall),
    ) {
        self.0.walls_in(area, filter, see);
    }

    fn overlaps(&self, footprint: &Footprint, at: Vec2, filter: &ambulant::terrain::WallFilter<'_>) -> bool {
        self.0.overlaps(footprint, at + self.1, filter)
    }
}

fn pick(dice: &mut Dice, count: u64) -> usize {
    usize::try_from((dice.bits() >> 33) % count).unwrap_or(0)
}

fn tiles(class: Class, tile: f32, origin: Vec2, dice: &mut Dice) -> TileGrid {
    let legend = Legend::new()
        .with('#', TileKind::wall("bed"))
        .with('.', TileKind::floor("path"))
        .with('1', TileKind::half("half", Corner::TopLeft))
        .with('2', TileKind::half("half", Corner::TopRight))
        .with('3', TileKind::half("half", Corner::BottomLeft))
        .with('4', TileKind::half("half", Corner::BottomRight))
        .with('v', TileKind::floor("ledge").closed_from(Side::Top))
        .with('>', TileKind::floor("ledge").closed_from(Side::Left))
        .with('r', belt(Vec2::X))
        .with('l', belt(Vec2::NEG_X))
        .with('d', belt(Vec2::Y));
    let filled = match class {
        Class::OpenFloor | Class::RoundWalls => 0,
        Class::Doors | Class::Lifts | Class::Rafts | Class::Rocks => 0,
        Class::FlatWalls | Class::PulledAlongFlatWalls | Class::Vehicles => 5,
        Class::Belts => 8,
        Class::Tiles | Class::CircleAmongTiles => 14,
    };
    let partly: &[char] = match class {
        Class::Tiles => &['v', '>'],
        Class::FlatWalls => &['1', '2', '3', '4', 'v', '>'],
        Class::Belts => &['r', 'l', 'd', 'r', 'l', 'd'],
        _ => &[],
    };
    let mut glyph = |x: usize, y: usize| {
        let percent = pick(dice, 100);
        match percent {
            _ if x == 0 || y == 0 || x == COLUMNS - 1 || y == ROWS - 1 => '#',
            _ if percent < filled => '#',
            _ if percent < filled + 2 * partly.len() => partly[(percent - filled) / 2],
            _ => '.',
        }
    };
    let rows: Vec<String> = (0..ROWS).map(|y| (0..COLUMNS).map(|x| glyph(x, y)).collect()).collect();
    let grid =
        TileGrid::from_rows(&rows, &legend).expect("even rows").with_tile_size(tile).expect("in range");
    grid.with_origin(origin).expect("in range")
}

/// A tile with a belt.
fn belt(toward: Vec2) -> TileKind {
    TileKind::floor("belt").with_surface(Surface::PLAIN.with_belt(toward * 24.0).expect("in range"))
}

/// A wall or a floor that is going to move.
fn moving_wall(class: Class, world: &mut World, corner: Vec2, tile: f32, dice: &mut Dice) -> Wall {
    match class {
        Class::Rafts => {
            let size = vec2(dice.number(1.0, 4.0), dice.number(1.0, 4.0)) * tile;
            let grip = Surface::PLAIN.with_grip(dice.number(0.3, 1.5)).expect("in range");
            let surface = if pick(dice, 2) == 0 { Surface::PLAIN } else { grip };
            world.add_floor(Aabb::from_corners(corner, corner + size), surface).expect("in range")
        }
        Class::Rocks => world.add(Solid::circle(corner, dice.number(0.3, 1.2) * tile).expect("in range")),
        _ => {
            let door = Solid::box_from_corners(corner, corner + vec2(8.0, 24.0)).expect("in range");
            let door = world.add(door);
            world.set_carries(door, class == Class::Lifts);
            door
        }
    }
}

/// One free-standing wall, or a row of flush ones.
fn standing(class: Class, number: usize, tile: f32, origin: Vec2, size: Vec2, dice: &mut Dice) -> Vec<Solid> {
    let at = origin + vec2(dice.number(1.5, 18.0), dice.number(1.5, 13.0)) * (size / vec2(20.0, 15.0));
    let reach = dice.number(0.5, 2.5) * tile;
    let boxed = |corner: Vec2, size: Vec2| Solid::box_from_corners(corner, corner + size).expect("in range");
    let slanted = |dice: &mut Dice| match number % 2 {
        0 => Solid::segment(at, at + dice.direction() * reach).expect("in range"),
        _ => {
            let turn = dice.direction();
            let corners = [vec2(0.0, 0.0), vec2(1.0, 0.0), vec2(0.8, 0.7), vec2(0.1, 0.6)];
            let corners = corners.map(|corner| at + turn.rotate(corner) * reach);
            Polygon::new(&corners).expect("a quadrangle").into()
        }
    };
    match (class, number % 4) {
        (Class::OpenFloor | Class::Tiles | Class::CircleAmongTiles | Class::Rafts | Class::Belts, _) => {
            Vec::new()
        }
        (Class::Doors | Class::Lifts | Class::Rocks, _) if number > 4 => Vec::new(),
        // Flush with the tiles where they stand on whole numbers of them.
        (Class::FlatWalls | Class::Doors | Class::Lifts | Class::Rocks, 0) => {
            let whole = origin + ((at - origin) / tile).floor() * tile;
            (0..3).map(|place| boxed(whole + vec2(0.0, place as f32 * tile), Vec2::splat(tile))).collect()
        }
        (Class::FlatWalls | Class::Doors | Class::Lifts | Class::Rocks, 1) => {
            vec![boxed(at, vec2(reach, 0.7 * reach))]
        }
        (Class::RoundWalls, 0 | 1) => vec![Solid::circle(at, 0.5 * reach).expect("in range")],
        _ => vec![slanted(dice)],
    }
}

fn footprint(class: Class, tile: f32, dice: &mut Dice) -> Footprint {
    let (width, height) = (dice.number(0.3, 0.95) * tile, dice.number(0.3, 0.95) * tile);
    let round = match class {
        Class::OpenFloor | Class::RoundWalls | Class::Vehicles | Class::Rafts | Class::Rocks => {
            pick(dice, 2) == 0
        }
        Class::CircleAmongTiles => true,
        Class::Tiles | Class::FlatWalls | Class::PulledAlongFlatWalls => false,
        Class::Doors | Class::Lifts | Class::Belts => false,
    };
    if round { Footprint::circle(width * 0.5) } else { Footprint::rect(width, height) }.expect("in range")
}

fn drive(class: Class, pulled: bool, dice: &mut Dice) -> (AnyDrive, Surface) {
    let speed = dice.number(30.0, 260.0);
    let drag = Drag::half_life(dice.number(0.05, 0.6)).expect("in range");
    let gait = Gait::new(speed, dice.number(60.0, 1200.0), dice.number(60.0, 1500.0)).expect("in range");
    if class == Class::Vehicles {
        let steering = if pick(dice, 2) == 0 { Steering::Wheel(YAxis::Down) } else { Steering::Toward };
        let helm = Helm::new(dice.number(1.0, 5.0), speed * drag.rate(), drag, steering).expect("in range");
        let helm = match pick(dice, 3) {
            0 => helm,
            1 => helm.with_grip(dice.number(0.5, 8.0)).expect("in range"),
            _ => helm.on_rails(),
        };
        return (helm.into(), Surface::PLAIN);
    }
    let plain = match pick(dice, 4) {
        0 => AnyDrive::from(Pace::new(speed).expect("in range")),
        1 => Glide::new(speed * drag.rate(), drag, 0.5).expect("in range").into(),
        _ => gait.into(),
    };
    let wrapped = match (class, pulled) {
        (_, true) => 1 + pick(dice, 2),
        (Class::FlatWalls, false) => [0, 3, 3, 3][pick(dice, 4)],
        _ => pick(dice, 8),
    };
    match wrapped {
        0 => (plain.on_axis(if pick(dice, 2) == 0 { Axis::X } else { Axis::Y }), Surface::PLAIN),
        1 => (plain, Surface::PLAIN.with_belt(dice.direction() * 0.5 * speed).expect("in range")),
        2 => (plain.falling(vec2(0.0, speed * 3.0), speed).expect("in range"), Surface::PLAIN),
        _ => (plain, Surface::PLAIN),
    }
}

/// Eight-way keys and now and then a stick, held for a twentieth of a second to a second and a half.
pub(super) fn keys(dice: &mut Dice) -> Vec<(f64, Intent)> {
    let mut from = 0.0;
    let mut keys = Vec::new();
    while from < SECONDS {
        let held = HeldKeys {
            left: pick(dice, 3) == 0,
            right: pick(dice, 3) == 0,
            up: pick(dice, 3) == 0,
            down: pick(dice, 3) == 0,
        };
        let stick = Intent::new(dice.direction() * dice.number(0.2, 1.2));
        keys.push((from, if pick(dice, 5) == 0 { stick } else { held.intent(YAxis::Down) }));
        from += f64::from(dice.number(0.05, 1.5));
    }
    keys
}

/// An empty store whose walls get other ids than those of a new one, so that each names one wall of a scene.
fn with_other_ids() -> World {
    let mut store = World::new();
    let unit = Solid::box_from_corners(Vec2::ZERO, Vec2::ONE).expect("in range");
    let used: Vec<_> = (0..64).map(|_| store.add(unit)).collect();
    used.into_iter().for_each(|id| {
        store.remove(id);
    });
    store
}
