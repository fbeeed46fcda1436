/** Takes one picture of each main view from the demo data; run by `cargo xtask shots`. */
import { type Page, test } from "@playwright/test";

const folder = process.env.ZESTY_SHOTS ?? "../docs/screenshots";

async function signIn(page: Page, name: string): Promise<void> {
  await page.goto("/");
  await page.getByLabel("Name").fill(name);
  await page.getByLabel("Password").fill("lemon-peel");
  await page.getByRole("button", { name: "Sign in", exact: true }).click();
  await page.getByRole("grid", { name: "Pass sheet" }).waitFor();
}

async function shoot(page: Page, name: string): Promise<void> {
  await page.mouse.move(0, 0);
  await page.evaluate(() => document.fonts.ready);
  await page.waitForTimeout(300);
  await page.screenshot({ path: `${folder}/${name}.png` });
}

/** Opens the newest hand-in of a student at an exercise through the pass sheet. */
async function open(page: Page, student: string, exercise: string): Promise<void> {
  await page.goto("/courses/1");
  const cell = page.getByRole("link", { name: `${student}, ${exercise}` });
  await page.getByLabel("Find a student").fill(student);
  await cell.click();
  await page.getByRole("heading", { name: "Findings" }).waitFor();
}

test("one picture of each main view", async ({ page }) => {
  await page.goto("/");
  await page.getByLabel("Name").waitFor();
  await shoot(page, "sign-in");
  await signIn(page, "ines");
  await shoot(page, "pass-sheet");
  await page.getByRole("link", { name: "People" }).click();
  await page.getByRole("button", { name: "Ines Quillaby" }).waitFor();
  await shoot(page, "people");
  await page.getByRole("link", { name: "Pass sheet" }).click();
  await page.getByRole("link", { name: "Hopper interlock", exact: true }).click();
  await page.getByRole("heading", { name: "Bench" }).waitFor();
  await page.getByRole("grid").focus();
  for (let i = 0; i < 6; i++) await page.keyboard.press("ArrowDown");
  await page.getByText("Row 6:").waitFor();
  await shoot(page, "exercise");
  await page.getByRole("button", { name: "Hand in" }).click();
  await page.getByLabel("Student").selectOption({ label: "Ximena Cratewood (Evening)" });
  await shoot(page, "hand-in");
  await page.keyboard.press("Escape");
  await open(page, "Soren Grapevale", "Hopper interlock");
  await shoot(page, "verdict");
  await page.getByRole("button", { name: /^output motor/ }).waitFor();
  await page.getByRole("button", { name: /^AND, line 4/ }).click();
  await page.getByRole("heading", { name: "Structure", exact: true }).evaluate((e) => e.scrollIntoView());
  await shoot(page, "structure");
  await page.getByRole("heading", { name: "Bench" }).scrollIntoViewIfNeeded();
  await page.getByRole("heading", { name: "Rows", exact: true }).evaluate((e) => e.scrollIntoView());
  await shoot(page, "bench");
  await page.goto("/courses/1/exercises/1/pad?from=3");
  await page.getByText("is missing at the end of this line").first().waitFor();
  await page.locator(".cm-content").waitFor();
  await shoot(page, "scratch-pad");
  await page.goto("/help/findings?q=latch");
  await page.getByText("inferred-latch").waitFor();
  await shoot(page, "findings-help");
  await page.goto("/courses/1/exercises/2/workings?row=0101");
  await page.getByRole("heading", { name: "Costs" }).waitFor();
  await page.getByRole("radio", { name: "heavy", exact: true }).click();
  await page.getByRole("heading", { name: "Truth table" }).evaluate((e) => e.scrollIntoView());
  await shoot(page, "workings");
  await page.goto("/courses/1/exercises/5/workings?row=101");
  await page.getByRole("heading", { name: "Costs" }).waitFor();
  await shoot(page, "workings-signals");
  await page.goto("/courses/1/exercises/2/key");
  await page.getByText("Minimal SOP").first().waitFor();
  await shoot(page, "key");
  await open(page, "Otis Marmalade", "Reject flap");
  await shoot(page, "near-miss");
  await open(page, "Otis Marmalade", "Crate counter");
  await shoot(page, "clocked");
  await page.getByRole("button", { name: "Show", exact: true }).click();
  await page.getByRole("button", { name: "Next difference" }).waitFor();
  await page.getByRole("heading", { name: "Waves" }).evaluate((e) => e.scrollIntoView());
  await shoot(page, "waves");
  await page.getByRole("link", { name: "Report" }).click();
  await page.getByAltText(/over time|differ/).waitFor();
  await shoot(page, "report");
  await open(page, "Abel Zestwick", "Gray-coded turntable");
  await page.getByRole("button", { name: "Dark page" }).click();
  await shoot(page, "verdict-dark");
  await page.setViewportSize({ width: 390, height: 844 });
  await page.getByRole("button", { name: "Light page" }).click();
  await shoot(page, "verdict-phone");
});
