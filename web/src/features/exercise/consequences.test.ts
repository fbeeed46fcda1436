import { expect, test } from "vitest";
import { consequences } from "./DraftBar";

test("publishing says what it does to verdicts that are there", () => {
  const words = {
    version: 3,
    has_draft: true,
    is_first: false,
    changes_checks: false,
    changes_marks: false,
    stale: 0,
    recounted: 0,
  };
  expect(consequences({ ...words, is_first: true })).toContain("for the first time");
  expect(consequences(words)).toContain("every verdict stays");
  const marked = { ...words, changes_marks: true };
  expect(consequences(marked)).toContain("nothing was marked yet");
  expect(consequences({ ...marked, recounted: 1 })).toContain("1 hand-in are counted anew, and no verdict");
  expect(consequences({ ...marked, recounted: 4, stale: 2 })).toMatch(/4 hand-ins .* 2 older ones/);
  expect(consequences({ ...words, changes_checks: true })).toContain("no verdict rests on it");
  expect(consequences({ ...marked, changes_checks: true, stale: 20 })).toContain("20 verdicts become stale");
});
