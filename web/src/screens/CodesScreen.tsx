import { useQuery } from "@tanstack/react-query";
import { answered, api } from "@/api/client";
import { CodesView } from "@/features/codes";
import { ErrorNote, Loading } from "@/kit/notes";

/** Help: every kind of finding with a wrong and a right example. */
export function CodesScreen() {
  const codes = useQuery({
    queryKey: ["finding-codes"],
    queryFn: () => answered(api.GET("/api/finding-codes")),
    staleTime: Number.POSITIVE_INFINITY,
  });
  return (
    <>
      <title>Findings · Zesty Gate</title>
      <div className="ledger mb-3 pb-2">
        <h1 className="text-2xl font-bold">Findings</h1>
        <p className="text-ink-soft">
          What a check can say, with a wrong and a right example of each. <b>stop</b> stops the check,{" "}
          <b>marks</b> costs marks, <b>note</b> is worth knowing.
        </p>
      </div>
      {codes.isPending && <Loading what="the list" />}
      {codes.isError && <ErrorNote error={codes.error} onRetry={() => codes.refetch()} />}
      {codes.isSuccess && <CodesView entries={codes.data} />}
    </>
  );
}
