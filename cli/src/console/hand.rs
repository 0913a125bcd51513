//! Which direction keys are held, from the key events of a terminal.
//!
//! Some terminals report key releases. The others only repeat the key that was pressed last: first after about two
//! thirds of a second, then every 40 ms or so. There, a press holds its key until the first repeat should have come,
//! and from the first repeat on until repeats stay away; keys pressed before it are held as long. For an actor that
//! steps by tiles, a tap is one tile, so the first hold is short.

use std::time::{Duration, Instant};

use ambulant::intent::Direction;

use crate::live::KeyChange;

/// Longer than terminals take to repeat a key for the first time.
const FIRST_REPEAT: Duration = Duration::from_millis(750);
/// A tap, for an actor that steps by tiles.
const TAP: Duration = Duration::from_millis(60);
/// Longer than the time between two repeats.
const NEXT_REPEAT: Duration = Duration::from_millis(130);

/// How a key release is detected.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Letting {
    /// The terminal reports it.
    Reported,
    /// Repeats stay away; a press alone counts as one of these.
    Guessed { tap: bool },
}

/// The keys that are held.
#[derive(Debug, Clone)]
pub(crate) struct Hand {
    letting: Letting,
    held: Vec<Direction>,
    /// The last pressed key, and when it counts as released unless it repeats.
    newest: Option<(Direction, Instant)>,
}

impl Hand {
    pub(crate) fn new(letting: Letting) -> Self {
        Self { letting, held: Vec::new(), newest: None }
    }

    /// Takes a press, or a repeat of one.
    pub(crate) fn press(&mut self, key: Direction, now: Instant) -> Vec<KeyChange> {
        let known = self.held.contains(&key);
        if let Letting::Guessed { tap } = self.letting {
            let is_repeat = known && self.newest.is_some_and(|(newest, _)| newest == key);
            let lasts = match (is_repeat, tap) {
                (true, _) => NEXT_REPEAT,
                (false, true) => TAP,
                (false, false) => FIRST_REPEAT,
            };
            let until = self.newest.filter(|_| is_repeat).map_or(now, |(_, until)| until);
            // A second tap within the first wait must not end the hold early.
            let until = if is_repeat { until.max(now + lasts) } else { now + lasts };
            self.newest = Some((key, until));
            // Two opposite keys are never held on purpose: the other one was released.
            if let Some(place) = self.held.iter().position(|held| *held == opposite(key)) {
                let other = self.held.remove(place);
                self.held.push(key);
                return vec![(other, false), (key, true)];
            }
        }
        if known {
            return Vec::new();
        }
        self.held.push(key);
        vec![(key, true)]
    }

    /// Takes a release.
    pub(crate) fn release(&mut self, key: Direction) -> Vec<KeyChange> {
        let Some(place) = self.held.iter().position(|held| *held == key) else { return Vec::new() };
        self.held.remove(place);
        vec![(key, false)]
    }

    /// Releases all keys.
    pub(crate) fn release_all(&mut self) -> Vec<KeyChange> {
        self.newest = None;
        self.held.drain(..).map(|key| (key, false)).collect()
    }

    /// Releases what counts as released by now.
    pub(crate) fn pass_time(&mut self, now: Instant) -> Vec<KeyChange> {
        match self.newest {
            Some((_, until)) if now >= until => self.release_all(),
            _ => Vec::new(),
        }
    }
}

fn opposite(key: Direction) -> Direction {
    match key {
        Direction::Left => Direction::Right,
        Direction::Right => Direction::Left,
        Direction::Up => Direction::Down,
        Direction::Down => Direction::Up,
    }
}

#[cfg(test)]
mod tests {
    use rstest::rstest;

    use super::*;
    use Direction::{Down, Left, Right};

    /// What is held at a time, in ms, after presses at these times.
    fn held_at(letting: Letting, presses: &[(u64, Direction)], at: u64) -> Vec<Direction> {
        let start = Instant::now();
        let time = |ms: u64| start + Duration::from_millis(ms);
        let mut hand = Hand::new(letting);
        for (ms, key) in presses.iter().filter(|(ms, _)| *ms <= at) {
            hand.pass_time(time(*ms));
            hand.press(*key, time(*ms));
        }
        hand.pass_time(time(at));
        hand.held
    }

    const GUESSED: Letting = Letting::Guessed { tap: false };

    #[rstest]
    #[case::until_the_first_repeat(GUESSED, &[(0, Right)], 660, &[Right])]
    #[case::no_repeat_came(GUESSED, &[(0, Right)], 800, &[])]
    #[case::repeats_hold_it(GUESSED, &[(0, Right), (660, Right), (700, Right), (740, Right)], 800, &[Right])]
    #[case::repeats_stay_away(GUESSED, &[(0, Right), (660, Right), (700, Right)], 900, &[])]
    #[case::an_older_key_with_the_newest(GUESSED, &[(0, Right), (300, Down), (960, Down)], 1080, &[Right, Down])]
    #[case::the_opposite_replaces(GUESSED, &[(0, Right), (300, Left)], 310, &[Left])]
    #[case::a_tap_is_one_step(Letting::Guessed { tap: true }, &[(0, Right)], 100, &[])]
    #[case::and_repeats_walk_on(Letting::Guessed { tap: true }, &[(0, Right), (660, Right), (700, Right)], 800, &[Right])]
    #[case::terminals_that_report_hold_for_ever(Letting::Reported, &[(0, Right)], 60_000, &[Right])]
    fn keys_are_held_as_long_as_it_feels(
        #[case] letting: Letting,
        #[case] presses: &[(u64, Direction)],
        #[case] at: u64,
        #[case] held: &[Direction],
    ) {
        assert_eq!(held_at(letting, presses, at), held);
    }
}
