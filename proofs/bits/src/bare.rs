//! What a module without the standard library brings itself.

use core::alloc::{GlobalAlloc, Layout};
use core::cell::Cell;

/// Memory that is handed out once and never taken back; wasm32 without threads has one user of it.
struct Shelf {
    next: Cell<usize>,
}

const PAGE: usize = 65_536;

// SAFETY: there is one thread.
unsafe impl Sync for Shelf {}

// SAFETY: what is handed out is aligned, lies in memory that was just asked for, and is nobody else's.
unsafe impl GlobalAlloc for Shelf {
    unsafe fn alloc(&self, layout: Layout) -> *mut u8 {
        if self.next.get() == 0 {
            self.next.set(core::arch::wasm32::memory_grow(0, 16) * PAGE);
        }
        let from = self.next.get().next_multiple_of(layout.align());
        self.next.set(from + layout.size());
        from as *mut u8
    }

    unsafe fn dealloc(&self, _: *mut u8, _: Layout) {}
}

#[global_allocator]
static SHELF: Shelf = Shelf { next: Cell::new(0) };

#[panic_handler]
fn stop(_: &core::panic::PanicInfo<'_>) -> ! {
    core::arch::wasm32::unreachable()
}
