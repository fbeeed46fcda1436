/** What each page is for, in five sentences. */

export interface PageHelp {
  title: string;
  sentences: [string, string, string, string, string];
  /** Where one goes on. */
  links: [title: string, path: string][];
}

interface Entry extends PageHelp {
  /** Which addresses it explains. */
  fits: RegExp;
}

const FINDINGS: [string, string] = ["Every kind of finding, with examples", "/help/findings"];

const PAGES: Entry[] = [
  {
    fits: /^\/courses\/\d+$/,
    title: "Pass sheet",
    sentences: [
      "Everybody in the course is a line and every exercise a column; the lamps in a cell say how the hand-in that counts stands.",
      "Arrow keys move from cell to cell, Enter opens the hand-in, and the column heads are reached with the arrow up.",
      "An empty cell opens the exercise, ready to hand in for that student.",
      "Students see their own exercises here, with what is due first.",
      "Search, section and marks stay as they are when you come back.",
    ],
    links: [FINDINGS],
  },
  {
    fits: /^\/courses\/\d+\/people/,
    title: "People",
    sentences: [
      "A roster from a spreadsheet adds everybody at once: first it says what would be new, changed or missing, then you decide.",
      "People set their own passwords by a one-time link, which can be shown as a code for a projector.",
      "With a join code students add themselves, as long as it holds and for as many as you say.",
      "An assistant sees the sections that are ticked, or all when none is.",
      "Who is deactivated can't come in; what they handed in stays until you erase it.",
    ],
    links: [],
  },
  {
    fits: /^\/courses\/\d+\/audit/,
    title: "Audit trail",
    sentences: [
      "Every change of people, exercises, times and sign-offs stands here with who made it and when.",
      "Nothing can be taken out of it.",
      "Narrow it by what was done, or by a name.",
      "Wrong passwords stand here from the fifth in a row on.",
      "Times are those of your own clock.",
    ],
    links: [],
  },
  {
    fits: /^\/courses\/\d+\/tools/,
    title: "Tools",
    sentences: [
      "A waveform file (VCD) of any simulator opens here; it is read by the window, so a large one is no trouble.",
      "The divider says how far a counter has to count for a frequency, and how far off it is.",
      "Signals are picked from the list and shown as levels, numbers or names.",
      "Marks measure the time between two edges.",
      "Nothing that is opened here is kept.",
    ],
    links: [],
  },
  {
    fits: /^\/courses\/\d+\/exercises\/\d+\/workings/,
    title: "Workings",
    sentences: [
      "An exercise is written here: statement, signals, behaviour, rules, marks and wiring, each checked as it is typed.",
      "Table, map and terms are three pictures of one behaviour; the row cursor is the same in all of them.",
      "Everything is saved as a draft, which students don't see until you publish it.",
      "Before publishing you read what it does to verdicts that are there already.",
      "The exercise file says the same as this page, and can be edited as text.",
    ],
    links: [],
  },
  {
    fits: /^\/courses\/\d+\/exercises\/\d+\/pad/,
    title: "Scratch pad",
    sentences: [
      "What you write is checked after every pause, and simulated when you press Run.",
      "Nothing is kept by the course until you hand it in; this browser remembers your text meanwhile.",
      "Findings point at their line; Alt+N and Alt+P step through them.",
      "Several files may stand side by side, in both languages.",
      "When it is as you want it, hand it in as a new attempt.",
    ],
    links: [FINDINGS],
  },
  {
    fits: /^\/courses\/\d+\/exercises\/\d+\/(handout|key)/,
    title: "Paper",
    sentences: [
      "This page is laid out for printing.",
      "The handout shows the task with blank tables and maps to fill in.",
      "The key holds the answers and is for staff alone.",
      "The notation is the one chosen on the workings page.",
      "Use the browser's own print command.",
    ],
    links: [],
  },
  {
    fits: /^\/courses\/\d+\/exercises\/\d+/,
    title: "Exercise",
    sentences: [
      "This is the task: what goes in and out, what is wanted, what a design has to keep to, and how it is wired.",
      "Hand in design files, a wiring file and prepared answers together; they are checked at once.",
      "The scratch pad tries a design before it counts.",
      "Staff see the expected behaviour here, on the board and over time.",
      "Each hand-in is an attempt; which of them counts is a setting of the course.",
    ],
    links: [FINDINGS],
  },
  {
    fits: /^\/courses\/\d+\/hand-ins\/\d+/,
    title: "Hand-in",
    sentences: [
      "The first sentence is what matters most; the stages below it say how far the design got.",
      "The row cursor is one for table, map, source, drawing and board: move it anywhere, and all follow.",
      "Lines with an amber edge decide the level on the row you look at.",
      "A near miss names the one change with which the design would pass.",
      "What is right is shown to have been tried or proved, and says so.",
    ],
    links: [FINDINGS],
  },
  {
    fits: /^\/help\/findings/,
    title: "Findings",
    sentences: [
      "Every kind of finding stands here with what it means and what to do.",
      "Most have a wrong and a right example in both languages.",
      "Search by a word of the sentence you were shown, or by its code.",
      "What stops a check, what costs marks and what is only worth knowing is said at each.",
      "Codes stay the same from version to version.",
    ],
    links: [],
  },
];

const ELSEWHERE: PageHelp = {
  title: "Zesty Gate",
  sentences: [
    "An instructor sets lab exercises, and every hand-in is checked against what is expected.",
    "Courses are chosen on the first page.",
    "Your account holds your password and the places where you are signed in.",
    "Ctrl+K lists everything that can be done from where you are.",
    "The question mark explains the page you are on.",
  ],
  links: [FINDINGS],
};

/** The help of an address. */
export function helpFor(path: string): PageHelp {
  return PAGES.find((p) => p.fits.test(path)) ?? ELSEWHERE;
}
