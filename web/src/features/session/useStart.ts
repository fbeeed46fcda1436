import { useQuery } from "@tanstack/react-query";
import { answered, api } from "@/api/client";

/** Who is signed in, and the demo accounts when this is the demo. */
export function useStart() {
  return useQuery({ queryKey: ["start"], queryFn: () => answered(api.GET("/api/me")), staleTime: 60_000 });
}

/** The role of the signed-in person in a course. */
export function useRole(course: number): string | null {
  const { data } = useStart();
  return data?.me?.courses.find((c) => c.id === course)?.role ?? null;
}
