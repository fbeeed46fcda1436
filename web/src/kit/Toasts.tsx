import { Toast } from "radix-ui";
import { dismiss, useToasts } from "./toast";

/** Where the short words stand; they go by themselves, those with a way back later. */
export function Toasts() {
  const list = useToasts();
  return (
    <Toast.Provider label="What was done" swipeDirection="down">
      {list.map(({ key, text, undo }) => (
        <Toast.Root
          key={key}
          duration={undo === undefined ? 5_000 : 12_000}
          onOpenChange={(open) => !open && dismiss(key)}
          className="flex items-center gap-3 border border-rule-strong bg-sheet px-3 py-2 shadow-md"
        >
          <Toast.Description className="grow">{text}</Toast.Description>
          {undo !== undefined && (
            <Toast.Action asChild altText={`Undo: ${text}`}>
              <button
                type="button"
                className="rounded-sm border border-rule-strong px-2 py-0.5 font-medium hover:bg-tint"
                onClick={undo}
              >
                Undo
              </button>
            </Toast.Action>
          )}
          <Toast.Close className="px-1 text-ink-soft hover:bg-tint" aria-label="Close">
            ✕
          </Toast.Close>
        </Toast.Root>
      ))}
      <Toast.Viewport className="fixed bottom-3 right-3 z-40 flex w-[min(26rem,92vw)] flex-col gap-2 print:hidden" />
    </Toast.Provider>
  );
}
