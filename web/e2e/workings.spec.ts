/** The workings page: live derivation, editing by keyboard, saving, taking elsewhere, paper. */
import { expect, test } from "@playwright/test";
import { expectNoFaults, seriousFaults, watchFaults } from "./helpers";
import { packhouse } from "./world";

watchFaults();

const course = packhouse({ exercises: ["hopper-interlock", "weight-grader", "lane-letter"] });

const GRADER = () => course.exercise("weight-grader", "/workings");

test("the row cursor is one for table, map, terms and address", async ({ page }) => {
  await course.signIn(page, "ines");
  await page.goto(`${GRADER()}?row=0101`);
  const table = page.getByRole("grid", { name: "Truth table" });
  await expect(table.getByRole("row", { name: /^5 / })).toHaveAttribute("aria-selected", "true");
  const map = page.getByRole("application", { name: /Karnaugh map/ });
  await expect(map).toHaveAccessibleName(/row 5 \(0101\) is 0/);
  await map.focus();
  await page.keyboard.press("ArrowUp");
  await expect(page).toHaveURL(/row=0001/);
  await expect(table.getByRole("row", { name: /^1 / })).toHaveAttribute("aria-selected", "true");
  await expect(map).toHaveAccessibleName(/row 1 \(0001\) is 1/);
  expect(await seriousFaults(page)).toEqual([]);
  expectNoFaults();
});

test("what is typed is worked out at once, and a fault is told at its field while the text stays", async ({
  page,
}) => {
  await course.signIn(page, "ines");
  await page.goto(course.course());
  await page.getByRole("button", { name: "New exercise" }).click();
  const field = page.getByLabel("f =");
  await field.fill("a'b + a b'");
  await expect(page.getByText("With exclusive OR")).toBeVisible();
  await field.fill("a + (b");
  await expect(page.getByRole("alert")).toContainText("column 5: This ( is never closed.");
  await expect(field).toHaveValue("a + (b");
  await expect(page.getByText("Not saved until the fault is corrected")).toBeVisible();
  await field.fill("a + b");
  await expect(page.getByText("Workings · saved")).toBeVisible();
  await page.getByLabel("Name of port 1").fill("brim");
  await expect(field).toHaveValue("brim + b");
  await expect(page.getByText("Workings · saved")).toBeVisible();
  await page.reload();
  await expect(page.getByLabel("f =")).toHaveValue("brim + b");
  expectNoFaults();
});

test("cells of table and map are set by keyboard and change the behaviour", async ({ page }) => {
  await course.signIn(page, "ines");
  await page.goto(course.course());
  await page.getByRole("button", { name: "New exercise" }).click();
  const table = page.getByRole("grid", { name: "Truth table" });
  await table.focus();
  await page.keyboard.press("End");
  await page.keyboard.press("-");
  await expect(page.getByLabel("f don't-cares")).toHaveValue("3");
  await expect(page.getByLabel("f = Σm")).toHaveValue("");
  const map = page.getByRole("application", { name: /Karnaugh map/ });
  await map.focus();
  await page.keyboard.press("ArrowLeft");
  await page.keyboard.press("1");
  await expect(page.getByLabel("f = Σm")).toHaveValue("2");
  await expect(page.getByText("1 term, 1 literal, proved minimal").first()).toBeVisible();
});

test("keys faster than the answers lose nothing, and leaving the page at once saves", async ({ page }) => {
  await course.signIn(page, "ines");
  await page.goto(course.course());
  await page.getByRole("button", { name: "New exercise" }).click();
  const table = page.getByRole("grid", { name: "Truth table" });
  await expect(table).toBeVisible();
  await page.route(`**/api${course.course()}/workings`, async (route) => {
    await new Promise((done) => setTimeout(done, 250));
    await route.continue();
  });
  await table.focus();
  for (const key of ["Home", "1", "End", "-", "Home", "ArrowDown", "1"]) await page.keyboard.press(key);
  const terms = page.getByLabel("f = Σm");
  await expect(terms).toHaveValue("0, 1");
  await expect(page.getByLabel("f don't-cares")).toHaveValue("3");
  await terms.fill("0, 2");
  await expect(page.getByText("Workings · Saving…")).toBeVisible();
  await page.getByRole("link", { name: "Pass sheet" }).click();
  await expect(page.getByRole("button", { name: "New exercise" })).toBeVisible();
  await page.goBack();
  await expect(terms).toHaveValue("0, 2");
  await expect(page.getByLabel("f don't-cares")).toHaveValue("3");
  expectNoFaults();
});

test("every change is undone and redone, by keyboard, also another kind of behaviour", async ({ page }) => {
  await course.signIn(page, "ines");
  await page.goto(course.course());
  await page.getByRole("button", { name: "New exercise" }).click();
  const title = page.getByRole("textbox", { name: "Title" });
  await title.fill("Rind sorter");
  await page.getByRole("radio", { name: "Minterms" }).click();
  await page.getByLabel("f = Σm").fill("1, 2");
  await expect(page.getByText("2 terms, 4 literals, proved minimal").first()).toBeVisible();
  await page.getByRole("radio", { name: "Table", exact: true }).click();
  await expect(page.getByLabel("Rows")).toHaveValue(/01 \| 1/);
  await page.getByRole("radio", { name: "States" }).click();
  await page.keyboard.press("Control+z");
  await expect(page.getByLabel("Rows")).toBeVisible();
  await page.keyboard.press("Control+z");
  await expect(page.getByLabel("f = Σm")).toHaveValue("1, 2");
  await page.keyboard.press("Control+z");
  await expect(page.getByLabel("f = Σm")).toHaveValue("3");
  await page.keyboard.press("Control+z");
  await expect(page.getByLabel("f =", { exact: true })).toBeVisible();
  await title.focus();
  await page.keyboard.press("Control+z");
  await expect(title).not.toHaveValue("Rind sorter");
  for (let k = 0; k < 4; k++) await page.keyboard.press("Control+Shift+Z");
  await expect(title).toHaveValue("Rind sorter");
  await expect(page.getByLabel("Rows")).toHaveValue(/01 \| 1/);
  await expect(page.getByText("Workings · saved")).toBeVisible();
  // A rule says what it looks at and what breaks it.
  await page.getByLabel("Not allowed").selectOption("construct:case");
  await page.getByText("What these rules mean").click();
  await expect(page.getByText("A case statement, in either language.")).toBeVisible();
  await expect(page.locator("pre").filter({ hasText: "endcase" })).toBeVisible();
  expect(await seriousFaults(page)).toEqual([]);
  expectNoFaults();
});

test("a table from a spreadsheet brings signals and rows", async ({ page }) => {
  await course.signIn(page, "ines");
  await page.goto(course.course());
  await page.getByRole("button", { name: "New exercise" }).click();
  await page.getByRole("button", { name: "Paste a table" }).click();
  const text = page.getByLabel("Table", { exact: true });
  await text.fill("x\ty\ts\n0\t0\t7");
  await page.getByRole("button", { name: "Take it" }).click();
  await expect(page.getByRole("dialog").getByRole("alert")).toContainText("7 is not 0, 1 or -");
  // It stays until the text is corrected.
  await page.waitForTimeout(500);
  await expect(page.getByRole("dialog").getByRole("alert")).toContainText("7 is not 0, 1 or -");
  await text.fill(
    "x\ty\tcin\ts\tcarry\n0\t0\t0\t0\t0\n0\t0\t1\t1\t0\n0\t1\t0\t1\t0\n0\t1\t1\t0\t1\n1\t0\t0\t1\t0\n1\t0\t1\t0\t1\n1\t1\t0\t0\t1\n1\t1\t1\t1\t1",
  );
  await page.getByRole("button", { name: "Take it" }).click();
  await page.getByRole("button", { name: "Close" }).click();
  await expect(page.getByLabel("Name of port 3")).toHaveValue("cin");
  await page.getByRole("radio", { name: "carry" }).click();
  await expect(page.getByText("3 terms, 6 literals, proved minimal").first()).toBeVisible();
  await page.getByLabel("Share products between the outputs").check();
  await expect(page.getByText(/7 different products/)).toBeVisible();
});

test("forms are copied as Verilog, and handout and key are pages for paper", async ({ page, context }) => {
  await context.grantPermissions(["clipboard-read", "clipboard-write"]);
  await course.signIn(page, "ines");
  await page.goto(course.exercise("hopper-interlock", "/workings"));
  await page.getByRole("button", { name: "Copy as Verilog" }).click();
  await expect(page.getByText("copied")).toBeVisible();
  expect(await page.evaluate(() => navigator.clipboard.readText())).toContain(
    "assign motor = ~full & ~gate & run;",
  );
  await page.getByRole("link", { name: "Key" }).click();
  await expect(page.getByText("Minimal SOP").first()).toBeVisible();
  expect(await seriousFaults(page)).toEqual([]);
  await page.goto(course.exercise("hopper-interlock", "/handout"));
  await expect(page.getByRole("heading", { name: "Karnaugh maps and forms" })).toBeVisible();
  await expect(page.getByText("motor as a minimal sum of products")).toBeVisible();
  expect(await seriousFaults(page)).toEqual([]);
  expectNoFaults();
});

test("a student types prepared answers in and sees how they were marked, but not the workings", async ({
  page,
}) => {
  await course.signIn(page, "abel");
  await page.goto(course.exercise("lane-letter"));
  await expect(page.getByRole("link", { name: "Workings" })).toHaveCount(0);
  await page.getByRole("button", { name: "Hand in" }).click();
  const design = "module m(input [2:0] lane, output [6:0] seg); assign seg = 0; endmodule\n";
  await page
    .getByLabel(/Design files/)
    .setInputFiles([{ name: "m.v", mimeType: "text/plain", buffer: Buffer.from(design) }]);
  await page.getByLabel("seg[6]: column of the truth table, 0 and 1 from row 0 on").fill("00001110");
  await page.getByLabel("seg[6]: sum of products").fill("lane[2] lane[0]'");
  await page.getByRole("dialog").getByRole("button", { name: "Hand in" }).click();
  await expect(page.getByRole("heading", { name: "Prepared answers" })).toBeVisible();
  await expect(page.getByText("1 of 7 marks")).toBeVisible();
  await page.goto(course.exercise("lane-letter", "/workings"));
  await expect(page.getByRole("alert")).toContainText("Not allowed");
});

test("the workings fit a phone", async ({ page }) => {
  await page.setViewportSize({ width: 390, height: 844 });
  await course.signIn(page, "ines");
  await page.goto(GRADER());
  await expect(page.getByRole("heading", { name: "Costs" })).toBeVisible();
  const wide = await page.evaluate(() => document.documentElement.scrollWidth - window.innerWidth);
  expect(wide).toBeLessThanOrEqual(0);
});
