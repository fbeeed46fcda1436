/** What every browser test needs: signing in, looking for faults. */
import AxeBuilder from "@axe-core/playwright";
import { type Cookie, expect, type Page, test } from "@playwright/test";

/** Sessions by name. */
const sessions = new Map<string, Cookie[]>();

/** The first page: everybody for staff, one's own exercises for a student. */
async function home(page: Page): Promise<void> {
  const sheet = page.getByRole("grid", { name: "Pass sheet" });
  await expect(sheet.or(page.getByRole("list", { name: "Your exercises" }))).toBeVisible();
}

export async function signIn(page: Page, name: string): Promise<void> {
  const known = sessions.get(name);
  if (known !== undefined) {
    await page.context().addCookies(known);
    await page.goto("/");
    await home(page);
    return;
  }
  await page.goto("/");
  await page.getByLabel("Name").fill(name);
  await page.getByLabel("Password").fill("lemon-peel");
  await page.keyboard.press("Enter");
  await home(page);
  sessions.set(name, await page.context().cookies());
}

export async function seriousFaults(page: Page): Promise<string[]> {
  const result = await new AxeBuilder({ page }).analyze();
  const serious = result.violations.filter((v) => v.impact === "serious" || v.impact === "critical");
  return serious.map((v) => `${v.id}: ${v.nodes.map((n) => n.html).join(" | ")}`);
}

let faults: string[] = [];

/** Collects what the page complains about; call at the top of each file. */
export function watchFaults(): void {
  test.beforeEach(({ page }) => {
    faults = [];
    page.on("console", (message) => {
      if (message.type() === "error") faults.push(message.text());
    });
    page.on("pageerror", (error) => faults.push(String(error)));
  });
}

export function expectNoFaults(): void {
  expect(faults.filter((f) => !f.includes("401") && !f.includes("422"))).toEqual([]);
}
