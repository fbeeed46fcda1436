import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { answered, api } from "@/api/client";
import { dateAndTime } from "@/kit/dates";
import { CONTROL } from "@/kit/Field";
import { Empty, ErrorNote, Loading } from "@/kit/notes";

/** Who changed what and when, the newest first. */
export function AuditView({ course }: { course: number }) {
  const [text, setText] = useState("");
  const [action, setAction] = useState("");
  const trail = useQuery({
    queryKey: ["audit", course],
    queryFn: () => answered(api.GET("/api/courses/{course}/audit", { params: { path: { course } } })),
  });
  if (trail.isPending) return <Loading what="the audit trail" />;
  if (trail.isError) return <ErrorNote error={trail.error} onRetry={() => trail.refetch()} />;
  if (trail.data.length === 0) return <Empty title="Nothing yet">What people change is listed here.</Empty>;
  const actions = [...new Set(trail.data.map((l) => l.action))].sort();
  const wanted = text.trim().toLowerCase();
  const list = trail.data.filter(
    (l) =>
      (action === "" || l.action === action) &&
      `${l.person ?? ""} ${l.subject}`.toLowerCase().includes(wanted),
  );
  return (
    <>
      <div className="mt-3 flex flex-wrap items-center gap-2">
        <input
          className={`${CONTROL} !mt-0 !w-56`}
          type="search"
          placeholder="Find in the trail"
          aria-label="Find in the trail"
          value={text}
          onChange={(e) => setText(e.target.value)}
        />
        <select
          className={`${CONTROL} !mt-0 !w-auto`}
          aria-label="What was done"
          value={action}
          onChange={(e) => setAction(e.target.value)}
        >
          <option value="">Everything</option>
          {actions.map((a) => (
            <option key={a}>{a}</option>
          ))}
        </select>
        <span className="text-ink-soft">
          {list.length === trail.data.length ? list.length : `${list.length} of ${trail.data.length}`}
        </span>
      </div>
      <div className="mt-3 overflow-x-auto">
        <table className="w-full text-left">
          <thead className="ledger text-sm text-ink-soft">
            <tr>
              <th scope="col">When</th>
              <th scope="col">Who</th>
              <th scope="col">What</th>
              <th scope="col">Of what</th>
            </tr>
          </thead>
          <tbody>
            {list.map((line, k) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: entries have no key of their own and never change
              <tr key={k} className="border-b border-rule align-top">
                <td className="whitespace-nowrap py-1 pr-3">{dateAndTime(line.at)}</td>
                <td className="py-1 pr-3">{line.person ?? "Zesty Gate"}</td>
                <td className="py-1 pr-3">{line.action}</td>
                <td className="py-1 [overflow-wrap:anywhere]">{line.subject}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {trail.data.length >= 500 && <p className="mt-2 text-sm text-ink-soft">The newest 500 entries.</p>}
    </>
  );
}
