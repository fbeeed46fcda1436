import { useEffect, useRef } from "react";
import { useLocation, useNavigationType } from "react-router";

/** After going on to another page the focus stands at its beginning; after going back the page itself puts it where it was. */
export function useArrival(focus: () => void) {
  const { pathname } = useLocation();
  const kind = useNavigationType();
  const before = useRef(pathname);
  useEffect(() => {
    if (before.current === pathname) return;
    before.current = pathname;
    if (kind !== "POP") focus();
  }, [pathname, kind, focus]);
}
