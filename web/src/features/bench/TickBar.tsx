import { useState } from "react";
import { Button } from "@/kit/Button";
import { hertz } from "./hertz";
import { useRunning } from "./useRunning";

interface Props {
  /** Of the board's oscillator, in hertz. */
  rate: number;
  /** Since the image was loaded. */
  ticks: number;
  /** It ticks by itself. */
  runs: boolean;
  setRuns: (runs: boolean) => void;
  tick: (count: number) => Promise<number>;
}

/** `1,500,000 ticks, 0.125 s on the board` */
function counted(ticks: number, rate: number): string {
  const count = `${ticks.toLocaleString("en")} ${ticks === 1 ? "tick" : "ticks"} since loading`;
  const seconds = ticks / rate;
  return seconds < 0.001 ? count : `${count}, ${seconds.toFixed(seconds < 10 ? 3 : 1)} s on the board`;
}

/** The foot of a board with a clocked design: ticks by hand, or by the oscillator as fast as it is or slowed down. */
export function TickBar({ rate, ticks, runs, setRuns, tick }: Props) {
  const [speed, setSpeed] = useState(rate);
  const reached = useRunning(runs ? speed : null, tick);
  const isShort = reached !== null && reached < 0.9 * speed;
  const slow = [1_000, 100, 10, 1].filter((s) => s < rate);
  return (
    <div className="mt-2 flex flex-wrap items-center gap-2 border-t border-rule pt-2">
      <Button onClick={() => setRuns(!runs)} aria-pressed={runs} strength={runs ? "strong" : "plain"}>
        {runs ? "Pause" : "Run"}
      </Button>
      <select
        aria-label="Speed"
        className="border border-rule-strong bg-sheet px-2 py-1.5 rounded-sm"
        value={speed}
        onChange={(e) => setSpeed(Number(e.target.value))}
      >
        <option value={rate}>at board speed, {hertz(rate)}</option>
        {slow.map((s) => (
          <option key={s} value={s}>
            slowly, {s === 1 ? "1 tick" : `${s.toLocaleString("en")} ticks`} a second
          </option>
        ))}
      </select>
      <Button onClick={() => void tick(1)} disabled={runs}>
        Tick
      </Button>
      <Button onClick={() => void tick(10)} disabled={runs}>
        10 ticks
      </Button>
      <span className="mono text-sm" aria-live={runs ? "off" : "polite"}>
        {counted(ticks, rate)}
      </span>
      {runs && isShort && (
        <span className="text-sm text-rust-ink" role="status">
          Runs at {hertz(reached, 2)}; this computer can't do {hertz(speed)}.
        </span>
      )}
    </div>
  );
}
