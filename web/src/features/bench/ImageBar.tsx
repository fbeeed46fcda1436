import type { ImageInfo } from "@/api/schema";
import { Button } from "@/kit/Button";
import type { Supply } from "./useBench";

interface Props {
  image: ImageInfo;
  supply: Supply;
  onPower: (on: boolean) => void;
  onLoad: () => void;
}

function Rocker({ on }: { on: boolean }) {
  return (
    <svg viewBox="0 0 34 20" width="34" height="20" aria-hidden="true">
      <rect
        x="1"
        y="1"
        width="32"
        height="18"
        rx="3"
        fill="var(--tint)"
        stroke="var(--ink)"
        strokeWidth="2"
      />
      <rect
        x={on ? 17 : 4}
        y="4"
        width="13"
        height="12"
        rx="1"
        fill={on ? "var(--amber)" : "var(--ink-soft)"}
      />
    </svg>
  );
}

/** Four digits at a time, so that it can be compared by eye. */
const spaced = (print: string) => print.replace(/(.{4})(?=.)/g, "$1 ");

/** The foot of the board: its power, and what is loaded. */
export function ImageBar({ image, supply, onPower, onLoad }: Props) {
  return (
    <div className="mt-2 flex flex-wrap items-center gap-x-3 gap-y-1 border-t border-rule pt-2 text-sm">
      <button
        type="button"
        role="switch"
        aria-checked={supply.power}
        aria-label="Power"
        onClick={() => onPower(!supply.power)}
        className="flex items-center gap-1.5 rounded-sm px-1 py-1 font-medium hover:bg-tint"
      >
        <Rocker on={supply.power} />
        Power
      </button>
      <Button onClick={onLoad} disabled={supply.loaded}>
        Load image
      </Button>
      <p className="min-w-0 grow" aria-live="polite">
        {supply.refusal !== null ? (
          <b className="text-rust-ink">{supply.refusal}</b>
        ) : supply.loaded ? (
          <>
            <span className="mono">{spaced(image.fingerprint)}</span> is loaded: {image.takes}
          </>
        ) : supply.power ? (
          "Nothing is loaded; without power the board lost its design."
        ) : (
          "No power."
        )}
      </p>
    </div>
  );
}
