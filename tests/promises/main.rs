//! What the library promises, as tables of cases and as properties over random scenes.

mod drives;
mod scene;
mod travel;
mod walker;
