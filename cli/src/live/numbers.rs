//! The numbers of an actor's movement, changed while it moves and written back.

use crate::scenario::{Scenario, ScenarioText};

/// A change is about this part of the number.
const PART: f64 = 0.05;
/// The change of a number that is 0.
const FROM_ZERO: f64 = 0.1;

/// One number.
#[derive(Debug, Clone, PartialEq)]
pub(crate) struct Number {
    /// Its table and name, such as `gait.friction`.
    pub(crate) way: String,
    /// As the file has it.
    pub(crate) written: f64,
    pub(crate) value: f64,
}

/// The numbers of one actor, and which of them is chosen.
#[derive(Debug, Clone)]
pub(crate) struct Numbers {
    actor: String,
    text: ScenarioText,
    list: Vec<Number>,
    chosen: usize,
    /// Which number was changed, and what it was before.
    changes: Vec<(usize, f64)>,
}

impl Numbers {
    pub(crate) fn new(text: &ScenarioText, actor: &str) -> Self {
        let found = text.movement_numbers(actor).into_iter();
        let list = found.map(|(way, value)| Number { way, written: value, value });
        Self {
            actor: actor.to_owned(),
            text: text.clone(),
            list: list.collect(),
            chosen: 0,
            changes: Vec::new(),
        }
    }

    pub(crate) fn list(&self) -> &[Number] {
        &self.list
    }

    /// The place of the chosen one.
    pub(crate) fn chosen(&self) -> usize {
        self.chosen
    }

    /// Chooses the next one, or the one before.
    pub(crate) fn choose(&mut self, forward: bool) {
        let count = self.list.len().max(1);
        self.chosen = (self.chosen + if forward { 1 } else { count - 1 }) % count;
    }

    /// Whether any of them is not as the file has it.
    pub(crate) fn changed(&self) -> bool {
        self.list.iter().any(|number| number.value != number.written)
    }

    /// Makes the chosen one larger or smaller by a step; the scenario with the new number, or why it cannot
    /// be had, and then nothing is changed.
    pub(crate) fn change(&mut self, up: bool) -> Result<Scenario, String> {
        let Some(number) = self.list.get(self.chosen) else {
            return Err(format!("{} has no numbers in the file to change", self.actor));
        };
        let (before, place) = (number.value, self.chosen);
        let scenario = self.put(place, stepped(before, up))?;
        self.changes.push((place, before));
        Ok(scenario)
    }

    /// Gives a number a value; `goes_on` if it is one change with the last one, as while a slider is dragged.
    pub(crate) fn set(&mut self, way: &str, value: f64, goes_on: bool) -> Result<Scenario, String> {
        let Some(place) = self.list.iter().position(|number| number.way == way) else {
            return Err(format!("{} has no number {way} in the file", self.actor));
        };
        let before = self.list[place].value;
        let scenario = self.put(place, value)?;
        self.chosen = place;
        if !(goes_on && self.changes.last().is_some_and(|(last, _)| *last == place)) {
            self.changes.push((place, before));
        }
        Ok(scenario)
    }

    /// Takes back the last change that was not yet taken back.
    pub(crate) fn undo(&mut self) -> Result<Scenario, String> {
        let (place, before) = self.changes.pop().ok_or("no number was changed")?;
        self.chosen = place;
        self.put(place, before)
    }

    /// Takes back all changes since the file was read or saved.
    pub(crate) fn revert(&mut self) -> Result<Scenario, String> {
        let mut found = Err("no number was changed".to_owned());
        for place in 0..self.list.len() {
            let Number { written, value, .. } = self.list[place];
            if value != written {
                found = self.put(place, written);
                self.changes.push((place, value));
            }
        }
        found
    }

    /// Puts a value in the text, if that is a scenario then.
    fn put(&mut self, place: usize, value: f64) -> Result<Scenario, String> {
        let way = self.list[place].way.clone();
        let cannot = || format!("{way} cannot be {value}");
        if !value.is_finite() {
            return Err(cannot());
        }
        let text = self.text.with_number(&self.actor, &way, value)?;
        let scenario = text.parse().map_err(|_| cannot())?;
        self.text = text;
        self.list[place].value = value;
        Ok(scenario)
    }

    /// The scenario's text with the numbers as they are now.
    pub(crate) fn text(&self) -> &ScenarioText {
        &self.text
    }

    /// Another reading of the same file with these numbers in it, all else as it is there.
    ///
    /// # Errors
    /// When a changed number is not there any more.
    pub(crate) fn put_into(&self, text: &ScenarioText) -> Result<ScenarioText, String> {
        let changed = self.list.iter().filter(|number| number.value != number.written);
        changed
            .map(|number| (&number.way, number.value))
            .try_fold(text.clone(), |text, (way, value)| text.with_number(&self.actor, way, value))
    }

    /// Takes the numbers as they are for what the file has.
    pub(crate) fn settle(&mut self) {
        for number in &mut self.list {
            number.written = number.value;
        }
    }
}

/// The next number up or down: about a twentieth away, and round.
fn stepped(value: f64, up: bool) -> f64 {
    let size = value.abs() * PART;
    let size = if size > 0.0 { size } else { FROM_ZERO };
    let tens = size.log10().floor();
    let leading = size / 10f64.powf(tens);
    let leading = if leading < 1.5 {
        1.0
    } else if leading < 3.5 {
        2.0
    } else {
        5.0
    };
    let steps = |step: f64| {
        let near = value / step;
        // Onto the next multiple, so that an odd number becomes a round one.
        if up { (near + 1e-9).floor() + 1.0 } else { (near - 1e-9).ceil() - 1.0 }
    };
    // A power of ten divides without a trace of rounding, a tenth of one would not multiply so.
    if tens < 0.0 {
        let parts = 10f64.powf(-tens);
        steps(leading / parts) * leading / parts
    } else {
        let step = leading * 10f64.powf(tens);
        steps(step) * step
    }
}

#[cfg(test)]
mod tests {
    use rstest::rstest;

    use super::*;

    #[rstest]
    #[case(400.0, true, 420.0)]
    #[case(400.0, false, 380.0)]
    #[case(0.35, true, 0.36)]
    #[case(0.35, false, 0.34)]
    #[case(60.0, true, 62.0)]
    #[case(61.3, true, 62.0)]
    #[case(0.0, true, 0.1)]
    #[case(6.0, false, 5.8)]
    #[case(0.001, true, 0.00105)]
    fn a_number_goes_to_the_next_round_one(#[case] from: f64, #[case] up: bool, #[case] to: f64) {
        assert_eq!(stepped(from, up), to);
    }
}
