//! `zesty-gate serve` and `zesty-gate demo`: the web application.

use crate::{Unusable, demo, report};
use anyhow::{Context, Result};
use server::AppState;
use server::wire::DemoAccounts;
use std::net::SocketAddr;
use std::path::PathBuf;
use std::process::ExitCode;
use std::sync::Arc;
use std::time::Duration;
use store::{CourseId, Store};

/// Arguments of `serve`.
#[derive(clap::Args)]
pub(crate) struct ServeArgs {
    /// The folder of the data; made when it isn't there.
    #[arg(long, default_value = "zesty-gate-data")]
    data: PathBuf,
    /// The address to listen at; port 0 takes a free one.
    #[arg(long, default_value = "127.0.0.1:8460")]
    listen: SocketAddr,
    /// Requests come through a proxy of your own that adds the address it saw to X-Forwarded-For.
    #[arg(long)]
    behind_proxy: bool,
}

/// Arguments of `demo`.
#[derive(clap::Args)]
pub(crate) struct DemoArgs {
    /// An empty folder for the demo data; else a temporary one.
    #[arg(long)]
    data: Option<PathBuf>,
    /// The address to listen at; port 0 takes a free one.
    #[arg(long, default_value = "127.0.0.1:8460")]
    listen: SocketAddr,
}

/// Says how the checks of the demo's hand-ins get on, until all are made.
fn tell_progress(state: &AppState, course: CourseId) {
    let mut told = u64::MAX;
    while let Ok(waiting) = state.waiting(course) {
        if waiting == 0 {
            return report::to_people("The demo's hand-ins are checked.");
        }
        if waiting + 10 <= told {
            report::to_people(&format!("The demo's hand-ins are being checked: {waiting} wait."));
            told = waiting;
        }
        std::thread::sleep(Duration::from_millis(200));
    }
}

fn now() -> i64 {
    jiff::Timestamp::now().as_second()
}

fn unusable(error: &anyhow::Error) -> Unusable {
    Unusable(format!("{error:#}."))
}

pub(crate) fn serve(args: &ServeArgs) -> Result<ExitCode, Unusable> {
    let run = || -> Result<()> {
        let store = Store::open(&args.data)?;
        if store.person_count()? == 0 {
            report::to_people("Nobody is there yet: open the page below to make the first account.");
        }
        listen(store, None, args.listen, args.behind_proxy)
    };
    run().map(|()| ExitCode::SUCCESS).map_err(|e| unusable(&e))
}

pub(crate) fn demo(args: &DemoArgs) -> Result<ExitCode, Unusable> {
    let run = || -> Result<()> {
        let temporary = tempfile::tempdir().context("no temporary folder can be made")?;
        let folder = args.data.as_deref().unwrap_or(temporary.path());
        let store = Store::open(folder)?;
        if store.person_count()? > 0 {
            anyhow::bail!("{} holds data already; give an empty folder, or use `serve`", folder.display());
        }
        let (accounts, course) = demo::seed(&store, now())?;
        for account in &accounts.accounts {
            report::to_people(&format!(
                "  {:<10} sign in as {:<6} password {}",
                account.role, account.name, accounts.password
            ));
        }
        listen(store, Some((accounts, course)), args.listen, false)
    };
    run().map(|()| ExitCode::SUCCESS).map_err(|e| unusable(&e))
}

fn listen(store: Store, demo: Option<(DemoAccounts, CourseId)>, address: SocketAddr, behind_proxy: bool) -> Result<()> {
    let program = std::env::current_exe().context("this program can't be found again")?;
    let (demo, course) = demo.unzip();
    let state = AppState::new(store, demo, Some(program));
    if let Some(course) = course {
        let state = Arc::clone(&state);
        std::thread::spawn(move || tell_progress(&state, course));
    }
    if behind_proxy {
        state.trust_proxy();
    }
    let ready = |at: SocketAddr| report::to_people(&format!("Zesty Gate is at http://{at}"));
    actix_web::rt::System::new()
        .block_on(server::serve(state, address, ready))
        .with_context(|| format!("the address {address} can't be used"))
}
