//! Layers of names: what is declared inside hides what is declared around.

use std::collections::BTreeMap;

/// Names with what they stand for, the innermost layer last. There is always one.
#[derive(Clone, Debug)]
pub struct Layers<S> {
    layers: Vec<BTreeMap<String, S>>,
}

impl<S> Default for Layers<S> {
    fn default() -> Self {
        Self { layers: vec![BTreeMap::new()] }
    }
}

impl<S> Layers<S> {
    /// Begins a layer.
    pub fn enter(&mut self) {
        self.enter_with(BTreeMap::new());
    }

    /// Begins a layer that holds some names already.
    pub fn enter_with(&mut self, layer: BTreeMap<String, S>) {
        self.layers.push(layer);
    }

    /// Ends the innermost layer.
    pub fn leave(&mut self) {
        self.layers.pop();
    }

    /// Leaves the innermost layers, to be entered again.
    pub fn put_aside(&mut self, count: usize) -> Vec<BTreeMap<String, S>> {
        self.layers.split_off(self.layers.len().saturating_sub(count))
    }

    /// Enters layers again.
    pub fn take_up(&mut self, layers: Vec<BTreeMap<String, S>>) {
        self.layers.extend(layers);
    }

    /// What a name stands for.
    pub fn get(&self, name: &str) -> Option<&S> {
        self.all(name).next()
    }

    /// All that a name stands for, the innermost first.
    pub fn all(&self, name: &str) -> impl Iterator<Item = &S> {
        self.layers.iter().rev().filter_map(move |l| l.get(name))
    }

    /// What a name stands for in the innermost layer.
    pub fn here(&self, name: &str) -> Option<&S> {
        self.layers.last()?.get(name)
    }

    /// The same, to be changed.
    pub fn here_mut(&mut self, name: &str) -> Option<&mut S> {
        self.layers.last_mut()?.get_mut(name)
    }

    /// Declares a name in the innermost layer.
    pub fn insert(&mut self, name: &str, symbol: S) {
        if let Some(layer) = self.layers.last_mut() {
            layer.insert(name.to_owned(), symbol);
        }
    }

    /// All names of all layers.
    pub fn iter(&self) -> impl Iterator<Item = (&String, &S)> {
        self.layers.iter().flatten()
    }

    /// The name that was probably meant.
    pub fn nearest(&self, name: &str) -> Option<&str> {
        base::nearest(name, self.iter().map(|(k, _)| k.as_str()).filter(|k| *k != name))
    }
}
