//! What the library promises, as tables of cases and as properties over random scenes.

#[macro_use]
mod properties;

mod agreement;
mod arcade;
mod contact;
mod crowds;
mod curves;
mod drives;
mod ends;
mod flights;
mod hoists;
mod intent;
mod limits;
mod obstacles;
mod read_back;
mod responses;
mod rules;
mod scene;
mod seen;
mod shapes;
mod steps;
mod surfaces;
mod terrain;
mod texts;
mod timeline;
mod travel;
mod walker;
mod walls;
mod world;
