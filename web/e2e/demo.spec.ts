/** The demo: who may come in is said, and what was made before it started is there. */
import { expect, test } from "@playwright/test";
import { expectNoFaults, seriousFaults, signIn, watchFaults } from "./helpers";

watchFaults();

test("the sign-in page names the accounts, and staff find a course with verdicts", async ({ page }) => {
  await page.goto("/");
  for (const name of ["ines", "rowan", "abel"]) await expect(page.getByText(name).first()).toBeVisible();
  await signIn(page, "ines");
  await expect(page.getByRole("link", { name: /^Soren Grapevale, Hopper interlock: partly/ })).toBeVisible();
  await expect(page.getByRole("link", { name: /, waiting/ })).toHaveCount(0);
  expect(await seriousFaults(page)).toEqual([]);
  expectNoFaults();
});

test("a student finds the own exercises and no other's work", async ({ page }) => {
  await signIn(page, "abel");
  await expect(page.getByRole("list", { name: "Your exercises" })).toContainText("Hopper interlock");
  await expect(page.getByText("Soren")).toHaveCount(0);
  expectNoFaults();
});

test("the licences of what it is built with are read in the application", async ({ page }) => {
  await signIn(page, "rowan");
  await page.getByRole("link", { name: "About" }).click();
  await expect(page).toHaveURL(/\/about$/);
  await expect(page.getByText("actix-web", { exact: false }).first()).toBeVisible();
  expect(await seriousFaults(page)).toEqual([]);
  expectNoFaults();
});
