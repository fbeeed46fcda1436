import { useEffect, useRef, useState } from "react";

/** Milliseconds between two questions while the board runs. */
const PAUSE = 20;
/** Milliseconds that one question should take at most. */
const PATIENCE = 80;

/**
 * Lets a board tick by itself. `tick` asks for so many ticks and says how many were run; `rate` is how many a second are
 * wanted, null for a board at rest. Gives the ticks a second that were reached, null before that is known.
 */
export function useRunning(rate: number | null, tick: (count: number) => Promise<number>): number | null {
  const [reached, setReached] = useState<number | null>(null);
  const ask = useRef(tick);
  ask.current = tick;

  useEffect(() => {
    setReached(null);
    if (rate === null) return;
    let stopped = false;
    // What one question may ask for: it grows and shrinks with what the answers take.
    let most = Math.max(1, Math.min(rate * 0.1, 200_000));
    let due = 0;
    let last = performance.now();
    let window = { from: last, ticks: 0 };
    const turn = async () => {
      if (stopped) return;
      const now = performance.now();
      // A page that slept doesn't make up for it.
      due = Math.min(due + (rate * Math.min(now - last, 1_000)) / 1_000, Math.max(1, rate / 2));
      last = now;
      const count = Math.min(Math.floor(due), Math.ceil(most));
      if (count >= 1) {
        const ran = await ask.current(count);
        if (stopped) return;
        if (ran === 0) {
          // The server is out of reach; it is asked again, more patiently.
          due = 0;
          timer = setTimeout(turn, 1_000);
          return;
        }
        const took = performance.now() - now;
        due -= ran;
        most = Math.max(
          1,
          ran < count ? ran : most * Math.min(2, Math.max(0.5, PATIENCE / Math.max(took, 1))),
        );
        window.ticks += ran;
        const span = performance.now() - window.from;
        if (span > 1_500) {
          setReached((window.ticks / span) * 1_000);
          window = { from: performance.now(), ticks: 0 };
        }
      }
      timer = setTimeout(turn, Math.max(PAUSE, Math.min(1_000 / rate, 250)));
    };
    let timer = setTimeout(turn, 0);
    return () => {
      stopped = true;
      clearTimeout(timer);
    };
  }, [rate]);

  return reached;
}
