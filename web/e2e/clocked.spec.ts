/** Clocked exercises in a browser: the rule, a verdict with its way cycle by cycle, near misses, the scratch pad. */
import { expect, test } from "@playwright/test";
import { expectNoFaults, seriousFaults, watchFaults } from "./helpers";
import { packhouse } from "./world";

const FALLING = `module washer(input clk, rst_n, start, high, low, output valve, brush, drain);
  reg [1:0] s;
  always @(negedge clk or negedge rst_n)
    if (!rst_n) s <= 0;
    else case (s)
      0: if (start) s <= 1;
      1: if (high) s <= 2;
      2: if (!start) s <= 3;
      3: if (low) s <= 0;
    endcase
  assign valve = s == 1, brush = s == 2, drain = s == 3;
endmodule
`;

watchFaults();

const course = packhouse({ exercises: ["washer-sequencer"] });

test("a state machine on the wrong edge is a near miss, shown cycle by cycle", async ({ page }) => {
  await course.signIn(page, "ines");
  await page.getByRole("link", { name: "Washer sequencer", exact: true }).click();
  await expect(page.getByRole("row", { name: /^wash / })).toContainText("start' → empty");
  await page.getByRole("button", { name: "Hand in" }).click();
  await page.getByLabel("Student").selectOption({ label: "Ximena Cratewood (Evening)" });
  await page
    .getByLabel(/Design files/)
    .setInputFiles([{ name: "washer.v", mimeType: "text/plain", buffer: Buffer.from(FALLING) }]);
  await page.getByRole("dialog").getByRole("button", { name: "Hand in", exact: true }).click();
  await expect(page.getByRole("heading", { level: 1 })).toContainText("clock edge after the reset");
  await expect(
    page.getByRole("heading", { name: /^Near miss(es)?: one change and it would pass/ }),
  ).toBeVisible();
  await expect(page.getByText("It counts the falling clock edge")).toBeVisible();
  const strip = page.getByRole("region", { name: "Levels in each clock cycle" });
  await expect(strip.getByRole("row", { name: /valve should be/ })).toBeVisible();
  expect(await seriousFaults(page)).toEqual([]);
  expectNoFaults();
});

test("a student reads what the near miss is, not how to put it right", async ({ page }) => {
  await course.signIn(page, "abel");
  await page.getByRole("link", { name: "Washer sequencer", exact: true }).click();
  await expect(page.getByText("A state table that begins in")).toBeVisible();
  await expect(page.getByRole("row", { name: /^wash / })).toHaveCount(0);
  await page.getByRole("link", { name: "Scratch pad" }).click();
  const editor = page.getByRole("textbox", { name: /washer_sequencer|design/ }).first();
  await editor.click();
  await page.keyboard.press("Control+a");
  await page.keyboard.insertText(FALLING);
  await expect(page.getByText("It counts the falling clock edge")).toBeVisible();
  await expect(page.getByText("Use the rising edge of")).toHaveCount(0);
  expectNoFaults();
});
