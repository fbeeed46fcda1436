/** How many frames a second the waves keep while they are zoomed by the wheel; printed, not demanded. */
import { test } from "@playwright/test";
import { signIn } from "./helpers";

const FRAMES = 600;

test("frames a second while zooming", async ({ page }) => {
  await signIn(page, "ines");
  for (const handIn of [93, 106]) {
    await page.goto(`/courses/1/hand-ins/${handIn}`);
    await page.getByRole("button", { name: "Show", exact: true }).click();
    await page.locator("canvas").scrollIntoViewIfNeeded();
    const times = await page.evaluate(async (count) => {
      const canvas = document.querySelector("canvas");
      const box = canvas?.getBoundingClientRect();
      const times: number[] = [];
      let last = performance.now();
      await new Promise<void>((done) => {
        const step = (now: number) => {
          times.push(now - last);
          last = now;
          const deltaY = (times.length >> 5) & 1 ? 40 : -40;
          const at = { clientX: (box?.left ?? 0) + (box?.width ?? 0) / 2, clientY: (box?.top ?? 0) + 40 };
          canvas?.dispatchEvent(new WheelEvent("wheel", { deltaY, ...at, bubbles: true, cancelable: true }));
          if (times.length < count) requestAnimationFrame(step);
          else done();
        };
        requestAnimationFrame(step);
      });
      return times.slice(2).sort((a, b) => a - b);
    }, FRAMES);
    const part = (share: number) => (times[Math.floor((times.length - 1) * share)] ?? 0).toFixed(1);
    const rate = (1000 * times.length) / times.reduce((sum, t) => sum + t, 0);
    console.log(
      `hand-in ${handIn}: ${rate.toFixed(1)} frames/s; a frame takes ${part(0.5)} ms (median), ${part(0.99)} ms (99 of 100), ${part(1)} ms (worst)`,
    );
  }
});
