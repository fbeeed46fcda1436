import type { PartInfo } from "@/api/schema";
import { hertz } from "./hertz";

interface Props {
  part: PartInfo;
  on: boolean;
  lamp: string;
  /** While the board runs: the share of the time that it is lit, in percent. */
  glow: number | null;
  /** The port bits wired to it. */
  bits: string[];
  onFlip: () => void;
}

/** A lamp that goes on and off faster than it is drawn shines by the share of the time that it is on. */
function Lamp({ lamp, share }: { lamp: string; share: number }) {
  return (
    <svg viewBox="0 0 30 30" width="30" height="30" aria-hidden="true">
      {lamp === "lit" && (
        <>
          <circle cx="15" cy="15" r="14" fill="var(--amber)" opacity={0.3 * share} />
          <circle cx="15" cy="15" r="9.5" fill="var(--sheet)" />
          <circle cx="15" cy="15" r="9.5" fill="var(--amber)" opacity={share} />
          <circle cx="15" cy="15" r="9.5" fill="none" stroke="var(--amber-ink)" strokeWidth="2" />
        </>
      )}
      {lamp === "dark" && (
        <circle cx="15" cy="15" r="9.5" fill="none" stroke="var(--ink-soft)" strokeWidth="1.6" />
      )}
      {lamp === "unknown" && (
        <>
          <circle cx="15" cy="15" r="9.5" fill="none" stroke="var(--violet)" strokeWidth="2" />
          <path d="M8 16l8-8M10 21l11-11M15 23l8-8" stroke="var(--violet)" strokeWidth="1.6" />
        </>
      )}
      {lamp === "conflict" && (
        <path d="M3 15l5-8 4 15 5-15 4 15 5-8" fill="none" stroke="var(--magenta)" strokeWidth="2.4" />
      )}
    </svg>
  );
}

function Oscillator() {
  return (
    <svg viewBox="0 0 30 30" width="30" height="30" aria-hidden="true">
      <rect x="2" y="5" width="26" height="20" fill="var(--tint)" stroke="var(--ink)" strokeWidth="2" />
      <path d="M6 19v-8h6v8h6v-8h6" fill="none" stroke="var(--ink)" strokeWidth="2" />
    </svg>
  );
}

function Switch({ on, round }: { on: boolean; round: boolean }) {
  if (round) {
    return (
      <svg viewBox="0 0 30 44" width="30" height="44" aria-hidden="true">
        <circle cx="15" cy="24" r="12" fill="none" stroke="var(--ink)" strokeWidth="2" />
        <circle cx="15" cy={on ? 25 : 21} r={on ? 7 : 9} fill={on ? "var(--amber)" : "var(--ink-soft)"} />
      </svg>
    );
  }
  return (
    <svg viewBox="0 0 30 44" width="30" height="44" aria-hidden="true">
      <rect x="7" y="2" width="16" height="40" fill="var(--tint)" stroke="var(--ink)" strokeWidth="2" />
      <rect x="10" y={on ? 5 : 22} width="10" height="17" fill={on ? "var(--amber)" : "var(--ink-soft)"} />
      <path d={on ? "M12 11h6M12 15h6" : "M12 28h6M12 32h6"} stroke="var(--sheet)" strokeWidth="1.5" />
    </svg>
  );
}

/** A switch or lamp of the board picture, with its label, pin and what is wired to it. */
export function BoardPart({ part, on, lamp, glow, bits, onFlip }: Props) {
  const isLamp = part.kind === "led";
  const rate = part.frequency_hz === null ? "" : hertz(part.frequency_hz);
  const wired = bits.length > 0 ? `, ${bits.join(" and ")}` : ", not wired";
  const caption = (
    <span className="mt-0.5 block text-center leading-tight" aria-hidden="true">
      <span className="block text-sm font-bold">{part.label}</span>
      <span className="mono block whitespace-nowrap text-xs text-ink-soft">{part.pin}</span>
      {rate !== "" && <span className="mono block whitespace-nowrap text-xs text-ink-soft">{rate}</span>}
      <span className="mono block h-4 truncate text-xs text-amber-ink">{bits.join(" ")}</span>
    </span>
  );
  if (part.kind === "oscillator") {
    return (
      <div
        role="img"
        aria-label={`Oscillator ${part.label}, ${rate}${wired}`}
        className="flex flex-col items-center"
      >
        <Oscillator />
        {caption}
      </div>
    );
  }
  if (isLamp) {
    const note = part.active_low ? ", lights on 0" : "";
    const isPartly = glow !== null && glow > 2 && glow < 98 && (lamp === "lit" || lamp === "dark");
    const words = isPartly ? `lit ${glow}% of the time` : lamp;
    return (
      <div
        role="img"
        aria-label={`Lamp ${part.label}${wired}${note}: ${words}`}
        className="flex flex-col items-center"
      >
        <span className="relative">
          <Lamp lamp={isPartly ? "lit" : lamp} share={isPartly ? 0.15 + glow * 0.0085 : 1} />
          {part.active_low && (
            <span
              className="absolute -right-3 -top-1 text-xs text-ink-soft"
              title="lights on 0"
              aria-hidden="true"
            >
              ○
            </span>
          )}
        </span>
        {caption}
      </div>
    );
  }
  const round = part.kind === "push_button";
  return (
    <button
      type="button"
      role="switch"
      aria-checked={on}
      aria-label={`${round ? "Button" : "Switch"} ${part.label}${wired}`}
      onClick={onFlip}
      className="flex flex-col items-center rounded-sm px-1 hover:bg-tint"
    >
      <Switch on={on} round={round} />
      {caption}
    </button>
  );
}
