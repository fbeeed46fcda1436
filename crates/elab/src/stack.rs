//! Work on a thread with an ample stack: front ends recurse into what they read, up to a limit of levels that needs more
//! than the stack of a server's worker.

use base::Fault;

/// For the parsers' 200 levels, trees of long `else if` chains and functions that call themselves.
const STACK: usize = 64 << 20;

/// Runs the work.
///
/// # Errors
/// A fault of ours when it panicked or the thread could not be made; it stands in the log.
pub fn ample<T: Send>(work: impl FnOnce() -> T + Send) -> Result<T, Fault> {
    let done = std::thread::scope(|scope| {
        let worker = std::thread::Builder::new().stack_size(STACK).spawn_scoped(scope, work);
        let worker = worker.map_err(|e| Fault::new(format!("no thread: {e}")))?;
        worker.join().map_err(|payload| Fault::of_panic(payload.as_ref()))
    });
    done.inspect_err(log)
}

/// A broken promise between our own crates, which stands in the log from now on.
pub fn fault(what: &str) -> Fault {
    let fault = Fault::new(what);
    log(&fault);
    fault
}

fn log(fault: &Fault) {
    tracing::error!("fault {:06x}: {}", fault.number, fault.what);
}
