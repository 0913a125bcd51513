//! The layers of a scenario, by name.

use ambulant::terrain::Layers;

/// The layer that walls lie on where nothing else is said.
const FIRST: &str = "solid";
/// As many layers as there are bits.
const MOST: usize = 32;

/// The names of layers, in the order in which they were first used.
#[derive(Debug, Clone)]
pub(crate) struct LayerNames(Vec<String>);

impl Default for LayerNames {
    fn default() -> Self {
        Self(vec![FIRST.to_owned()])
    }
}

impl LayerNames {
    /// The layer with a name; a new name takes the next free layer.
    ///
    /// # Errors
    /// When all layers are taken.
    pub(crate) fn layer(&mut self, name: &str) -> Result<Layers, String> {
        if let Some(layer) = self.known(name) {
            return Ok(layer);
        }
        if self.0.len() == MOST {
            return Err(format!("`{name}` is one layer too many; there are at most {MOST}"));
        }
        self.0.push(name.to_owned());
        Ok(self.known(name).unwrap_or(Layers::NONE))
    }

    /// The layer with a name, if that was used.
    pub(crate) fn known(&self, name: &str) -> Option<Layers> {
        let place = self.0.iter().position(|known| known == name)?;
        u32::try_from(place).ok().map(Layers::bit)
    }

    /// The names, each with its layer.
    pub(crate) fn iter(&self) -> impl Iterator<Item = (&str, Layers)> {
        (0u32..).zip(&self.0).map(|(number, name)| (name.as_str(), Layers::bit(number)))
    }

    /// The names of some layers, separated by commas.
    pub(crate) fn describe(&self, layers: Layers) -> String {
        let names: Vec<&str> =
            self.iter().filter(|(_, layer)| layer.meets(layers)).map(|(name, _)| name).collect();
        if names.is_empty() { "no layer".to_owned() } else { names.join(", ") }
    }

    /// Whether these are the layers of a plain wall.
    pub(crate) fn is_plain(layers: Layers) -> bool {
        layers == Layers::FIRST
    }
}
