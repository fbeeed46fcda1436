/** The scratch pad and the help about findings, on the real server with demo data. */
import { expect, type Page, test } from "@playwright/test";
import { expectNoFaults, seriousFaults, watchFaults } from "./helpers";
import { packhouse } from "./world";

watchFaults();

const course = packhouse({
  exercises: ["hopper-interlock", "lane-letter"],
  handIns: {
    semicolon: { exercise: "hopper-interlock", student: "casimir", design: "semicolon.v" },
  },
});

const HEAD =
  "module hopper_interlock (input full, input gate, input run, output motor, output [1:0] stops);\n";

/** Replaces the text of the pad. */
async function write(page: Page, text: string): Promise<void> {
  await page.getByRole("textbox", { name: /^Text of/ }).click();
  await page.keyboard.press("Control+A");
  await page.keyboard.insertText(text);
}

function headline(page: Page) {
  return page.locator("#pad-findings");
}

test("a text is checked as it is typed, a fix is applied, and the result handed in", async ({ page }) => {
  await course.signIn(page, "abel");
  await page.goto(course.exercise("hopper-interlock", "/pad"));
  await expect(page.getByRole("textbox", { name: "Text of hopper_interlock.v" })).toContainText(
    "input  wire full",
  );
  await expect(headline(page)).toContainText("Nothing drives");
  await write(page, `${HEAD}assign motor = run & ~full & ~gate;\nassign stops = full + gate\nendmodule\n`);
  await expect(headline(page)).toContainText("; is missing at the end of this line");
  await page.getByRole("button", { name: "Apply" }).click();
  await expect(page.getByRole("textbox", { name: /^Text of/ })).toContainText("full + gate;");
  await expect(page.getByText("8 of 8 rows right")).toBeVisible();
  await expect(page.getByText("Nothing to put right.")).toBeVisible();
  // The browser remembers it.
  await page.reload();
  await expect(page.getByText("8 of 8 rows right")).toBeVisible();
  await page.getByRole("button", { name: "Hand in as a new attempt" }).click();
  await expect(page).toHaveURL(/hand-ins\/\d+/);
  await expect(page.getByText("8 of 8 rows right, every row tried")).toBeVisible();
  expectNoFaults();
});

test("findings are stepped through by keyboard, across files", async ({ page }) => {
  await course.signIn(page, "abel");
  await page.goto(course.exercise("hopper-interlock", "/pad"));
  await write(page, `${HEAD}assign motor = ful;\nassign stops = gat;\nendmodule\n`);
  const first = page.getByRole("button", { name: /`?ful`? is not declared/ });
  await expect(first).toHaveAttribute("aria-pressed", "true");
  await page.keyboard.press("Alt+n");
  await expect(page.getByRole("button", { name: /gat is not declared/ })).toHaveAttribute(
    "aria-pressed",
    "true",
  );
  await page.keyboard.press("Alt+p");
  await expect(first).toHaveAttribute("aria-pressed", "true");
  await page.getByRole("button", { name: "Add a file" }).click();
  await page.getByLabel("Name of the new file").fill("part.vhd");
  await page.keyboard.press("Enter");
  await write(page, "entity part is\n");
  await page
    .getByRole("button", { name: /hopper_interlock\.v/ })
    .first()
    .click();
  await page.getByRole("button", { name: /part\.vhd:/ }).click();
  await expect(page.getByRole("textbox", { name: "Text of part.vhd" })).toBeVisible();
  expect(await seriousFaults(page)).toEqual([]);
  expectNoFaults();
});

test("an attempt's finding leads to a fix in a new attempt, the old one stays", async ({ page }) => {
  await course.signIn(page, "ines");
  await page.goto(course.handIn("semicolon"));
  await expect(page.getByRole("heading", { level: 1 })).toContainText("is missing at the end of this line");
  await page.getByRole("link", { name: "Use in a new attempt" }).click();
  await expect(page.getByText("Going on from attempt 1 of Casimir Tangelo")).toBeVisible();
  await expect(page.getByRole("textbox", { name: /^Text of/ })).toContainText("~full & ~gate;");
  await expect(page.getByText("8 of 8 rows right")).toBeVisible();
  expectNoFaults();
});

test("a design without a testbench is run over all combinations, and its waves are walked by keyboard", async ({
  page,
}) => {
  await course.signIn(page, "abel");
  await page.goto(course.exercise("hopper-interlock", "/pad"));
  await write(page, `${HEAD}assign motor = run & ~full & ~gate;\nassign stops = full + gate;\nendmodule\n`);
  await page.getByRole("button", { name: "Run", exact: true }).click();
  await expect(page.getByText(/^Ran hopper_interlock\./)).toBeVisible();
  const motor = page.getByRole("button", { name: /^motor/ });
  await expect(motor).toContainText("0");
  await motor.click();
  const waves = page.getByRole("slider", { name: "Time cursor over the waves" });
  await waves.focus();
  await page.keyboard.press("ArrowRight");
  await expect(waves).toHaveAttribute("aria-valuetext", "20 ns");
  await expect(motor).toContainText("1");
  await page.keyboard.press("ArrowRight");
  await expect(waves).toHaveAttribute("aria-valuetext", "40 ns");
  await expect(motor).toContainText("0");
  expect(await seriousFaults(page)).toEqual([]);
  expectNoFaults();
});

test("a testbench is run, its output stands beside it, and one without an end is stopped", async ({
  page,
}) => {
  await course.signIn(page, "abel");
  await page.goto(course.exercise("hopper-interlock", "/pad"));
  await write(
    page,
    'module t; reg [3:0] n = 0; initial begin repeat (3) #5 n = n + 1; $display("n is %0d", n); $finish; end endmodule\n',
  );
  await page.getByRole("button", { name: "Run", exact: true }).click();
  await expect(page.getByText("n is 3")).toBeVisible();
  await expect(page.getByText("The testbench ended it.")).toBeVisible();
  await write(page, "module t; initial forever begin end endmodule\n");
  await page.getByRole("button", { name: "Run", exact: true }).click();
  await expect(page.getByText("It was stopped.")).toBeVisible();
  await expect(page.getByText("runs on and on without waiting")).toBeVisible();
  expectNoFaults();
});

test("every kind of finding is in the help, searchable, and reached from a finding", async ({ page }) => {
  await course.signIn(page, "ines");
  await page.getByRole("link", { name: "Findings", exact: true }).click();
  await page.getByLabel("Search").fill("latch always");
  await expect(page.locator("summary")).toHaveCount(1);
  await expect(page.locator("summary")).toContainText("inferred-latch");
  await expect(page.getByText("if (a) y = b; else y = 0;")).toBeVisible();
  await page.getByLabel("Search").fill("no such thing at all");
  await expect(page.getByText("No such finding")).toBeVisible();
  await page.getByLabel("Search").fill("");
  expect(await seriousFaults(page)).toEqual([]);
  await page.goto(course.handIn("semicolon"));
  await page.getByRole("link", { name: "More about this kind of finding" }).click();
  await expect(page.locator("summary")).toContainText("missing-semicolon");
  expectNoFaults();
});

test("answers and wiring are typed on the pad, read and not judged, and go in with the design", async ({
  page,
}) => {
  await course.signIn(page, "vesna");
  await page.goto(course.exercise("lane-letter", "/pad"));
  const column = page.getByLabel("seg[6]: column of the truth table");
  await column.fill("01x");
  await expect(page.getByText("it has 3 cells where the table has 8 rows")).toBeVisible();
  // It is wrong, which is said when it is handed in and not before.
  await column.fill("00000000");
  await expect(page.getByText("it has 3 cells")).toBeHidden();
  await expect(column).toHaveAttribute("aria-invalid", "false");
  await page.reload();
  await expect(column).toHaveValue("00000000");
  await expect(page.getByText("1 of 4 prepared answers")).toBeVisible();
  await page.getByRole("button", { name: "Hand in as a new attempt" }).click();
  await expect(page.getByText("is wrong on", { exact: false }).first()).toBeVisible();
  // Taking it up again brings the answers along.
  const attempt = page.url().split("/").at(-1);
  await page.goto(`${course.exercise("lane-letter", "/pad")}?from=${attempt}`);
  await expect(column).toHaveValue("00000000");
  await page.goto(course.exercise("hopper-interlock", "/pad"));
  await page.locator("summary").filter({ hasText: "Wiring" }).click();
  await page.getByRole("button", { name: "As the plan says" }).click();
  await expect(page.getByLabel("Part of run")).toHaveValue("S0");
  await page.getByLabel("Part of run").selectOption("S3");
  await expect(page.getByText("hopper_interlock.v; wiring.csv")).toBeVisible();
  await expect(page.getByRole("list", { name: "Stages" })).toContainText("Wiring");
  expect(await seriousFaults(page)).toEqual([]);
  expectNoFaults();
});

test("what was on the pad is put aside for an attempt, and comes back; beginning anew is undone", async ({
  page,
}) => {
  await course.signIn(page, "casimir");
  const pad = course.exercise("hopper-interlock", "/pad");
  await page.goto(pad);
  await write(page, `${HEAD}// half done\nendmodule\n`);
  await page.goto(`${pad}?from=${course.handIn("semicolon").split("/").at(-1)}`);
  const text = page.getByRole("textbox", { name: /^Text of/ });
  await expect(text).toContainText("~full & ~gate");
  await write(page, `${HEAD}// typed since\nendmodule\n`);
  await page.reload();
  await expect(text).toContainText("typed since");
  await page.getByRole("button", { name: "Bring it back" }).click();
  await expect(text).toContainText("half done");
  await page.getByRole("button", { name: "Begin anew in VHDL" }).click();
  await page.getByRole("dialog").getByRole("button", { name: "Begin anew in VHDL" }).click();
  await expect(text).toContainText("entity");
  await page.getByRole("button", { name: "Undo" }).last().click();
  await expect(text).toContainText("half done");
  expectNoFaults();
});

test("the pad works at the width of a telephone", async ({ page }) => {
  await page.setViewportSize({ width: 390, height: 844 });
  await course.signIn(page, "abel");
  await page.goto(course.exercise("hopper-interlock", "/pad"));
  await expect(page.getByRole("textbox", { name: /^Text of/ })).toBeVisible();
  const wide = await page.evaluate(() => document.documentElement.scrollWidth > window.innerWidth);
  expect(wide).toBe(false);
});
