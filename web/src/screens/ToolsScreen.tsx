import { useMutation } from "@tanstack/react-query";
import { openDump } from "@/api/client";
import { Divider } from "@/features/divider";
import { DumpView } from "@/features/waves";
import { FILE } from "@/kit/Field";
import { ErrorNote, Loading } from "@/kit/notes";
import { Trail } from "@/kit/Trail";
import { useKey } from "./useKey";

/** Helpers that belong to no exercise: a waveform file, the terminal count of a divider. */
export function ToolsScreen() {
  const course = useKey("course");
  const open = useMutation({ mutationFn: (file: File) => openDump(course, file) });
  return (
    <>
      <title>Tools · Zesty Gate</title>
      <Trail to={[["Pass sheet", `/courses/${course}`]]} here="Tools" />
      <div className="ledger mb-4 pb-2">
        <h1 className="text-2xl font-bold">Tools</h1>
        <p className="text-ink-soft">Helpers that belong to no exercise; nothing here is kept.</p>
      </div>
      <section aria-labelledby="divider-title">
        <h2 id="divider-title" className="mb-2 text-lg font-bold">
          Clock divider
        </h2>
        <Divider />
      </section>
      <section aria-labelledby="dump-title" className="mt-8">
        <h2 id="dump-title" className="mb-1 text-lg font-bold">
          Waveform file
        </h2>
        <label className="mb-3 block">
          A value change dump (.vcd) of any simulator
          <input
            className={FILE}
            type="file"
            accept=".vcd"
            onChange={(e) => {
              const file = e.target.files?.[0];
              if (file !== undefined) open.mutate(file);
            }}
          />
        </label>
        {open.isPending && <Loading what="the waves" />}
        {open.isError && <ErrorNote error={open.error} />}
        {open.data !== undefined && !open.isPending && (
          <DumpView key={open.data.id} course={course} dump={open.data} />
        )}
      </section>
    </>
  );
}
