/** The application in a browser, on the real server with demo data: the whole job by mouse and by keyboard. */
import { readFile } from "node:fs/promises";
import { join } from "node:path";
import { crc32 } from "node:zlib";
import { expect, test } from "@playwright/test";
import { expectNoFaults, seriousFaults, watchFaults } from "./helpers";
import { packhouse } from "./world";

const DESIGN = `module lab(input full, gate, run, output motor, output [1:0] stops);
  assign motor = run & ~full & ~gate;
  assign stops[1] = full & gate;
  assign stops[0] = full | gate;
endmodule
`;
const WIRING = "port,part\nfull,S7\ngate,S6\nrun,S0\nmotor,H7\nstops[1],H1\nstops[0],H0\n";

/** A zip of stored files (APPNOTE.TXT of PKWARE, sections 4.3.7, 4.3.12 and 4.3.16, from memory). */
function stored(files: Record<string, Buffer>): Buffer {
  const [bodies, entries]: [Buffer[], Buffer[]] = [[], []];
  let offset = 0;
  for (const [name, data] of Object.entries(files)) {
    const common = Buffer.alloc(26);
    common.writeUInt16LE(20, 0);
    common.writeUInt32LE(crc32(data), 10);
    common.writeUInt32LE(data.length, 14);
    common.writeUInt32LE(data.length, 18);
    common.writeUInt16LE(name.length, 22);
    const body = Buffer.concat([Buffer.from("PK\x03\x04"), common, Buffer.from(name), data]);
    const rest = Buffer.alloc(14);
    rest.writeUInt32LE(offset, 10);
    entries.push(Buffer.concat([Buffer.from("PK\x01\x02\x14\x00"), common, rest, Buffer.from(name)]));
    bodies.push(body);
    offset += body.length;
  }
  const end = Buffer.alloc(18);
  end.writeUInt16LE(entries.length, 4);
  end.writeUInt16LE(entries.length, 6);
  end.writeUInt32LE(Buffer.concat(entries).length, 8);
  end.writeUInt32LE(offset, 12);
  return Buffer.concat([...bodies, ...entries, Buffer.from("PK\x05\x06"), end]);
}

watchFaults();

const course = packhouse({
  exercises: ["hopper-interlock", "weight-grader", "gray-turntable", "reject-gate"],
  handIns: {
    own: { exercise: "hopper-interlock", student: "abel", design: "plain.v", wiring: "wiring_right.csv" },
    wrong: {
      exercise: "hopper-interlock",
      student: "soren",
      design: "wrong_or.v",
      wiring: "wiring_right.csv",
    },
    vesna: { exercise: "hopper-interlock", student: "vesna", design: "gates.v", wiring: "wiring_right.csv" },
    gray: { exercise: "gray-turntable", student: "abel", design: "xor.v", wiring: "wiring_right.csv" },
    other: { exercise: "gray-turntable", student: "otis", design: "generate.v", wiring: "wiring_right.csv" },
    nands: { exercise: "reject-gate", student: "otis", design: "joined_wrong.v" },
  },
});

test("by mouse: hand in for a student, see the failing row, flip switches, sign off", async ({ page }) => {
  await course.signIn(page, "ines");
  await page.getByRole("link", { name: "Hopper interlock", exact: true }).click();
  await page.getByRole("row", { name: /^5 / }).click();
  await expect(page).toHaveURL(/row=101/);
  await expect(page.getByRole("switch", { name: /S7/ })).toBeChecked();
  await page.getByRole("button", { name: "Hand in" }).click();
  await page.getByLabel("Student").selectOption({ label: "Ximena Cratewood (Evening)" });
  await page.getByLabel(/Design files/).setInputFiles([
    { name: "lab.v", mimeType: "text/plain", buffer: Buffer.from(DESIGN) },
    { name: "wiring.csv", mimeType: "text/csv", buffer: Buffer.from(WIRING) },
  ]);
  await page.getByRole("dialog").getByRole("button", { name: "Hand in", exact: true }).click();
  await expect(page.getByRole("heading", { level: 1 })).toContainText("2 of 8 rows are wrong");
  // The row cursor stands on the evidence, the lamps show it.
  await expect(page).toHaveURL(/row=110/);
  await expect(page.getByRole("row", { name: /^6 / })).toHaveAttribute("aria-selected", "true");
  await expect(page.getByRole("img", { name: /H0/ })).toHaveAccessibleName(/: lit$/);
  // Flipping a switch moves the cursor, and the lamps follow the student's design.
  await page.getByRole("switch", { name: /S6/ }).click();
  await expect(page).toHaveURL(/row=100/);
  await page.getByRole("switch", { name: /S7/ }).click();
  await page.getByRole("switch", { name: /S0/ }).click();
  await expect(page).toHaveURL(/row=001/);
  await expect(page.getByRole("img", { name: /H7/ })).toHaveAccessibleName(/: lit$/);
  await page.getByRole("button", { name: "Sign off" }).click();
  await expect(page.getByText("signed off by Ines Quillaby")).toBeVisible();
  await page.getByRole("link", { name: "Pass sheet" }).click();
  await page.getByLabel("Find a student").fill("Ximena");
  await expect(
    page.getByRole("link", { name: "Ximena Cratewood, Hopper interlock: partly, 6 of 8 right, signed off" }),
  ).toBeVisible();
  expectNoFaults();
});

test("by keyboard: from the pass sheet to a verdict, its findings, its rows and the switches", async ({
  page,
}) => {
  await course.signIn(page, "rowan");
  await page.getByRole("link", { name: /^Vesna Blossomir, Hopper/ }).focus();
  // Down to Soren Grapevale, who has a partly right design: people stand by their family names.
  for (let i = 0; i < 2; i++) await page.keyboard.press("ArrowDown");
  await expect(page.getByRole("link", { name: /^Soren Grapevale, Hopper/ })).toBeFocused();
  await page.keyboard.press("Enter");
  await expect(page.getByRole("heading", { level: 1 })).toContainText("2 of 8 rows are wrong");
  await page.getByRole("grid").focus();
  await page.keyboard.press("End");
  await expect(page).toHaveURL(/row=111/);
  await page.keyboard.press("ArrowUp");
  await expect(page).toHaveURL(/row=110/);
  await page.getByRole("switch", { name: /S7/ }).focus();
  await page.keyboard.press("Space");
  await expect(page).toHaveURL(/row=010/);
  expectNoFaults();
});

test("a switch is flipped from where the row cursor went, however late the bench answers", async ({
  page,
}) => {
  await course.signIn(page, "ines");
  await page.goto(course.handIn("wrong", "?row=011"));
  await expect(page.getByRole("switch", { name: /S7/ })).toBeVisible();
  await page.route("**/bench*", async (route) => {
    await new Promise((resolve) => setTimeout(resolve, 600));
    await route.continue();
  });
  await page.getByRole("grid").focus();
  await page.keyboard.press("End");
  await page.keyboard.press("ArrowUp");
  await expect(page).toHaveURL(/row=110/);
  await page.getByRole("switch", { name: /S7/ }).focus();
  await page.keyboard.press("Space");
  await expect(page).toHaveURL(/row=010/);
  expectNoFaults();
});

test("a wrong row says what it should be and why, in table, map and source alike", async ({ page }) => {
  await course.signIn(page, "ines");
  await page.goto(course.handIn("wrong", "?row=011"));
  await expect(page.getByText("8.25 of 10 marks")).toBeVisible();
  // Wrong rows stand first.
  await expect(page.getByRole("grid").getByRole("row").nth(1)).toContainText("3");
  const classes = page.getByRole("list", { name: "Row 3" });
  await expect(classes).toContainText(/motor should be 0: no product covers it — but it is 1/);
  await expect(classes).toContainText(/stops.0. should be 1: covered by full' gate/);
  await expect(page.getByText("Lines with an amber edge decide the level on that row.")).toBeVisible();
  await expect(page.locator(".zg-line-lit")).toHaveCount(2);
  // The map has the same cursor.
  await page.getByRole("application", { name: /^Map of motor, row 3/ }).focus();
  await page.keyboard.press("ArrowLeft");
  await expect(page).toHaveURL(/row=001/);
  await expect(page.getByRole("list", { name: "Row 1" })).toContainText(
    /motor should be 1: covered by full' gate' run/,
  );
  await page.getByLabel("Order of the rows").selectOption("count");
  await expect(page.getByRole("grid").getByRole("row").nth(1)).toContainText("0");
  expect(await seriousFaults(page)).toEqual([]);
  expectNoFaults();
});

test("a link reproduces the row that the sender saw", async ({ page }) => {
  await course.signIn(page, "ines");
  await page.goto(course.exercise("weight-grader", "?row=1001"));
  await expect(page.getByRole("row", { name: /^9 / })).toHaveAttribute("aria-selected", "true");
  await expect(page.getByText("Row 9:")).toContainText("heavy=1");
});

test("a held-down arrow key loses no row", async ({ page }) => {
  await course.signIn(page, "ines");
  await page.goto(course.exercise("weight-grader"));
  await page.getByRole("grid").focus();
  for (let i = 0; i < 11; i++) await page.keyboard.press("ArrowDown");
  await expect(page).toHaveURL(/row=1011/);
});

test("what can't be sent is said before it is sent, and what was chosen stays", async ({ page }) => {
  await course.signIn(page, "ines");
  await page.goto(course.exercise("hopper-interlock"));
  await page.getByRole("button", { name: "Hand in" }).click();
  const dialog = page.getByRole("dialog");
  await dialog.getByRole("button", { name: "Hand in", exact: true }).click();
  await expect(dialog.getByRole("alert")).toHaveText("Choose whose hand-in this is.");
  await dialog.getByLabel("Student").selectOption({ index: 1 });
  await dialog
    .getByLabel(/Design files/)
    .setInputFiles({ name: "huge.v", mimeType: "text/plain", buffer: Buffer.alloc(5 << 20, "x") });
  await dialog.getByRole("button", { name: "Hand in", exact: true }).click();
  await expect(dialog.getByRole("alert")).toContainText("5.0 MiB");
  await expect(dialog.getByText("huge.v")).toBeVisible();
});

test("a pasted design is a hand-in too", async ({ page }) => {
  await course.signIn(page, "abel");
  await page.goto(course.exercise("hopper-interlock"));
  await page.getByRole("button", { name: "Hand in" }).click();
  const dialog = page.getByRole("dialog");
  await dialog.getByLabel("Or paste one").fill(DESIGN.replace("full | gate", "full ^ gate"));
  await dialog.getByRole("button", { name: "Add the pasted text" }).click();
  await dialog.getByRole("button", { name: "Hand in", exact: true }).click();
  await expect(page.getByRole("heading", { level: 1 })).toHaveText("All 8 rows are right.");
  await expect(page.getByRole("button", { name: "Sign off" })).toHaveCount(0);
});

test("a draft is published with what it does said before, and a faulty one is refused with its line", async ({
  page,
}) => {
  await course.signIn(page, "ines");
  await page.goto(course.exercise("gray-turntable"));
  await page.getByRole("button", { name: "Exercise file" }).click();
  const file = page.getByRole("dialog").getByLabel("File", { exact: true });
  const text = await file.inputValue();
  await file.fill(text.replace('name = "pos"', 'name = "2pos"'));
  await page.getByRole("button", { name: "Save the draft" }).click();
  await expect(page.getByRole("alert")).toContainText("In the exercise file, line");
  // Words alone leave every verdict as it is.
  await file.fill(text.replace("# The turntable's", "# This turntable's"));
  await page.getByRole("button", { name: "Save the draft" }).click();
  await page.getByRole("button", { name: "Publish…" }).click();
  await expect(page.getByText("Only words change: every verdict stays as it is.")).toBeVisible();
  await page.getByRole("dialog").getByRole("button", { name: "Publish" }).click();
  await expect(page.getByText("Revision 2")).toBeVisible();
  await expect(page.getByText("passed, stale")).toHaveCount(0);
  // What is checked makes them stale, which is said before.
  await page.getByRole("button", { name: "Exercise file" }).click();
  await file.fill(text.replace('"pos[1] ^ pos[0]"', '"pos[1]"'));
  await page.getByRole("button", { name: "Save the draft" }).click();
  await page.getByRole("button", { name: "Publish…" }).click();
  await expect(page.getByText(/\d+ verdicts become stale/)).toBeVisible();
  await page.getByRole("dialog").getByRole("button", { name: "Publish" }).click();
  await expect(page.getByText("Revision 3")).toBeVisible();
  await expect(page.getByText("passed, stale").first()).toBeVisible();
});

for (const theme of ["light", "dark"]) {
  test(`no screen has a serious accessibility fault, ${theme}`, async ({ page }) => {
    test.setTimeout(180_000);
    await page.emulateMedia({ colorScheme: theme as "light" | "dark" });
    await page.goto("/");
    await expect(page.getByLabel("Name")).toBeVisible();
    expect(await seriousFaults(page)).toEqual([]);
    await course.signIn(page, "ines");
    expect(await seriousFaults(page)).toEqual([]);
    await page.getByRole("link", { name: /^Soren Grapevale, Hopper/ }).click();
    await expect(page.getByRole("switch", { name: /S7/ })).toBeVisible();
    expect(await seriousFaults(page)).toEqual([]);
    await page.goto(course.exercise("hopper-interlock"));
    await expect(page.getByRole("switch", { name: /S7/ })).toBeVisible();
    expect(await seriousFaults(page)).toEqual([]);
    await page.getByRole("button", { name: "Hand in" }).click();
    expect(await seriousFaults(page)).toEqual([]);
  });
}

test("at a phone's width nothing has to be scrolled sideways but tables and sources", async ({ page }) => {
  await page.setViewportSize({ width: 390, height: 844 });
  await course.signIn(page, "ines");
  for (const path of [course.course(), course.exercise("hopper-interlock"), course.handIn("own")]) {
    await page.goto(path);
    await expect(page.getByRole("grid").first()).toBeVisible();
    const wide = await page.evaluate(() => document.documentElement.scrollWidth - window.innerWidth);
    expect(wide, path).toBeLessThanOrEqual(0);
  }
});

test("without the server the page says so and keeps what was typed", async ({ page, context }) => {
  await page.goto("/");
  await page.getByLabel("Name").fill("ines");
  await page.getByLabel("Password").fill("lemon-peel");
  await context.setOffline(true);
  await page.getByRole("button", { name: "Sign in", exact: true }).click();
  await expect(page.getByRole("alert")).toContainText("can't be reached");
  await expect(page.getByLabel("Name")).toHaveValue("ines");
  await context.setOffline(false);
  await page.getByRole("button", { name: "Sign in", exact: true }).click();
  await expect(page.getByRole("grid", { name: "Pass sheet" })).toBeVisible();
});

test("an unknown hand-in and an unknown address are explained", async ({ page }) => {
  await course.signIn(page, "ines");
  await page.goto(`${course.course()}/hand-ins/99999`);
  await expect(page.getByRole("alert")).toContainText("doesn't exist");
  await page.goto("/nowhere");
  await expect(page.getByText("This page doesn't exist")).toBeVisible();
});

test("rules stand on the exercise, and a near miss shows the line before and after", async ({ page }) => {
  await course.signIn(page, "ines");
  await page.getByRole("link", { name: "Reject flap", exact: true }).click();
  await expect(page.getByText("is built from NAND gates only")).toBeVisible();
  await page.goto(course.course());
  await page.getByLabel("Find a student").fill("Otis Marmalade");
  await page.getByRole("link", { name: "Otis Marmalade, Reject flap" }).click();
  await expect(page.getByText("nand g3(keep, heavy, unripe);")).toBeVisible();
  // The first sentence is in sight, whatever line the finding has.
  await expect(page.getByRole("heading", { level: 1 })).toBeInViewport();
  expectNoFaults();
});

test("the structure follows the row, and a symbol leads to its line and its table", async ({ page }) => {
  await course.signIn(page, "ines");
  await page.goto(course.handIn("wrong", "?row=011"));
  const section = page.getByRole("region", { name: "Structure" });
  await expect(section.getByText("Row 011")).toBeVisible();
  await expect(section.getByText("motor, which is wrong here")).toBeVisible();
  await expect(section.getByRole("button", { name: "output motor, high" })).toBeVisible();
  // full = 1, gate = 1, run = 0: the motor rests, and that is right.
  await page.goto(course.handIn("wrong", "?row=110"));
  await expect(section.getByRole("button", { name: "output motor, low" })).toBeVisible();
  await expect(section.getByText("which is wrong here")).toHaveCount(0);
  await section.getByRole("button", { name: /^AND, line 3/ }).click();
  await expect(section.getByText("from wrong_or.v, line 3")).toBeVisible();
  // The arrow keys go on from there: to what the gate feeds.
  await page.keyboard.press("ArrowRight");
  await expect(section.getByText("from wrong_or.v, line 4")).toBeVisible();
  await section.getByRole("radio", { name: "As look-up tables" }).click();
  await section.getByRole("button", { name: /^look-up table LUT 1/ }).click();
  await expect(section.getByRole("table", { name: "Table of look-up table LUT 1" })).toBeVisible();
  await section.getByRole("combobox", { name: "drawn for" }).selectOption("stops[0]");
  await expect(section.getByRole("button", { name: /^output/ })).toHaveCount(1);
  expect(await seriousFaults(page)).toEqual([]);
  expectNoFaults();
});

test("a student sees the own structure, and not which outputs are wrong", async ({ page }) => {
  await course.signIn(page, "abel");
  await page.goto(course.course());
  await page.getByRole("listitem").filter({ hasText: "Hopper interlock" }).getByRole("link").nth(1).click();
  const section = page.getByRole("region", { name: "Structure" });
  await expect(section.getByRole("group", { name: "Drawing of the structure" })).toBeVisible();
  await expect(section.getByText("which is wrong here")).toHaveCount(0);
});

test("the head of the sheet is reached by the arrows, and going back finds the cell again", async ({
  page,
}) => {
  await course.signIn(page, "ines");
  const cell = page.getByRole("link", { name: /^Soren Grapevale, Hopper/ });
  await cell.focus();
  await page.keyboard.press("Enter");
  await expect(page.getByRole("heading", { level: 1 })).toContainText("2 of 8 rows are wrong");
  await page.goBack();
  await expect(cell).toBeFocused();
  // One tab stop: the heads are reached by the arrows.
  for (let i = 0; i < 5; i++) await page.keyboard.press("ArrowUp");
  await expect(page.getByRole("link", { name: "Hopper interlock", exact: true })).toBeFocused();
  await page.keyboard.press("ArrowRight");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("heading", { level: 1 })).toHaveText("Weight grader");
  expectNoFaults();
});

test("commands, keys and help are reached by keyboard from every page", async ({ page }) => {
  await course.signIn(page, "ines");
  await page.goto(course.exercise("hopper-interlock"));
  await expect(page.getByRole("heading", { level: 1 })).toHaveText("Hopper interlock");
  await page.keyboard.press("Control+k");
  await expect(page.getByPlaceholder("What do you want to do, or where to?")).toBeFocused();
  await page.keyboard.type("scratch");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("heading", { level: 1 })).toHaveText("Scratch pad");
  await page.goBack();
  await expect(page.getByRole("heading", { level: 1 })).toHaveText("Hopper interlock");
  await page.keyboard.press("?");
  await expect(page.getByRole("dialog")).toContainText("What this page is for.");
  await page.keyboard.press("Escape");
  await expect(page.getByRole("dialog")).toHaveCount(0);
  await page.keyboard.press("Control+/");
  await expect(page.getByRole("dialog")).toContainText("Keys on this page");
  expect(await seriousFaults(page)).toEqual([]);
  expectNoFaults();
});

test("staff decides otherwise with a reason, which the student reads, and withdraws it", async ({ page }) => {
  await course.signIn(page, "ines");
  await page.goto(course.handIn("wrong"));
  await page.getByRole("button", { name: "Decide otherwise" }).click();
  const dialog = page.getByRole("dialog");
  await expect(dialog.getByRole("button", { name: "Decide" })).toBeDisabled();
  await dialog.getByLabel("Reason").fill("Shown at the bench.");
  await dialog.getByRole("spinbutton", { name: /^Marks/ }).fill("7.5");
  expect(await seriousFaults(page)).toEqual([]);
  await dialog.getByRole("button", { name: "Decide" }).click();
  await expect(page.getByText("Ines Quillaby decided: it passes, 7.5 marks.")).toBeVisible();
  await expect(page.getByText("7.5 of 10 marks")).toBeVisible();
  await page.getByRole("button", { name: "Decide otherwise" }).click();
  await dialog.getByRole("button", { name: "Withdraw the decision" }).click();
  await expect(page.getByText("Ines Quillaby decided", { exact: false })).toBeHidden();
  expectNoFaults();
});

test("a zip of hand-ins says whose is what before anything is kept", async ({ page }) => {
  await course.signIn(page, "ines");
  await page.goto(course.exercise("weight-grader"));
  await page.getByRole("button", { name: "Many at once" }).click();
  const dialog = page.getByRole("dialog");
  const design = await readFile(join(import.meta.dirname, "../../demo/weight-grader/compare.v"));
  const zip = stored({
    "lab/casimir/compare.v": design,
    "lab/Vesna Blossomir_88/compare.v": design,
    "lab/notes.txt": design,
  });
  await dialog.getByLabel("Zip").setInputFiles({ name: "lab.zip", mimeType: "application/zip", buffer: zip });
  await expect(dialog.getByRole("row", { name: /Casimir Tangelo compare.v new, attempt 1/ })).toBeVisible();
  await expect(dialog.getByText("notes.txt")).toBeVisible();
  expect(await seriousFaults(page)).toEqual([]);
  await dialog.getByRole("button", { name: "Hand in for 2 students" }).click();
  await expect(dialog.getByRole("status")).toContainText("Handed in for 2 students.");
  await dialog.getByRole("button", { name: "Close" }).first().click();
  await expect(page.getByRole("link", { name: /Vesna Blossomir/ }).first()).toBeVisible();
  expectNoFaults();
});
