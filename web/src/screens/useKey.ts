import { useParams } from "react-router";

/** A key from the address; -1, which nothing has, when it is no number. */
export function useKey(name: string): number {
  const text = useParams()[name] ?? "";
  return /^\d+$/.test(text) ? Number(text) : -1;
}
