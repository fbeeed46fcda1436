//! The demo exercises and what each student handed in.

/// An exercise that students see later.
pub(super) const LATER: &str = include_str!("ripeness_vote.toml");
/// An exercise of last year.
pub(super) const ARCHIVED: &str = include_str!("label_gate.toml");

/// A file's name and text.
type File = (&'static str, &'static str);

/// A design with its wiring, and whether an assistant signed it off.
pub(super) struct Kind {
    design: File,
    wiring: Option<File>,
    answers: Option<File>,
    signed_off: bool,
}

pub(super) struct DemoExercise {
    pub(super) name: &'static str,
    pub(super) text: &'static str,
    kinds: &'static [Kind],
    /// A letter a student: `a` is the first kind; two letters apart by nothing are two attempts; `.` is nothing yet.
    schedule: &'static str,
}

pub(super) struct Attempt {
    pub(super) student: usize,
    pub(super) design: File,
    pub(super) wiring: Option<File>,
    pub(super) answers: Option<File>,
    pub(super) signed_off: bool,
}

macro_rules! file {
    ($folder:literal, $name:literal) => {
        ($name, include_str!(concat!("../../../../demo/", $folder, "/", $name)))
    };
}

macro_rules! kind {
    ($folder:literal, $design:literal) => {
        Kind { design: file!($folder, $design), wiring: None, answers: None, signed_off: false }
    };
    ($folder:literal, $design:literal, $wiring:literal) => {
        Kind {
            design: file!($folder, $design),
            wiring: Some(file!($folder, $wiring)),
            answers: None,
            signed_off: false,
        }
    };
    ($folder:literal, $design:literal, $wiring:literal, signed) => {
        Kind { design: file!($folder, $design), wiring: Some(file!($folder, $wiring)), answers: None, signed_off: true }
    };
    ($folder:literal, $design:literal, answers $answers:literal) => {
        Kind {
            design: file!($folder, $design),
            wiring: None,
            answers: Some(file!($folder, $answers)),
            signed_off: false,
        }
    };
}

impl DemoExercise {
    /// First attempts of everybody, then second ones.
    pub(super) fn attempts(&self) -> impl Iterator<Item = Attempt> + '_ {
        let words = || self.schedule.split_whitespace().enumerate();
        (0..2).flat_map(move |round| {
            words().filter_map(move |(student, word)| {
                let letter = *word.as_bytes().get(round)?;
                let kind = self.kinds.get(usize::from(letter.checked_sub(b'a')?))?;
                let Kind { design, wiring, answers, signed_off } = *kind;
                Some(Attempt { student, design, wiring, answers, signed_off })
            })
        })
    }
}

pub(super) const EXERCISES: &[DemoExercise] = &[
    DemoExercise {
        name: "hopper-interlock",
        text: include_str!("../../../../demo/hopper-interlock/exercise.toml"),
        kinds: &[
            kind!("hopper-interlock", "plain.v", "wiring_right.csv", signed),
            kind!("hopper-interlock", "gates.v", "wiring_right.csv", signed),
            kind!("hopper-interlock", "plain.v", "wiring_right.csv"),
            kind!("hopper-interlock", "wrong_or.v", "wiring_right.csv"),
            kind!("hopper-interlock", "latch.v", "wiring_right.csv"),
            kind!("hopper-interlock", "semicolon.v"),
            kind!("hopper-interlock", "misspelt.v"),
            kind!("hopper-interlock", "gates.v", "wiring_pin.csv"),
            kind!("hopper-interlock", "interlock.vhd", "wiring_right.csv", signed),
        ],
        schedule: "da a fb b ea a a gb c b da a  h i fa a c b d eb a ga i .",
    },
    DemoExercise {
        name: "weight-grader",
        text: include_str!("../../../../demo/weight-grader/exercise.toml"),
        kinds: &[
            kind!("weight-grader", "compare.v", "wiring_right.csv", signed),
            kind!("weight-grader", "cases.v", "wiring_right.csv", signed),
            kind!("weight-grader", "sop.v", "wiring_right.csv"),
            kind!("weight-grader", "border.v", "wiring_right.csv"),
            kind!("weight-grader", "missing_case.v", "wiring_right.csv"),
            kind!("weight-grader", "compare.v", "wiring_swapped.csv"),
        ],
        schedule: "a da b c . b d fa a e b c  a c da . b f e a d c . .",
    },
    DemoExercise {
        name: "tank-level-bar",
        text: include_str!("../../../../demo/tank-level-bar/exercise.toml"),
        kinds: &[
            kind!("tank-level-bar", "shift.v", "wiring_right.csv", signed),
            kind!("tank-level-bar", "loop.v", "wiring_right.csv"),
            kind!("tank-level-bar", "reversed.v", "wiring_right.csv"),
            kind!("tank-level-bar", "two_drivers.v"),
        ],
        schedule: "a b c . d ca . b a . b c  . a . . c b . a . d . .",
    },
    DemoExercise {
        name: "gray-turntable",
        text: include_str!("../../../../demo/gray-turntable/exercise.toml"),
        kinds: &[
            kind!("gray-turntable", "xor.v", "wiring_right.csv"),
            kind!("gray-turntable", "generate.v", "wiring_right.csv"),
            kind!("gray-turntable", "one_or.v", "wiring_right.csv"),
            kind!("gray-turntable", "loop.v"),
            kind!("gray-turntable", "xor.v", "wiring_missing.csv"),
            kind!("gray-turntable", "turntable.vhd", "wiring_right.csv"),
            kind!("gray-turntable", "no_use.vhd"),
        ],
        schedule: "c b . f . . a . e . g .  . . d f . . . a . . . .",
    },
    DemoExercise {
        name: "lane-letter",
        text: include_str!("../../../../demo/lane-letter/exercise.toml"),
        kinds: &[
            kind!("lane-letter", "case.v", answers "answers_right.toml"),
            kind!("lane-letter", "equations.v", answers "answers_right.toml"),
            kind!("lane-letter", "case.v", answers "answers_partly.toml"),
            kind!("lane-letter", "bright.v"),
        ],
        schedule: "c . a . . d . b . . . .  a . . . c . . . . . . .",
    },
    DemoExercise {
        name: "lane-chaser",
        text: include_str!("../../../../demo/lane-chaser/exercise.toml"),
        kinds: &[
            kind!("lane-chaser", "rotate.v"),
            kind!("lane-chaser", "twenty_one.v"),
            kind!("lane-chaser", "other_way.v"),
            kind!("lane-chaser", "falls_off.v"),
        ],
        schedule: "ba a c . a d . b . a . .  a . b . . a . . c . . .",
    },
    DemoExercise {
        name: "crate-counter",
        text: include_str!("../../../../demo/crate-counter/exercise.toml"),
        kinds: &[
            kind!("crate-counter", "counter.v", "wiring_right.csv"),
            kind!("crate-counter", "counter.vhd", "wiring_right.csv"),
            kind!("crate-counter", "stops_early.v", "wiring_right.csv"),
            kind!("crate-counter", "falling.v", "wiring_right.csv"),
            kind!("crate-counter", "active_low.v", "wiring_right.csv"),
            kind!("crate-counter", "registered_full.v", "wiring_right.csv"),
            kind!("crate-counter", "counter.v", "wiring_swapped.csv"),
        ],
        schedule: "da b a c . f a . e g . .  . a c . b . . . d . . .",
    },
    DemoExercise {
        name: "belt-beacon",
        text: include_str!("../../../../demo/belt-beacon/exercise.toml"),
        kinds: &[
            kind!("belt-beacon", "divider.v", "wiring.csv"),
            kind!("belt-beacon", "compare.vhd", "wiring.csv"),
            kind!("belt-beacon", "one_more.v", "wiring.csv"),
            kind!("belt-beacon", "narrow.v", "wiring.csv"),
            kind!("belt-beacon", "no_start.v", "wiring.csv"),
        ],
        schedule: "c a . b . da . . e . . .  a . . c . . . . b . . .",
    },
    DemoExercise {
        name: "washer-sequencer",
        text: include_str!("../../../../demo/washer-sequencer/exercise.toml"),
        kinds: &[
            kind!("washer-sequencer", "states.sv"),
            kind!("washer-sequencer", "onehot.vhd"),
            kind!("washer-sequencer", "skips.sv"),
            kind!("washer-sequencer", "synchronous.sv"),
            kind!("washer-sequencer", "swapped.sv"),
        ],
        schedule: "c a . . b . d . . . . .  e . . a . . . . . . . .",
    },
    DemoExercise {
        name: "reject-gate",
        text: include_str!("../../../../demo/reject-gate/exercise.toml"),
        kinds: &[
            kind!("reject-gate", "nands.v"),
            kind!("reject-gate", "nands.vhd"),
            kind!("reject-gate", "operators.v"),
            kind!("reject-gate", "joined_wrong.v"),
        ],
        schedule: "ca a d . b da . a c . b .  a . d a . b . . c . . .",
    },
];
