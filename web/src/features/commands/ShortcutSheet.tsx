import { useAllCommands } from "@/kit/commands";
import { Sheet } from "@/kit/Sheet";

/** Every key that does something on this page. */
export function ShortcutSheet({
  open,
  onOpenChange,
}: {
  open: boolean;
  onOpenChange: (open: boolean) => void;
}) {
  const commands = useAllCommands().filter((c) => c.keys !== undefined);
  const groups = [...new Set(commands.map((c) => c.group))];
  return (
    <Sheet
      open={open}
      onOpenChange={onOpenChange}
      title="Keys on this page"
      lead="Where a part of the page is named, its keys work while it has the focus."
    >
      <div className="grid gap-x-8 gap-y-4 sm:grid-cols-2">
        {groups.map((group) => (
          <section key={group} aria-label={group}>
            <h3 className="mb-1 font-bold">{group}</h3>
            <dl>
              {commands
                .filter((c) => c.group === group)
                .map((c) => (
                  <div key={c.title} className="flex justify-between gap-4 border-b border-rule py-1">
                    <dt>{c.title}</dt>
                    <dd>
                      <kbd className="mono whitespace-nowrap text-sm">{c.keys}</kbd>
                    </dd>
                  </div>
                ))}
            </dl>
          </section>
        ))}
      </div>
    </Sheet>
  );
}
