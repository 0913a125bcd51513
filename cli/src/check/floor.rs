//! Floor that no actor can reach, narrow gaps, and places without a way back.

use ambulant::terrain::{Filtered, Layers, TileGrid, World};
use glam::IVec2;

use super::Finding;
use super::reach::{Lattice, Reach, reach};
use crate::scenario::{Actor, Scenario};
use crate::text::counted;

/// The most places that one finding names.
const MOST_NAMED: usize = 3;
/// Maps with more tiles are not walked over.
const MOST_TILES: usize = 200_000;

pub(super) fn findings(scenario: &Scenario) -> Vec<Finding> {
    let map = &scenario.map;
    let tiles = usize::try_from(map.size().x).unwrap_or(0) * usize::try_from(map.size().y).unwrap_or(0);
    if tiles > MOST_TILES {
        let text = format!("the map has more than {MOST_TILES} tiles; its floor was not checked");
        return vec![Finding::new("not looked at", text)];
    }
    let store = still(scenario);
    let mut findings = Vec::new();
    let floor: Vec<IVec2> = (0..)
        .map_while(|index| map.tile_of_index(index))
        .filter(|tile| map.kind(*tile).is_some_and(|kind| !kind.blocks()))
        .collect();
    let mut reached_by_any = vec![false; floor.len()];
    let mut bare = vec![false; floor.len()];
    for actor in scenario.actors.iter().filter(|actor| actor.drive().is_some()) {
        let walked = Walked::by(actor, map, &store);
        for (place, tile) in floor.iter().enumerate() {
            reached_by_any[place] |= walked.is_open(*tile);
            bare[place] |= walked.at(&walked.bare, *tile);
        }
        let narrow: Vec<IVec2> =
            floor.iter().copied().filter(|tile| walked.is_open(*tile) && !walked.enters(*tile)).collect();
        if !narrow.is_empty() {
            let size = actor.footprint.size();
            let text = format!(
                "`{}` ({} by {} units) does not fit through to {} that a smaller footprint can reach: {}",
                actor.name,
                size.x,
                size.y,
                counted(narrow.len(), "tile"),
                named(map, &narrow)
            );
            findings.push(Finding::new("narrow gap", text));
        }
        let trapped: Vec<IVec2> =
            floor.iter().copied().filter(|tile| walked.at(&walked.traps, *tile)).collect();
        if !trapped.is_empty() {
            let text = format!(
                "`{}` can reach {} but not get back to its start: {}",
                actor.name,
                counted(trapped.len(), "tile"),
                named(map, &trapped)
            );
            findings.push(Finding::new("one-way trap", text));
        }
    }
    let sealed: Vec<IVec2> = (0..floor.len())
        .filter(|place| bare[*place] && !reached_by_any[*place])
        .map(|place| floor[place])
        .collect();
    // A stepper may get there through a portal or over the edge.
    let by_tiles = scenario.actors.iter().any(Actor::steps_by_tiles);
    if !sealed.is_empty() && !by_tiles {
        let text = format!("no actor can reach {}: {}", counted(sealed.len(), "tile"), named(map, &sealed));
        findings.insert(0, Finding::new("unreachable floor", text));
    }
    findings
}

fn named(map: &TileGrid, tiles: &[IVec2]) -> String {
    let name = |tile: &IVec2| {
        let kind = map.kind(*tile).map_or("floor", ambulant::terrain::TileKind::name);
        format!("{kind} {},{}", tile.x, tile.y)
    };
    let names: Vec<String> = tiles.iter().take(MOST_NAMED).map(name).collect();
    let more = if tiles.len() > MOST_NAMED { ", ..." } else { "" };
    names.join(", ") + more
}

/// The obstacles that stand still: one that moves may be out of the way at some time.
fn still(scenario: &Scenario) -> World {
    let mut store = scenario.standing.store().clone();
    for item in scenario.standing.iter().filter(|item| item.moves.is_some()) {
        store.set_layers(item.id, Layers::NONE);
    }
    store
}

/// Where one actor gets to, and where something as small as a crumb would.
struct Walked<'a> {
    map: &'a TileGrid,
    /// By tile: whether it is mostly free of walls, whether a crumb gets to most of it, whether the actor gets
    /// there, and whether the actor's middle may be there without a way back.
    bare: Vec<bool>,
    open: Vec<bool>,
    enters: Vec<bool>,
    traps: Vec<bool>,
}

/// A crumb's radius, in tiles.
const CRUMB: f32 = 1.0 / 64.0;

impl<'a> Walked<'a> {
    fn by(actor: &Actor, map: &'a TileGrid, store: &World) -> Self {
        let all = (map, store);
        let terrain = Filtered::new(&all, actor.mask);
        let lattice = |footprint| Lattice::over(map.size(), map.tile_size(), map.area().min, footprint);
        let tiles = map.kinds().len().min(1) * map.size().element_product().unsigned_abs() as usize;
        let none = vec![false; tiles];
        let mut walked =
            Self { map, bare: none.clone(), open: none.clone(), enters: none.clone(), traps: none };

        let footprint = &actor.footprint;
        let grid = lattice(footprint);
        let Reach { there, back, .. } = reach(&grid, &terrain, footprint, actor.start);
        walked.mark_covered(&grid, &there, footprint);
        for place in (0..grid.len()).filter(|place| there[*place] && !back[*place]) {
            if let Some(index) = map.index_of(map.tile_at(grid.middle(place))) {
                walked.traps[index] = true;
            }
        }

        if let Ok(crumb) = ambulant::shape::Footprint::circle(CRUMB * map.tile_size().min_element()) {
            let grid = lattice(&crumb);
            let start = footprint.at(actor.start).center();
            let Reach { clear, there, .. } = reach(&grid, &terrain, &crumb, start);
            walked.bare = walked.mostly(&grid, &clear);
            walked.open = walked.mostly(&grid, &there);
        }
        walked
    }

    /// Marks every tile that the footprint covers at one of these places.
    fn mark_covered(&mut self, lattice: &Lattice, places: &[bool], footprint: &ambulant::shape::Footprint) {
        for place in (0..lattice.len()).filter(|place| places[*place]) {
            let area = footprint.at(lattice.position(place));
            // What is only touched is not covered.
            let (a, b) = (self.map.tile_at(area.min + 1e-3), self.map.tile_at(area.max - 1e-3));
            for row in a.y.min(b.y)..=a.y.max(b.y) {
                for column in a.x.min(b.x)..=a.x.max(b.x) {
                    if let Some(index) = self.map.index_of(IVec2::new(column, row)) {
                        self.enters[index] = true;
                    }
                }
            }
        }
    }

    /// The tiles of which most places are among these.
    fn mostly(&self, lattice: &Lattice, places: &[bool]) -> Vec<bool> {
        let mut counts = vec![(0u32, 0u32); self.bare.len()];
        for (place, among) in places.iter().enumerate() {
            if let Some(index) = self.map.index_of(self.map.tile_at(lattice.middle(place))) {
                counts[index].0 += u32::from(*among);
                counts[index].1 += 1;
            }
        }
        counts.into_iter().map(|(among, all)| among * 2 > all).collect()
    }

    fn is_open(&self, tile: IVec2) -> bool {
        self.at(&self.open, tile)
    }

    fn enters(&self, tile: IVec2) -> bool {
        self.at(&self.enters, tile)
    }

    fn at(&self, list: &[bool], tile: IVec2) -> bool {
        self.map.index_of(tile).is_some_and(|index| list[index])
    }
}
