import { useQuery } from "@tanstack/react-query";
import { answered, api } from "@/api/client";
import type { OwnCheck } from "@/api/schema";
import { Prose } from "@/kit/Prose";

interface Props {
  course: number;
  exercise: number;
  /** What was saved last. */
  version: number;
}

/** How many typical faults in the reference the check tells. */
export function faultWords({ faults_tried: tried, faults_told: told }: OwnCheck): string {
  if (tried === 0) return "";
  if (told === tried) return `Of ${tried} typical faults put into it, one at a time, it tells every one.`;
  return `Of ${tried} typical faults put into it, one at a time, it tells ${told}; these pass as well, which is right where they change nothing that matters:`;
}

/** What the exercise's own check says of its reference, before students are judged by it. */
export function OwnCheckNote({ course, exercise, version }: Props) {
  const check = useQuery({
    queryKey: ["own-check", course, exercise, version],
    queryFn: () =>
      answered(
        api.GET("/api/courses/{course}/exercises/{exercise}/own-check", {
          params: { path: { course, exercise } },
        }),
      ),
  });
  if (check.isPending) return <p className="text-ink-soft">The reference is checked…</p>;
  if (check.isError)
    return <p className="border-l-4 border-amber bg-tint px-3 py-1.5">{check.error.message}</p>;
  if (check.data === null) return null;
  if (check.data.verdict === "pass")
    return (
      <div className="border-l-4 border-leaf bg-tint px-3 py-1.5">
        <p>Your reference passes the exercise's own check. {faultWords(check.data)}</p>
        {check.data.faults_missed.length > 0 && (
          <ul className="list-disc pl-5 text-sm">
            {check.data.faults_missed.map((text) => (
              <li key={text}>
                <Prose text={text} />
              </li>
            ))}
          </ul>
        )}
      </div>
    );
  return (
    <div className="border-l-4 border-amber bg-tint px-3 py-1.5">
      <p>Your reference does not pass the exercise's own check:</p>
      <ul className="list-disc pl-5">
        {(check.data.findings.length > 0 ? check.data.findings : [check.data.headline]).map((text) => (
          <li key={text}>
            <Prose text={text} />
          </li>
        ))}
      </ul>
    </div>
  );
}
