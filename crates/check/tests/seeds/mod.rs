//! Seeds of random tests: the same few in each run, or others for as long as somebody wants.

use std::time::{Duration, Instant, SystemTime, UNIX_EPOCH};

/// Seeds from 0 on. Where `ZESTY_MINUTES` says a number of minutes, seeds that nobody has tried, for so long; the first one
/// is printed and can be given again as `ZESTY_SEED`.
#[allow(clippy::print_stdout, reason = "the seed is what a failure is repeated with")]
pub(crate) fn seeds(usual: u64) -> Box<dyn Iterator<Item = u64>> {
    let number = |name: &str| std::env::var(name).ok().and_then(|text| text.parse::<f64>().ok());
    let Some(minutes) = number("ZESTY_MINUTES") else { return Box::new(0..usual) };
    let now = SystemTime::now().duration_since(UNIX_EPOCH).map_or(0, |d| d.as_secs());
    let first = number("ZESTY_SEED").map_or(now % 1_000_000 * 1_000_000, |n| n as u64);
    println!("seeds from {first} on");
    let end = Instant::now() + Duration::from_secs_f64(minutes * 60.0);
    Box::new((first..).take_while(move |_| Instant::now() < end))
}
