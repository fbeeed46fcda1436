//! Work on a thread with an ample stack: front ends recurse into what they read, up to a limit of levels that needs more
//! than the stack of a server's worker.

/// For the parsers' 200 levels, trees of long `else if` chains and functions that call themselves.
const STACK: usize = 64 << 20;

/// Runs the work; `None` when it panicked or the thread could not be made.
pub fn ample<T: Send>(work: impl FnOnce() -> T + Send) -> Option<T> {
    std::thread::scope(|scope| {
        let worker = std::thread::Builder::new().stack_size(STACK).spawn_scoped(scope, work);
        worker.ok().and_then(|w| w.join().ok())
    })
}
