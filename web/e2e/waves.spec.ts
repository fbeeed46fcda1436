/** Waves of hand-ins and of what is expected, on the real server with demo data. */
import { expect, test } from "@playwright/test";
import { expectNoFaults, seriousFaults, watchFaults } from "./helpers";
import { packhouse } from "./world";

watchFaults();

const course = packhouse({
  exercises: ["hopper-interlock", "crate-counter"],
  handIns: {
    early: {
      exercise: "crate-counter",
      student: "otis",
      design: "stops_early.v",
      wiring: "wiring_right.csv",
    },
    right: { exercise: "crate-counter", student: "vesna", design: "counter.v", wiring: "wiring_right.csv" },
    own: { exercise: "crate-counter", student: "abel", design: "counter.v", wiring: "wiring_right.csv" },
    hopper: { exercise: "hopper-interlock", student: "abel", design: "plain.v", wiring: "wiring_right.csv" },
  },
});

const CURSOR = { name: "Time cursor over the waves" };

test("a hand-in's waves open on the first difference from what is expected", async ({ page }) => {
  await course.signIn(page, "ines");
  // A crate counter that begins anew one crate early.
  await page.goto(course.handIn("early"));
  await page.getByRole("button", { name: "Show", exact: true }).click();
  await expect(page.getByText("count, full differ from what is expected.")).toBeVisible();
  const waves = page.getByRole("slider", CURSOR);
  await expect(waves).toHaveAttribute("aria-valuetext", "430 ns");
  await expect(page.getByRole("button", { name: /^count \S+$/ })).toContainText("0");
  await expect(page.getByRole("button", { name: /^expected count/ })).toContainText("10");
  await page.getByRole("button", { name: "Next difference" }).click();
  await expect(waves).toHaveAttribute("aria-valuetext", "470 ns");
  expect(await seriousFaults(page)).toEqual([]);
  expectNoFaults();
});

test("lanes are moved by keyboard, split, measured and kept with the exercise", async ({ page }) => {
  await course.signIn(page, "ines");
  await page.goto(course.handIn("right"));
  await page.getByRole("button", { name: "Show", exact: true }).click();
  await expect(page.getByText("Nothing differs from what is expected.")).toBeVisible();
  const names = page.locator("li[draggable] button");
  await expect(names.first()).toContainText("clk");
  await names.first().focus();
  await page.keyboard.press("Alt+ArrowDown");
  await expect(names.first()).toContainText("rst");
  await page.getByRole("button", { name: /^clk/ }).click();
  await expect(page.getByText(/period 20 ns, 50 MHz, high 50 %/)).toBeVisible();
  await page.getByRole("button", { name: /^count \S+$/ }).click();
  const keeps = () =>
    page.waitForResponse((r) => r.request().method() === "PUT" && r.url().endsWith("/waves"));
  let kept = keeps();
  await page.getByRole("button", { name: "Split" }).click();
  await page.getByRole("button", { name: "Mark 1" }).click();
  await expect(page.getByRole("button", { name: /^count\.3/ })).toBeVisible();
  expect((await kept).status()).toBe(204);
  // Another hand-in of the same exercise shows them alike.
  await page.goto(course.handIn("early"));
  await page.getByRole("button", { name: "Show", exact: true }).click();
  await expect(page.getByRole("button", { name: /^count\.3/ })).toBeVisible();
  await page.getByText(/^Values at/).click();
  await expect(page.getByRole("cell", { name: "count.3" })).toBeVisible();
  await expect(page.getByText(/^mark 1/)).toBeVisible();
  kept = keeps();
  await page.getByRole("button", { name: "Clear marks" }).click();
  expect((await kept).status()).toBe(204);
  expectNoFaults();
});

test("a stimulus is typed, drawn, kept with the exercise and used by the next run", async ({ page }) => {
  await course.signIn(page, "ines");
  await page.goto(course.exercise("hopper-interlock"));
  await page.getByRole("button", { name: "Show", exact: true }).click();
  await page.getByRole("button", { name: "Stimulus" }).click();
  await page.getByLabel("What run does").selectOption("pattern");
  await page.getByLabel("pattern of run").fill("0 1 7");
  await page.getByRole("button", { name: "Run again" }).click();
  await expect(page.getByText("7 doesn't fit into 1 bit")).toBeVisible();
  await page.getByLabel("pattern of run").fill("1");
  await page.getByRole("button", { name: "Run again" }).click();
  await expect(page.getByText("7 doesn't fit into 1 bit")).toHaveCount(0);
  await page.getByRole("button", { name: "Draw edges" }).click();
  const waves = page.getByRole("slider", CURSOR);
  const box = await waves.boundingBox();
  await waves.click({ position: { x: (box?.width ?? 0) * 0.3, y: 100 } });
  await expect(page.getByLabel("edges of run")).toHaveValue(/^0=1 \d+=0 \d+=1$/);
  await page.getByRole("button", { name: "Keep with the exercise" }).click();
  await expect(page.getByText("kept", { exact: true })).toBeVisible();
  await page.reload();
  await page.getByRole("button", { name: "Show", exact: true }).click();
  await page.getByRole("button", { name: "Stimulus" }).click();
  await expect(page.getByLabel("edges of run")).toHaveValue(/^0=1/);
  await page.getByRole("button", { name: "Forget the kept one" }).click();
  await expect(page.getByText(/^forgotten/)).toBeVisible();
  expect(await seriousFaults(page)).toEqual([]);
  expectNoFaults();
});

test("a student sees the own waves without what is expected", async ({ page }) => {
  await course.signIn(page, "abel");
  await page.goto(course.handIn("own"));
  await page.getByRole("button", { name: "Show", exact: true }).click();
  await expect(page.getByRole("button", { name: /^full \S+$/ })).toBeVisible();
  await expect(page.getByRole("button", { name: /^expected/ })).toHaveCount(0);
});

test("waves fit a telephone", async ({ page }) => {
  await page.setViewportSize({ width: 390, height: 844 });
  await course.signIn(page, "ines");
  await page.goto(course.handIn("early"));
  await page.getByRole("button", { name: "Show", exact: true }).click();
  await expect(page.getByRole("slider", CURSOR)).toBeVisible();
  expect(await page.evaluate(() => document.documentElement.scrollWidth > window.innerWidth)).toBe(false);
});

test("the tools read a waveform file by the window and work out a divider", async ({ page }) => {
  await course.signIn(page, "ines");
  await page.goto(course.course());
  await page.getByRole("link", { name: "Tools" }).click();
  // Common practice: F / (2 f) - 1.
  await page.getByLabel("Clock in Hz").fill("100 000 000");
  await expect(page.getByRole("cell", { name: "49,999,999", exact: true })).toBeVisible();
  await page.getByLabel("Wanted in Hz").fill("fast");
  await expect(page.getByRole("alert")).toContainText("as a number, such as 0.5");
  await page.getByLabel("Wanted in Hz").fill("200000000");
  await expect(page.getByText(/can't be divided down/)).toBeVisible();
  const head = "$timescale 1 ns $end\n$scope module lane $end\n$var wire 1 ! clk $end\n";
  let text = `${head}$var wire 8 # crates $end\n$upscope $end\n$enddefinitions $end\n#0\n0!\nb0 #\n`;
  for (let i = 1; i < 40_000; i++)
    text += `#${i * 5}\n${i % 2}!\n${i % 40 === 0 ? `b${(i / 40).toString(2)} #\n` : ""}`;
  const file = page.locator("input[type=file]");
  await file.setInputFiles({ name: "lane.vcd", mimeType: "text/plain", buffer: Buffer.from(text) });
  await expect(page.getByText("2 signals, 41,000 changes")).toBeVisible();
  const waves = page.getByRole("slider", CURSOR);
  await page.getByRole("button", { name: /^crates/ }).click();
  await waves.focus();
  for (let i = 0; i < 3; i++) await page.keyboard.press("ArrowRight");
  await expect(waves).toHaveAttribute("aria-valuetext", "600 ns");
  await page.keyboard.press("+");
  await expect(page.getByRole("button", { name: /^crates 3$/ })).toBeVisible();
  await file.setInputFiles({ name: "x.vcd", mimeType: "text/plain", buffer: Buffer.from("hello") });
  await expect(page.getByText(/this is no value change dump/)).toBeVisible();
  expect(await seriousFaults(page)).toEqual([]);
  expectNoFaults();
});

test("a report holds verdict, waves and sources", async ({ page }) => {
  await course.signIn(page, "ines");
  await page.goto(course.handIn("early"));
  await page.getByRole("link", { name: "Report" }).click();
  await expect(page.getByText("Report: Otis Marmalade")).toBeVisible();
  await expect(page.getByAltText(/where they differ is hatched/)).toBeVisible();
  await expect(page.getByRole("heading", { name: "stops_early.v" })).toBeVisible();
  expect(await seriousFaults(page)).toEqual([]);
  await page.goto(course.exercise("hopper-interlock", "/key"));
  await expect(page.getByAltText("Inputs and expected outputs over time")).toBeVisible();
  expectNoFaults();
});

test("the rows to try are walked at the bench", async ({ page }) => {
  await course.signIn(page, "ines");
  await page.goto(course.handIn("hopper"));
  await page.getByRole("button", { name: "Rows to try" }).click();
  await expect(page.getByText(/rows show each of \d+ faults of the circuit and its wires/)).toBeVisible();
  const rows = page.getByRole("region", { name: "Rows to try" }).getByRole("listitem");
  await rows.nth(1).getByRole("button").click();
  const second = await rows.nth(1).innerText();
  await expect(page).toHaveURL(new RegExp(`row=${second}`));
  await page.getByRole("button", { name: "Next one" }).click();
  await expect(page).toHaveURL(new RegExp(`row=${await rows.nth(2).innerText()}`));
  expect(await seriousFaults(page)).toEqual([]);
  expectNoFaults();
});

test("a run without an end is let go at once", async ({ page }) => {
  await course.signIn(page, "ines");
  await page.goto(course.exercise("hopper-interlock", "/pad"));
  await page.getByRole("textbox", { name: /^Text of/ }).click();
  await page.keyboard.press("Control+A");
  await page.keyboard.insertText("`timescale 1ns/1ps\nmodule t;\nreg c = 0;\nalways #1 c = ~c;\nendmodule\n");
  await page.getByRole("button", { name: "Run", exact: true }).click();
  await page.getByRole("button", { name: "Stop", exact: true }).click();
  await expect(page.getByRole("button", { name: "Run", exact: true })).toBeEnabled({ timeout: 1_500 });
  expectNoFaults();
});
