//! Actors that step by tiles, in the tool.

use predicates::prelude::*;
use predicates::str::contains;
use rstest::rstest;

use crate::harness::{Desk, scenario};

/// An actor that steps, with something else beside it.
fn cart(rules: &str, rest: &str) -> String {
    let actor = format!(
        "[[actor]]\nname = \"cart\"\ntile = [1, 2]\nsteps = {{ {rules} }}\nkeys = [{{ at = 0.5, press = \"right\" }}]\n"
    );
    scenario(&(actor + rest))
}

#[rstest]
#[case::planter("speed = 4", "", "cart  right is blocked by raised bed 3,2")]
#[case::crate_("speed = 4", "[[crate]]\nname = \"box\"\ntile = [2, 2]", "right is blocked by box")]
#[case::pushed(
    "speed = 4, pushes = true",
    "[[crate]]\nname = \"box\"\ntile = [2, 1]",
    "entered brick path 2,2"
)]
#[case::portal(
    "speed = 4",
    "[[portal]]\ntiles = [[2, 2], [5, 2]]",
    "entered the portal at 2,2 and left it at 5,2"
)]
#[case::other(
    "speed = 4",
    "[[actor]]\nname = \"mouse\"\ntile = [2, 2]\nsteps = { speed = 1 }",
    "blocked by mouse"
)]
fn what_happens_is_told_in_the_scenarios_own_names(
    #[case] rules: &str,
    #[case] rest: &str,
    #[case] told: &str,
) {
    let desk = Desk::new();
    desk.write("cart.toml", cart(rules, rest));
    desk.ambulant("run cart.toml").success().stdout(contains(told));
    desk.ambulant("draw cart.toml --claims 0.6 -o cart.png").success();
}

#[rstest]
#[case::speed("speed = 0", "", "speed is 0, but must be a finite number above 0 (tiles per second)")]
#[case::delay("speed = 4, delay = 0.2", "", "delay is a time of at least 0 for mode = \"hold\"")]
#[case::input_buffer("speed = 4, input_buffer = -1", "", "input_buffer is -1, but must be at least 0")]
#[case::mode("speed = 4, mode = \"runon\"", "", "did you mean `run-on`?")]
#[case::one_end("speed = 4", "[[portal]]\ntiles = [[2, 2], [2, 2]]", "the portal at [2, 2] has one end")]
#[case::three_ends("speed = 4", "[[portal]]\ntiles = [[2, 2]]", "a portal has two tiles, not 1")]
#[case::in_a_wall("speed = 4", "[[portal]]\ntiles = [[2, 2], [0, 0]]", "the portal end [0, 0] blocks")]
#[case::twice(
    "speed = 4",
    "[[portal]]\ntiles = [[2, 2], [5, 2]]\n[[portal]]\ntiles = [[1, 1], [5, 2]]",
    "two portals end at [5, 2]"
)]
#[case::crate_("speed = 4", "[[crate]]\nname = \"box\"\ntile = [3, 2]", "`box` cannot stand on tile 3,2")]
#[case::shared(
    "speed = 4",
    "[[actor]]\nname = \"mouse\"\ntile = [1, 2]\nsteps = { speed = 1 }",
    "`mouse` cannot start there: tile 1,2 is taken by mover 0"
)]
#[case::outside(
    "speed = 4",
    "[[actor]]\nname = \"mouse\"\ntile = [9, 2]\nsteps = { speed = 1 }",
    "tile 9,2 lies outside the map"
)]
#[case::place(
    "speed = 4",
    "[[actor]]\nname = \"mouse\"\nstart = [9, 2]\nsteps = { speed = 1 }",
    "`mouse` steps by tiles and starts on a tile"
)]
#[case::drive(
    "speed = 4",
    "[[actor]]\nname = \"mouse\"\ntile = [1, 1]\nsteps = { speed = 1 }\npace = { speed = 1 }",
    "`mouse` steps by tiles and has a drive"
)]
#[case::no_steps(
    "speed = 4",
    "[[actor]]\nname = \"mouse\"\ntile = [1, 1]\npace = { speed = 1 }",
    "`mouse` moves freely and starts at a place"
)]
fn what_cannot_be_is_refused_with_its_place(#[case] rules: &str, #[case] rest: &str, #[case] message: &str) {
    let desk = Desk::new();
    desk.write("cart.toml", cart(rules, rest));
    desk.ambulant("run cart.toml").code(2).stderr(contains(message).and(contains("cart.toml:")));
}

#[test]
fn comparing_is_for_those_who_move_freely() {
    let desk = Desk::new();
    desk.write("cart.toml", cart("speed = 4", ""));
    let call = desk.ambulant("compare cart.toml --vary cart.speed=2,4");
    call.code(2).stderr(contains("`cart` has no drive; compare takes actors that move freely"));
}
