import { useMutation, useQueryClient } from "@tanstack/react-query";
import type { Start } from "@/api/schema";

/** Comes in as somebody: nothing of the person before stays. */
export function useEnter<T>(enter: (what: T) => Promise<Start>, then?: (start: Start) => void) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: enter,
    onSuccess: (start) => {
      queries.removeQueries({ predicate: (q) => q.queryKey[0] !== "start" });
      queries.setQueryData(["start"], start);
      then?.(start);
    },
  });
}
