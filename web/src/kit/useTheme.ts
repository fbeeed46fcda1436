import { useCallback, useState } from "react";

type Theme = "light" | "dark";
const KEY = "zesty-gate-theme";

function wanted(): Theme {
  const kept = localStorage.getItem(KEY);
  if (kept === "light" || kept === "dark") return kept;
  return window.matchMedia("(prefers-color-scheme: dark)").matches ? "dark" : "light";
}

/** Puts the theme on the page before anything is drawn. */
export function applyTheme(): void {
  document.documentElement.dataset.theme = wanted();
}

export function useTheme(): { theme: Theme; toggle: () => void } {
  const [theme, setTheme] = useState<Theme>(wanted);
  const toggle = useCallback(() => {
    const next = wanted() === "dark" ? "light" : "dark";
    localStorage.setItem(KEY, next);
    applyTheme();
    setTheme(next);
  }, []);
  return { theme, toggle };
}
