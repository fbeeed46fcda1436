import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { answered, api } from "@/api/client";
import type { FileDiff, HandInLine } from "@/api/schema";
import { DiffLines } from "@/kit/DiffLines";
import { CONTROL } from "@/kit/Field";
import { ErrorNote, Loading } from "@/kit/notes";

const STATES: Record<string, string> = {
  same: "the same",
  new: "only in the newer",
  gone: "only in the older",
};

function OneFile({ file }: { file: FileDiff }) {
  return (
    <li className="mt-2">
      <span className="mono font-bold">{file.name}</span>{" "}
      <span className="text-ink-soft">{STATES[file.state]}</span>
      {file.state === "changed" && file.lines.length === 0 && "differs, and is no text"}
      {file.state !== "same" && file.lines.length > 0 && <DiffLines lines={file.lines} />}
    </li>
  );
}

/** What differs between any two attempts of a student. */
export function AttemptsDiff({
  course,
  lines,
  current,
}: {
  course: number;
  lines: HandInLine[];
  current: number;
}) {
  const at = lines.findIndex((l) => l.id === current);
  // The one before it, or for the first one the one after.
  const [other, setOther] = useState((lines[at + 1] ?? lines[at - 1])?.id ?? current);
  const [older, newer] = [other, current].sort((a, b) => a - b);
  const difference = useQuery({
    queryKey: ["attempts", course, older, newer],
    queryFn: () =>
      answered(
        api.GET("/api/courses/{course}/hand-ins/{hand_in}/difference", {
          params: { path: { course, hand_in: newer ?? 0 }, query: { from: older ?? 0 } },
        }),
      ),
  });
  const name = (id: number | undefined) => `attempt ${lines.find((l) => l.id === id)?.cell.attempt ?? ""}`;
  return (
    <div className="mt-3">
      <label className="flex flex-wrap items-center gap-2">
        What differs from
        <select
          className={`${CONTROL} !mt-0 !w-auto`}
          value={other}
          onChange={(e) => setOther(Number(e.target.value))}
        >
          {lines
            .filter((l) => l.id !== current)
            .map((l) => (
              <option key={l.id} value={l.id}>
                {name(l.id)}
              </option>
            ))}
        </select>
        <span className="text-ink-soft">
          ({name(older)} to {name(newer)})
        </span>
      </label>
      {difference.isPending && <Loading what="the difference" />}
      {difference.isError && <ErrorNote error={difference.error} />}
      {difference.isSuccess && (
        <ul>
          {difference.data.map((file) => (
            <OneFile key={file.name} file={file} />
          ))}
        </ul>
      )}
    </div>
  );
}
