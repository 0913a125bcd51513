//! The world: tile maps, free-standing walls and the edges of the play area in one value.
//!
//! Every wall of a world has one id, a [`Wall`], which never names another wall. The world stores walls only; movers stay in the game.

use alloc::sync::Arc;
use alloc::vec::Vec;

use super::filter::WallFilter;
use super::floors::Floors;
use super::found::FoundWall;
use super::hits::{Hits, Strike};
use super::layers::Layers;
use super::moving::MovingWalls;
use super::obstacles::Obstacles;
use super::play_area::PlayArea;
use super::terrain_trait::Terrain;
use super::tiles::{KindId, Outside, TileGrid};
use super::wall::{MapId, Wall};
use crate::direction::YAxis;
use crate::drive::Surface;
use crate::saved::{Version, restored};
use crate::shape::{Aabb, Solid};

/// Everything that blocks in a game.
///
/// Copies share their maps and obstacles until one of them changes.
///
/// ```
/// use ambulant::prelude::*;
///
/// let legend = Legend::new().with('#', TileKind::wall("bed")).with('.', TileKind::floor("path"));
/// let map = TileGrid::from_rows(&["....", "...#"], &legend)?.with_tile_size(16.0)?;
/// let mut world = World::new().with_map(map);
/// let post = world.add(Solid::circle(vec2(30.0, 8.0), 4.0)?);
/// world.set_tag(post, 7); // a number of the game's own
///
/// let mut gardener = Walker::new(vec2(8.0, 8.0), Footprint::rect(8.0, 6.0)?, Gait::new(60.0, 400.0, 500.0)?);
/// let result = gardener.tick(Intent::new(vec2(1.0, 0.0)), 1.0, &world);
/// let contact = result.contacts.iter().next().unwrap();
/// assert_eq!((contact.wall, contact.tag), (post, 7));
///
/// world.remove(post);
/// let _ = gardener.tick(Intent::new(vec2(1.0, 0.0)), 1.0, &world);
/// assert_eq!(gardener.position.x, 60.0); // at the edge of the map
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Debug, Clone, Default)]
#[cfg_attr(feature = "serde", derive(serde::Serialize))]
pub struct World {
    version: Version<1>,
    pub(super) maps: Vec<TileGrid>,
    /// Shared by copies until one of them changes.
    #[cfg_attr(feature = "serde", serde(serialize_with = "shared"))]
    pub(super) obstacles: Arc<Obstacles>,
    /// Those of them that move in this tick.
    #[cfg_attr(feature = "serde", serde(skip))]
    pub(super) moving: MovingWalls,
    /// Those of them that are floors.
    pub(super) floors: Floors,
    pub(super) play_area: Option<PlayArea>,
    /// What is everywhere, beside the surfaces of tiles.
    pub(super) surface: Surface,
    hits: Hits,
}

/// Saves what is shared as if it were not.
#[cfg(feature = "serde")]
fn shared<S: serde::Serializer>(obstacles: &Arc<Obstacles>, serializer: S) -> Result<S::Ok, S::Error> {
    serde::Serialize::serialize(&**obstacles, serializer)
}

restored!(
    World {
        version: Version<1>,
        maps: Vec<TileGrid>,
        obstacles: Obstacles,
        floors: Floors,
        play_area: Option<PlayArea>,
        surface: Surface,
        hits: Hits,
    } as saved => {
        let fields::World { version, maps, obstacles, floors, play_area, surface, hits } = saved;
        let in_order = maps.iter().zip(0u32..).all(|(map, number)| u32::from(map.id.0) == number);
        ensure(in_order, "maps must have the ids 0, 1, 2 and so on")?;
        let y_axis = obstacles.y_axis();
        let is_same = maps.iter().all(|map| map.y_axis == y_axis)
            && play_area.as_ref().is_none_or(|area| area.y_axis() == y_axis);
        ensure(is_same, "y_axis must be the same in all parts")?;
        let are_there = floors.iter().all(|(id, _)| obstacles.layers(*id) == Some(Layers::NONE));
        ensure(are_there, "floors must be obstacles on no layer")?;
        let (obstacles, moving) = (Arc::new(obstacles), MovingWalls::default());
        Ok(World { version, maps, obstacles, moving, floors, play_area, surface, hits })
    }
);

/// What moves in this tick does not count: it is forgotten at its end.
impl PartialEq for World {
    fn eq(&self, other: &Self) -> bool {
        self.version == other.version
            && self.maps == other.maps
            && self.obstacles == other.obstacles
            && self.floors == other.floors
            && self.play_area == other.play_area
            && self.surface == other.surface
            && self.hits == other.hits
    }
}

impl World {
    /// A world in which nothing blocks.
    #[must_use]
    pub fn new() -> Self {
        Self {
            version: Version,
            maps: Vec::new(),
            obstacles: Arc::default(),
            moving: MovingWalls::default(),
            floors: Floors::default(),
            play_area: None,
            surface: Surface::PLAIN,
            hits: Hits::new(),
        }
    }

    /// Adds a tile map.
    ///
    /// # Panics
    /// When there are already 65,536 of them.
    #[must_use]
    pub fn with_map(mut self, map: TileGrid) -> Self {
        self.add_map(map);
        self
    }

    /// Adds a tile map and returns its id. All maps block, and surfaces that lie over each other add up. What lies
    /// outside a map does not block if it is not the first.
    ///
    /// ```
    /// use ambulant::prelude::*;
    ///
    /// let legend = Legend::new().with('#', TileKind::wall("bed")).with('.', TileKind::floor("path"));
    /// let house = TileGrid::from_rows(&["....", "...."], &legend)?.with_tile_size(16.0)?;
    /// let pots = TileGrid::from_rows(&["..#"], &legend)?.with_tile_size(5.0)?.with_origin(vec2(20.0, 10.0))?;
    /// let mut world = World::new().with_map(house);
    /// let pots = world.add_map(pots);
    ///
    /// let hit = world.sweep(&Footprint::rect(4.0, 4.0)?, vec2(8.0, 12.0), vec2(40.0, 0.0), &WallFilter::ALL).unwrap();
    /// assert_eq!((hit.wall, hit.position.x), (Wall::Tile(pots, ivec2(2, 0)), 28.0));
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    ///
    /// # Panics
    /// When there are already 65,536 of them.
    pub fn add_map(&mut self, map: TileGrid) -> MapId {
        let Ok(number) = u16::try_from(self.maps.len()) else { panic!("a world has at most 65,536 maps") };
        let mut map = map.with_y_axis(self.obstacles.y_axis());
        map.id = MapId(number);
        if number > 0 {
            map = map.with_outside(Outside::Open);
        }
        self.maps.push(map);
        MapId(number)
    }

    /// Sets the play area: its sides block, bounce, wrap or are open.
    #[must_use]
    pub fn with_play_area(mut self, area: PlayArea) -> Self {
        self.play_area = Some(area.with_y_axis(self.obstacles.y_axis()));
        self
    }

    /// Sets a surface that is everywhere, beside those of tiles: wind, or a current.
    #[must_use]
    pub const fn with_surface(mut self, surface: Surface) -> Self {
        self.surface = surface;
        self
    }

    /// Sets the direction in which y grows, for all parts of the world.
    #[must_use]
    pub fn with_y_axis(mut self, y_axis: YAxis) -> Self {
        self.maps = self.maps.into_iter().map(|map| map.with_y_axis(y_axis)).collect();
        self.play_area = self.play_area.map(|area| area.with_y_axis(y_axis));
        Arc::make_mut(&mut self.obstacles).set_y_axis(y_axis);
        self
    }

    /// The first tile map, if there is one.
    #[must_use]
    pub fn map(&self) -> Option<&TileGrid> {
        self.maps.first()
    }

    /// The first tile map, to change its tiles.
    pub fn map_mut(&mut self) -> Option<&mut TileGrid> {
        self.maps.first_mut()
    }

    /// The tile map with an id.
    #[must_use]
    pub fn map_by_id(&self, id: MapId) -> Option<&TileGrid> {
        self.maps.get(usize::from(id.0))
    }

    /// The tile map with an id, to change its tiles.
    pub fn map_by_id_mut(&mut self, id: MapId) -> Option<&mut TileGrid> {
        self.maps.get_mut(usize::from(id.0))
    }

    /// All tile maps with their ids, in the order in which they were added.
    pub fn maps(&self) -> impl Iterator<Item = (MapId, &TileGrid)> {
        self.maps.iter().map(|map| (map.id, map))
    }

    /// The play area, if there is one.
    #[must_use]
    pub const fn play_area(&self) -> Option<&PlayArea> {
        self.play_area.as_ref()
    }

    /// Adds a free-standing wall on the first layer. Its id is never used again.
    ///
    /// # Panics
    /// When there are already 4,294,967,294 of them.
    pub fn add(&mut self, solid: Solid) -> Wall {
        self.add_on(Layers::FIRST, solid)
    }

    /// Adds a free-standing wall on some layers.
    ///
    /// # Panics
    /// When there are already 4,294,967,294 of them.
    pub fn add_on(&mut self, layers: Layers, solid: Solid) -> Wall {
        Wall::Obstacle(Arc::make_mut(&mut self.obstacles).add_on(layers, solid))
    }

    /// Removes a wall and returns its shape; `None` if it was removed before. A free-standing wall is gone; a tile becomes
    /// one of the first kind that neither blocks nor has closed sides. Edges stay, and so do tiles outside the map or of a
    /// map without such a kind.
    pub fn remove(&mut self, wall: Wall) -> Option<Solid> {
        let solid = match wall {
            Wall::Obstacle(id) => {
                self.moving.forget(id);
                self.floors.remove(id);
                Arc::make_mut(&mut self.obstacles).remove(id)?
            }
            Wall::Tile(map, tile) => self.map_by_id_mut(map)?.open(tile)?,
            Wall::Edge(_) | Wall::Own(_) => return None,
        };
        self.hits.forget(wall);
        Some(solid)
    }

    /// Sets how many hits a wall takes before it is removed; 0 for a wall that does not break. Counts before the hits of
    /// its kind.
    pub fn set_wall_hits(&mut self, wall: Wall, hits: u32) {
        self.hits.set_wall(wall, self.kind_of(wall), hits);
    }

    /// Sets how many hits each tile of a kind of the first map takes before it is removed; 0 for tiles that do not break.
    pub fn set_kind_hits(&mut self, kind: KindId, hits: u32) {
        self.set_kind_hits_on(MapId::FIRST, kind, hits);
    }

    /// The same for a kind of any map.
    pub fn set_kind_hits_on(&mut self, map: MapId, kind: KindId, hits: u32) {
        self.hits.set_kind(map, kind, hits);
    }

    /// How many hits a wall still takes; `None` if it does not break.
    #[must_use]
    pub fn hits_left(&self, wall: Wall) -> Option<u32> {
        self.hits.left(wall, self.kind_of(wall))
    }

    /// Counts one hit on a wall and removes it after its last one.
    ///
    /// ```
    /// use ambulant::prelude::*;
    ///
    /// let mut world = World::new();
    /// let pot = world.add(Solid::circle(vec2(4.0, 4.0), 1.0)?);
    /// world.set_wall_hits(pot, 2);
    /// assert_eq!((world.strike(pot).hits_left, world.strike(pot).broke), (Some(1), true));
    /// assert_eq!((world.strike(pot).hits_left, world.solid(pot)), (None, None));
    /// # Ok::<(), ambulant::InvalidNumber>(())
    /// ```
    pub fn strike(&mut self, wall: Wall) -> Strike {
        let kind = self.kind_of(wall);
        let hits_left = self.hits.left(wall, kind).map(|left| left - 1);
        let broke = hits_left == Some(0) && self.remove(wall).is_some();
        if let Some(left) = hits_left.filter(|left| *left > 0) {
            self.hits.set_wall(wall, kind, left);
        }
        Strike { wall, hits_left, broke }
    }

    fn kind_of(&self, wall: Wall) -> Option<KindId> {
        let Wall::Tile(map, tile) = wall else { return None };
        self.map_by_id(map)?.kind_id(tile)
    }

    /// Places a free-standing wall anew, with another shape or position; `false` if it was removed, and for tiles and
    /// edges. A mover that blocks others is such a wall: place it where the mover is after each tick.
    ///
    /// ```
    /// use ambulant::prelude::*;
    ///
    /// let (mut world, feet) = (World::new(), Footprint::circle(4.0)?);
    /// let gait = Gait::new(60.0, 600.0, 600.0)?;
    /// let mut two = [Walker::new(vec2(0.0, 1.0), feet, gait), Walker::new(vec2(40.0, 0.0), feet, gait)];
    /// for mover in &mut two {
    ///     mover.own_wall = Some(world.add(feet.solid_at(mover.position))); // a wall to the other one
    /// }
    /// for _ in 0..120 {
    ///     for (mover, ahead) in two.iter_mut().zip([1.0, -1.0]) {
    ///         let _ = mover.tick(Intent::new(vec2(ahead, 0.0)), 1.0 / 60.0, &world);
    ///         world.place(mover.own_wall.unwrap(), feet.solid_at(mover.position));
    ///     }
    /// }
    /// assert!(two[0].position.x > two[1].position.x); // they met and slid on
    /// # Ok::<(), ambulant::InvalidNumber>(())
    /// ```
    pub fn place(&mut self, wall: Wall, solid: Solid) -> bool {
        let Wall::Obstacle(id) = wall else { return false };
        self.moving.forget(id);
        Arc::make_mut(&mut self.obstacles).set(id, solid)
    }

    /// Changes the layers of a free-standing wall; `false` if it was removed, and for floors, tiles and edges.
    pub fn set_layers(&mut self, wall: Wall, layers: Layers) -> bool {
        let Wall::Obstacle(id) = wall else { return false };
        !self.floors.is_floor(id) && Arc::make_mut(&mut self.obstacles).set_layers(id, layers)
    }

    /// The layers of a free-standing wall; `None` if it was removed, and for tiles and edges.
    #[must_use]
    pub fn layers(&self, wall: Wall) -> Option<Layers> {
        let Wall::Obstacle(id) = wall else { return None };
        self.obstacles.layers(id)
    }

    /// The shape of a free-standing wall; `None` if it was removed, and for tiles and edges.
    #[must_use]
    pub fn solid(&self, wall: Wall) -> Option<&Solid> {
        let Wall::Obstacle(id) = wall else { return None };
        self.obstacles.get(id)
    }

    /// The free-standing walls and their shapes.
    pub fn walls(&self) -> impl Iterator<Item = (Wall, &Solid)> {
        let walls = self.obstacles.iter().filter(|(id, _)| !self.floors.is_floor(*id));
        walls.map(|(id, solid)| (Wall::Obstacle(id), solid))
    }

    /// Gives a wall a number of the game's own, which is reported with every hit; `false` if there is no such wall. The
    /// tag of a tile counts before that of its kind; 0 for that of its kind again.
    pub fn set_tag(&mut self, wall: Wall, tag: u32) -> bool {
        match wall {
            Wall::Tile(map, tile) => {
                self.map_by_id_mut(map).is_some_and(|map| map.set_tag(tile, tag).is_ok())
            }
            Wall::Obstacle(id) => Arc::make_mut(&mut self.obstacles).set_tag(id, tag),
            Wall::Edge(side) => {
                self.play_area = self.play_area.map(|area| area.with_tag(side, tag));
                self.play_area.is_some()
            }
            Wall::Own(_) => false,
        }
    }

    /// The tag of a wall; 0 by default.
    #[must_use]
    pub fn tag(&self, wall: Wall) -> u32 {
        match wall {
            Wall::Tile(map, tile) => self.map_by_id(map).map_or(0, |map| map.tag(tile)),
            Wall::Obstacle(id) => self.obstacles.tag(id),
            Wall::Edge(side) => self.play_area.map_or(0, |area| area.tag(side)),
            Wall::Own(_) => 0,
        }
    }

    /// Calls `see` with every wall whose bounding box reaches into an area, for drawing collision shapes.
    pub fn outlines_in(&self, area: Aabb, mut see: impl FnMut(&FoundWall)) {
        self.walls_in(area, &WallFilter::ALL, &mut |found| {
            if found.bounds().overlaps(&area) {
                see(&found);
            }
        });
    }
}
