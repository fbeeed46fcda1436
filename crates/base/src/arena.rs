//! Typed ids and the arenas they index. Owns nothing else: side tables are ordered maps keyed by an id.

use std::fmt;
use std::marker::PhantomData;
use std::ops::{Index, IndexMut};

/// An index into one kind of arena. Implemented by the newtypes that [`id_type!`](crate::id_type) makes.
pub trait Id: Copy + Eq + Ord + fmt::Debug {
    /// The id of the item at `index` of its arena.
    fn from_index(index: usize) -> Self;
    /// The position of the item in its arena.
    fn index(self) -> usize;
}

/// Makes a `u32` id newtype: `id_type!(/** docs */ NetId, "n");` prints `n12`.
#[macro_export]
macro_rules! id_type {
    ($(#[$meta:meta])* $name:ident, $prefix:literal) => {
        $(#[$meta])*
        #[derive(Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash)]
        pub struct $name(u32);

        impl $crate::Id for $name {
            fn from_index(index: usize) -> Self {
                Self(u32::try_from(index).unwrap_or(u32::MAX))
            }
            fn index(self) -> usize {
                self.0 as usize
            }
        }

        impl ::std::fmt::Debug for $name {
            fn fmt(&self, f: &mut ::std::fmt::Formatter<'_>) -> ::std::fmt::Result {
                write!(f, concat!($prefix, "{}"), self.0)
            }
        }

        impl ::std::fmt::Display for $name {
            fn fmt(&self, f: &mut ::std::fmt::Formatter<'_>) -> ::std::fmt::Result {
                ::std::fmt::Debug::fmt(self, f)
            }
        }
    };
}

/// A growing list whose items are named by a typed id and never move or go.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Arena<I, T> {
    items: Vec<T>,
    id: PhantomData<I>,
}

impl<I: Id, T> Arena<I, T> {
    /// An empty arena.
    pub fn new() -> Self {
        Self { items: Vec::new(), id: PhantomData }
    }

    /// Adds an item and says its id.
    pub fn push(&mut self, item: T) -> I {
        let id = I::from_index(self.items.len());
        self.items.push(item);
        id
    }

    /// How many items there are.
    pub fn len(&self) -> usize {
        self.items.len()
    }

    /// True when nothing was pushed yet.
    pub fn is_empty(&self) -> bool {
        self.items.is_empty()
    }

    /// The item, or `None` when the id belongs to another arena and lies past this one's end.
    pub fn get(&self, id: I) -> Option<&T> {
        self.items.get(id.index())
    }

    /// Items with their ids, in the order they were pushed.
    pub fn iter(&self) -> impl DoubleEndedIterator<Item = (I, &T)> + ExactSizeIterator {
        self.items.iter().enumerate().map(|(i, t)| (I::from_index(i), t))
    }

    /// The ids, in order.
    pub fn ids(&self) -> impl DoubleEndedIterator<Item = I> + ExactSizeIterator + use<I, T> {
        (0..self.items.len()).map(I::from_index)
    }
}

impl<I: Id, T> Default for Arena<I, T> {
    fn default() -> Self {
        Self::new()
    }
}

impl<I: Id, T> Index<I> for Arena<I, T> {
    type Output = T;
    fn index(&self, id: I) -> &T {
        &self.items[id.index()]
    }
}

impl<I: Id, T> IndexMut<I> for Arena<I, T> {
    fn index_mut(&mut self, id: I) -> &mut T {
        &mut self.items[id.index()]
    }
}
