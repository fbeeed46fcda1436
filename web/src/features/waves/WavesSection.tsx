import { type ComponentProps, useState } from "react";
import { Button } from "@/kit/Button";
import { WavesPanel } from "./WavesPanel";

type Props = ComponentProps<typeof WavesPanel> & {
  /** What stands beside the heading while the waves are closed. */
  about: string;
  /** They are there at once. */
  open?: boolean;
};

/** A part of a page for waves; they are run when it is opened. */
export function WavesSection({ about, open = false, ...panel }: Props) {
  const [isOpen, setOpen] = useState(open);
  return (
    <section aria-labelledby="waves-title" className="mt-8 print:hidden">
      <div className="mb-2 flex flex-wrap items-center gap-3">
        <h2 id="waves-title" className="text-lg font-bold">
          Waves
        </h2>
        <Button aria-expanded={isOpen} onClick={() => setOpen(!isOpen)}>
          {isOpen ? "Close" : "Show"}
        </Button>
        <span className="text-ink-soft">{about}</span>
      </div>
      {isOpen && <WavesPanel {...panel} />}
    </section>
  );
}
