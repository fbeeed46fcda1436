import { Dialog } from "radix-ui";
import type { ReactNode } from "react";

interface Props {
  open: boolean;
  onOpenChange: (open: boolean) => void;
  title: string;
  /** One sentence under the title. */
  lead: string;
  children: ReactNode;
}

/** A dialog laid over the page like a sheet of paper. The close button comes last, so that the first field has focus. */
export function Sheet({ open, onOpenChange, title, lead, children }: Props) {
  return (
    <Dialog.Root open={open} onOpenChange={onOpenChange}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-20 bg-black/45" />
        <Dialog.Content className="fixed left-1/2 top-1/2 z-30 flex max-h-[92vh] w-[min(46rem,94vw)] -translate-x-1/2 -translate-y-1/2 flex-col overflow-auto border border-rule-strong bg-sheet p-6 shadow-xl">
          <Dialog.Title className="text-xl font-bold">{title}</Dialog.Title>
          <Dialog.Description className="ledger mb-4 pb-2 text-ink-soft">{lead}</Dialog.Description>
          {children}
          <Dialog.Close
            className="absolute right-4 top-4 px-2 py-1 text-ink-soft hover:bg-tint"
            aria-label="Close"
          >
            ✕
          </Dialog.Close>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
