import { defineConfig } from "@playwright/test";
import { CHROMIUM } from "./e2e/browser";

export default defineConfig({
  testDir: "e2e",
  timeout: 60_000,
  expect: { timeout: 10_000 },
  workers: 1,
  reporter: [["list"]],
  use: {
    baseURL: process.env.ZESTY_ADDRESS ?? "http://127.0.0.1:8460",
    viewport: { width: 1280, height: 800 },
    locale: "en-GB",
    timezoneId: "UTC",
    launchOptions: CHROMIUM,
  },
  projects: [
    { name: "demo", testMatch: "demo.spec.ts" },
    // Each on an installation of its own, or together on one.
    { name: "tests", testMatch: "*.spec.ts", testIgnore: "demo.spec.ts" },
    { name: "outcome", testMatch: "outcome.ts" },
    { name: "shots", testMatch: "shots.ts" },
    { name: "frames", testMatch: "frames.ts" },
  ],
});
