//! The command-line program `zesty-gate`: checking and deriving in a terminal, and starting the web application.

mod check;
mod check_args;
mod class;
mod compare;
mod convert;
mod demo;
mod derive;
mod files;
mod keeping;
mod limits;
mod report;
mod roster;
mod serve;
mod simulate;

use clap::{Parser, Subcommand};
use std::process::ExitCode;

/// Trees and netlists are many small pieces: a third of a check's time went into the system's allocator.
#[global_allocator]
static ALLOCATOR: mimalloc::MiMalloc = mimalloc::MiMalloc;

/// Sets digital-logic lab exercises, checks hand-ins against them and keeps the pass sheet.
#[derive(Parser)]
#[command(version, about)]
struct Cli {
    #[command(flatten)]
    limits: limits::Limits,
    #[command(subcommand)]
    command: Command,
}

#[derive(Subcommand)]
enum Command {
    /// The web application on its own data.
    Serve(serve::ServeArgs),
    /// The web application on fresh demo data.
    Demo(serve::DemoArgs),
    /// Checks one hand-in against an exercise.
    Check(check_args::Args),
    /// Derives table, maps and minimal forms from a behaviour.
    Derive(derive::Args),
    /// Are two designs equal?
    Compare(compare::CompareArgs),
    /// Converts waves and tables between kinds of files, by their endings.
    Convert(convert::Args),
    /// Shows units, ports, hierarchy and findings of a design.
    Inspect(compare::InspectArgs),
    /// Runs a testbench; its output goes to standard output.
    Simulate(simulate::Args),
    /// Writes all data into one file, also while serving.
    Backup(keeping::BackupArgs),
    /// Puts a backup back; the data that was there before is kept beside it.
    Restore(keeping::RestoreArgs),
    /// Brings the people of a course in line with a roster (CSV); what will happen is printed first.
    Roster(roster::RosterArgs),
    /// Prints the JSON Schema of a kind of file.
    Schema(keeping::SchemaArgs),
    /// Writes an empty design and a testbench in both languages.
    Starter(compare::StarterArgs),
    /// Answers questions of the application about students' files.
    #[command(hide = true)]
    Worker(limits::WorkerArgs),
}

/// A call or an input that could not be used: one sentence, exit status 2.
struct Unusable(String);

fn main() -> ExitCode {
    let cli = Cli::parse();
    if let Some(code) = limits::in_a_process_of_its_own(&cli) {
        return code;
    }
    tracing_subscriber::fmt().with_writer(std::io::stderr).with_max_level(tracing::Level::WARN).init();
    let outcome = match cli.command {
        Command::Serve(args) => serve::serve(&args),
        Command::Demo(args) => serve::demo(&args),
        Command::Check(args) => check::run(&args, &cli.limits),
        Command::Derive(args) => derive::run(&args),
        Command::Compare(args) => compare::compare(&args),
        Command::Convert(args) => convert::run(&args),
        Command::Inspect(args) => compare::inspect(&args),
        Command::Simulate(args) => simulate::run(&args),
        Command::Backup(args) => keeping::backup(&args),
        Command::Restore(args) => keeping::restore(&args),
        Command::Roster(args) => roster::run(&args),
        Command::Schema(args) => keeping::schema(&args),
        Command::Starter(args) => compare::starter(&args),
        Command::Worker(args) => limits::worker(&args),
    };
    match outcome {
        Ok(code) => code,
        Err(Unusable(message)) => {
            report::to_people(&message);
            ExitCode::from(2)
        }
    }
}
