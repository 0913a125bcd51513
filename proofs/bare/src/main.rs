//! The gardener's walk against a bed, in a program that has no standard library: it ends with 0 if she stands where
//! the README says, to the last bit. Nothing here is an example to follow; a game on a console or a microcontroller
//! brings its own memory and its own way to stop.

#![no_std]
#![no_main]

use core::alloc::{GlobalAlloc, Layout};
use core::cell::UnsafeCell;
use core::panic::PanicInfo;
use core::sync::atomic::{AtomicUsize, Ordering};

use ambulant::prelude::*;

/// Memory for one short walk: handed out from the start on, never taken back.
struct Shelf {
    room: UnsafeCell<[u8; SIZE]>,
    taken: AtomicUsize,
}

const SIZE: usize = 1 << 16;

// SAFETY: every byte is handed out once at most, since `taken` only grows.
unsafe impl Sync for Shelf {}

// SAFETY: what is handed out is aligned, large enough, within the room, and nobody else's.
unsafe impl GlobalAlloc for Shelf {
    unsafe fn alloc(&self, layout: Layout) -> *mut u8 {
        let base = self.room.get().cast::<u8>();
        let from = self.taken.fetch_add(layout.size() + layout.align(), Ordering::Relaxed);
        let place = base.wrapping_add(from);
        let aligned = place.wrapping_add(place.align_offset(layout.align()));
        if from + layout.size() + layout.align() > SIZE { core::ptr::null_mut() } else { aligned }
    }

    unsafe fn dealloc(&self, _: *mut u8, _: Layout) {}
}

#[global_allocator]
static SHELF: Shelf = Shelf { room: UnsafeCell::new([0; SIZE]), taken: AtomicUsize::new(0) };

#[panic_handler]
fn stop(_: &PanicInfo<'_>) -> ! {
    loop {}
}

// The C library starts the program; nothing else is taken from it.
#[link(name = "c")]
unsafe extern "C" {}

// SAFETY: the name that the C library looks for, with a form that it accepts.
#[unsafe(no_mangle)]
extern "C" fn main() -> i32 {
    i32::from(walk() != Some(vec2(27.0, 24.0)))
}

// Asked for by the compiled `alloc`, and never called, since nothing unwinds.
#[unsafe(no_mangle)]
extern "C" fn rust_eh_personality() {}

fn walk() -> Option<Vec2> {
    let legend = Legend::new().with('#', TileKind::wall("raised bed")).with('.', TileKind::floor("path"));
    let map =
        TileGrid::from_rows(&["......", "..##..", "......"], &legend).ok()?.with_tile_size(16.0).ok()?;
    let feet = Footprint::rect(10.0, 8.0).ok()?;
    let mut gardener = Walker::new(vec2(8.0, 24.0), feet, Gait::new(60.0, 400.0, 500.0).ok()?);
    let keys = HeldKeys { right: true, ..HeldKeys::NONE };
    for _ in 0..60 {
        let _ = gardener.tick(keys.intent(YAxis::Down), 1.0 / 60.0, &map);
    }
    Some(gardener.position)
}
