//! Limits of time and memory: commands that read students' files run in a process of their own, which is ended when it
//! takes more.

use crate::{Cli, Command, Unusable, report};
use std::io::{stdin, stdout};
use std::process::{Child, ExitCode, ExitStatus};
use std::time::{Duration, Instant};

/// Set in the process of its own.
const MARK: &str = "ZESTY_GATE_LIMITED";

/// What a command that reads students' files may take.
#[derive(clap::Args)]
pub(crate) struct Limits {
    /// Seconds that a command on design files, or each hand-in of a class, may take; 0 for no limit.
    #[arg(long, global = true, value_name = "SECONDS", default_value_t = 60)]
    pub(crate) limit_seconds: u64,
    /// Memory that it may take, in MiB; 0 for no limit.
    #[arg(long, global = true, value_name = "MIB", default_value_t = 2_048)]
    pub(crate) limit_mib: u64,
}

/// Arguments of `worker`.
#[derive(clap::Args)]
pub(crate) struct WorkerArgs {
    /// Address space, in MiB.
    #[arg(long)]
    memory: u64,
}

pub(crate) fn worker(args: &WorkerArgs) -> Result<ExitCode, Unusable> {
    worker::limit_memory(args.memory);
    worker::serve(stdin().lock(), stdout().lock())
        .map(|()| ExitCode::SUCCESS)
        .map_err(|e| Unusable(format!("the questions ended: {e}.")))
}

impl Limits {
    /// As a pool of workers has them.
    pub(crate) fn of_workers(&self) -> worker::Limits {
        let usual = worker::Limits::default();
        worker::Limits {
            time: if self.limit_seconds == 0 {
                Duration::from_secs(86_400)
            } else {
                Duration::from_secs(self.limit_seconds)
            },
            memory: if self.limit_mib == 0 { 64 * usual.memory } else { self.limit_mib },
        }
    }
}

/// Runs the command again in a process with limits, where it is one that needs them; nothing where it is to run here.
pub(crate) fn in_a_process_of_its_own(cli: &Cli) -> Option<ExitCode> {
    let is_class = matches!(&cli.command, Command::Check(args) if args.class.is_some());
    let reads_designs = matches!(
        &cli.command,
        Command::Check(_) | Command::Compare(_) | Command::Inspect(_) | Command::Simulate(_) | Command::Convert(_)
    );
    let limits = &cli.limits;
    if !reads_designs || is_class || limits.limit_seconds == 0 {
        return None;
    }
    if std::env::var_os(MARK).is_some() {
        if limits.limit_mib > 0 {
            worker::limit_memory(limits.limit_mib);
        }
        return None;
    }
    let program = std::env::current_exe().ok()?;
    let child = std::process::Command::new(program).args(std::env::args_os().skip(1)).env(MARK, "1").spawn();
    let Ok(child) = child else { return None };
    Some(match waited(child, Duration::from_secs(limits.limit_seconds)) {
        Some(status) if status.code().is_some() => {
            ExitCode::from(u8::try_from(status.code().unwrap_or(2)).unwrap_or(2))
        }
        ended => {
            let why = match ended {
                Some(_) => {
                    format!("it needed more than {} MiB of memory, or failed; see --limit-mib", limits.limit_mib)
                }
                None => format!("it took more than {} s; see --limit-seconds", limits.limit_seconds),
            };
            let sentence = format!("This was stopped: {why}.");
            told(&cli.command, &sentence);
            ExitCode::from(1)
        }
    })
}

/// The end of a process, or nothing when it had to be ended.
fn waited(mut child: Child, time: Duration) -> Option<ExitStatus> {
    let end = Instant::now() + time;
    let mut pause = Duration::from_micros(100);
    loop {
        match child.try_wait() {
            Ok(Some(status)) => return Some(status),
            Ok(None) if Instant::now() < end => std::thread::sleep(pause),
            _ => {
                // It may end by itself just now.
                let _ = child.kill();
                let _ = child.wait();
                return None;
            }
        }
        pause = (pause * 5 / 4).min(Duration::from_millis(5));
    }
}

/// Says it in the form that the command's caller expects.
fn told(command: &Command, sentence: &str) {
    report::to_people(sentence);
    let json = match command {
        Command::Check(args) if args.json => serde_json::to_value(check::stopped(0, sentence).verdict),
        Command::Compare(args) if args.json => {
            Ok(serde_json::json!({"equal": null, "proof": verdict::Proof::NONE, "counterexample": null}))
        }
        _ => return,
    };
    if let Ok(json) = json {
        report::result(&serde_json::to_string_pretty(&json).unwrap_or_default());
    }
}
