//! A fault of ours, with a number under which it stands in the log and that people can tell us.

use std::any::Any;
use std::fmt;

/// A fault of ours: an assumption that did not hold. It says nothing about anybody's work.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Fault {
    /// The same for the same fault, so that reports of many can be put together; at most 24 bits.
    pub number: u32,
    /// What it was, for the log.
    pub what: String,
}

impl Fault {
    /// A fault by what it was.
    pub fn new(what: impl Into<String>) -> Self {
        let what = what.into();
        // FNV-1a (Fowler, Noll and Vo), its upper byte folded into the lower 24 bits as they describe.
        let hash = what.bytes().fold(0x811c_9dc5_u32, |h, byte| (h ^ u32::from(byte)).wrapping_mul(0x0100_0193));
        Self { number: (hash >> 24) ^ (hash & 0xff_ffff), what }
    }

    /// What a thread panicked with.
    pub fn of_panic(payload: &(dyn Any + Send)) -> Self {
        let text = payload.downcast_ref::<&str>().copied();
        let text = text.or_else(|| payload.downcast_ref::<String>().map(String::as_str));
        Self::new(text.unwrap_or("a panic without words"))
    }
}

impl fmt::Display for Fault {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "The checker itself failed (number {:06x} in the log).", self.number)
    }
}

impl std::error::Error for Fault {}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_fault_has_the_same_number_each_time_and_another_than_others() {
        let caught = |text: &'static str| std::thread::spawn(move || panic!("{text}")).join().unwrap_err();
        let number = |text| Fault::of_panic(caught(text).as_ref()).number;
        assert_eq!(number("lost a net"), Fault::new("lost a net").number);
        assert_ne!(number("lost a net"), number("lost a wire"));
        // Published test vector (from memory): the hash of "a" in 32 bits is e40c292c.
        assert_eq!(Fault::new("a").number, 0xe4 ^ 0x0c_292c);
        assert_eq!(Fault::new("a").to_string(), "The checker itself failed (number 0c29c8 in the log).");
    }
}
