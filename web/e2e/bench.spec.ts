/** The bench in a browser: what is loaded on the board, its power, its ticks; and marks on the pass sheet. */
import { readFile } from "node:fs/promises";
import { expect, type Page, test } from "@playwright/test";
import { expectNoFaults, seriousFaults, watchFaults } from "./helpers";
import { packhouse } from "./world";

const COUNTER = `module crate_counter(input clk, rst, crate, output reg [3:0] count, output full);
  assign full = count == 11;
  always @(posedge clk) if (rst) count <= 0; else if (crate) count <= full ? 0 : count + 1;
endmodule
`;
const WIRING = `port,part
clk,G1
rst,S7
crate,S0
full,H7
count[3],H3
count[2],H2
count[1],H1
count[0],H0
`;

watchFaults();

const course = packhouse({
  exercises: ["hopper-interlock", "crate-counter", "belt-beacon"],
  handIns: {
    hopper: { exercise: "hopper-interlock", student: "abel", design: "plain.v", wiring: "wiring_right.csv" },
    beacon: { exercise: "belt-beacon", student: "vesna", design: "divider.v", wiring: "wiring.csv" },
  },
});

/** The lamps H3 to H0 and H7, as words. */
async function lamps(page: Page): Promise<string> {
  const words = ["H3", "H2", "H1", "H0", "H7"].map(async (label) => {
    const name = await page
      .getByRole("img", { name: new RegExp(`Lamp ${label},`) })
      .getAttribute("aria-label");
    return name?.replace(/^.*: /, "");
  });
  return (await Promise.all(words)).join(" ");
}

test("a counter ticks at the bench, and without power it is lost", async ({ page }) => {
  await course.signIn(page, "ines");
  await page.getByRole("link", { name: "Crate counter", exact: true }).click();
  await page.getByRole("button", { name: "Hand in" }).click();
  await page.getByLabel("Student").selectOption({ label: "Ximena Cratewood (Evening)" });
  await page.getByLabel(/Design files/).setInputFiles([
    { name: "counter.v", mimeType: "text/plain", buffer: Buffer.from(COUNTER) },
    { name: "wiring.csv", mimeType: "text/csv", buffer: Buffer.from(WIRING) },
  ]);
  await page.getByRole("dialog").getByRole("button", { name: "Hand in", exact: true }).click();
  await expect(page.getByRole("heading", { level: 1 })).toContainText("Right in every state it can reach");
  await expect(page.getByRole("heading", { name: "Bench" })).toBeVisible();
  // Before a reset nothing says what the flip-flops hold.
  await expect.poll(() => lamps(page)).toBe("unknown unknown unknown unknown unknown");
  const tick = page.getByRole("button", { name: "Tick", exact: true });
  await page.getByRole("switch", { name: /S7/ }).click();
  await tick.click();
  await expect.poll(() => lamps(page)).toBe("dark dark dark dark dark");
  await page.getByRole("switch", { name: /S7/ }).click();
  await page.getByRole("switch", { name: /S0/ }).click();
  // Faster than the answers: no tick is lost.
  for (let i = 0; i < 11; i++) await tick.click();
  await expect(page.getByText("12 ticks since loading")).toBeVisible();
  await expect.poll(() => lamps(page)).toBe("lit dark lit lit lit");
  await page.getByRole("button", { name: "10 ticks" }).click();
  await expect.poll(() => lamps(page)).toBe("lit dark dark lit dark");
  await page.getByRole("switch", { name: "Power" }).click();
  await expect.poll(() => lamps(page)).toBe("dark dark dark dark dark");
  const load = page.getByRole("button", { name: "Load image" });
  await load.click();
  await expect(page.getByText("The board has no power; switch it on, then load the image.")).toBeVisible();
  await page.getByRole("switch", { name: "Power" }).click();
  await expect(page.getByText("Nothing is loaded")).toBeVisible();
  await load.focus();
  await page.keyboard.press("Enter");
  await expect(page.getByText("is loaded:")).toBeVisible();
  await expect(page.getByText("0 ticks since loading")).toBeVisible();
  await expect.poll(() => lamps(page)).toBe("unknown unknown unknown unknown unknown");
  expect(await seriousFaults(page)).toEqual([]);
  expectNoFaults();
});

test("a beacon runs by the board's oscillator, fast or slowly, until it is paused", async ({ page }) => {
  await course.signIn(page, "ines");
  await page
    .getByRole("link", { name: /Belt beacon: passed/ })
    .first()
    .click();
  const ticks = async () => {
    const text = await page.getByText(/ticks? since loading/).textContent();
    return Number(text?.replace(/ ticks?.*$/, "").replaceAll(",", ""));
  };
  await expect(page.getByText("0 ticks since loading")).toBeVisible();
  await page.getByRole("button", { name: "Run", exact: true }).click();
  // Half a flash is 1,500,000 periods: the lamp has to change more than once.
  await expect.poll(ticks, { timeout: 30_000 }).toBeGreaterThan(4_000_000);
  await expect(page.getByText(/s on the board/)).toBeVisible();
  await expect(page.getByRole("button", { name: "Tick", exact: true })).toBeDisabled();
  expect(await seriousFaults(page)).toEqual([]);
  await page.getByRole("button", { name: "Pause" }).click();
  // What was asked for before is still answered; then it is at rest.
  const goesOn = async () => {
    const before = await ticks();
    await page.waitForTimeout(300);
    return (await ticks()) - before;
  };
  await expect.poll(goesOn).toBe(0);
  const rest = await ticks();
  await page.getByRole("button", { name: "Tick", exact: true }).click();
  await expect.poll(ticks).toBe(rest + 1);
  // By keyboard, slowly.
  await page.getByLabel("Speed").selectOption("10");
  await page.getByRole("button", { name: "Run", exact: true }).focus();
  await page.keyboard.press("Space");
  await expect.poll(ticks).toBeGreaterThan(rest + 4);
  expect(await ticks()).toBeLessThan(rest + 200);
  expectNoFaults();
});

test("marks stand on the pass sheet and in its table", async ({ page }) => {
  await course.signIn(page, "ines");
  await page.getByLabel("Show").selectOption("Marks");
  const cell = page.getByRole("link", { name: /^Abel Zestwick, Hopper interlock: .* of 10 marks/ });
  await expect(cell).toBeVisible();
  await expect(page.getByRole("columnheader", { name: "Marks" })).toBeVisible();
  expect(await seriousFaults(page)).toEqual([]);
  const download = page.waitForEvent("download");
  await page.getByRole("link", { name: "Download as CSV" }).click();
  const text = await readFile(await (await download).path(), "utf8");
  const [head, ...lines] = text.trim().split("\n");
  expect(head).toContain("Hopper interlock: marks,Hopper interlock: marks out of");
  expect(lines.find((l) => l.startsWith("Abel Zestwick"))).toMatch(/,10,/);
  expectNoFaults();
});

test("a student can't have the table of everybody", async ({ page }) => {
  await course.signIn(page, "abel");
  await expect(page.getByRole("link", { name: "Download as CSV" })).toHaveCount(0);
  const answer = await page.request.get(`/api${course.course()}/pass-sheet.csv`);
  expect(answer.status()).toBe(403);
});
