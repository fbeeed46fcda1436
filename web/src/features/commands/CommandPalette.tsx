import { Command as List } from "cmdk";
import { useNavigate } from "react-router";
import type { PassSheet } from "@/api/schema";
import { useAllCommands } from "@/kit/commands";

const ITEM =
  "flex cursor-default items-center justify-between gap-4 px-3 py-1.5 data-[selected=true]:bg-tint data-[selected=true]:outline data-[selected=true]:outline-rule-strong";
const GROUP =
  "[&_[cmdk-group-heading]]:px-3 [&_[cmdk-group-heading]]:pt-2 [&_[cmdk-group-heading]]:text-sm [&_[cmdk-group-heading]]:font-bold [&_[cmdk-group-heading]]:text-ink-soft";

interface Props {
  open: boolean;
  onOpenChange: (open: boolean) => void;
  course: number | null;
  /** Exercises and students of the course, when its pass sheet was seen. */
  sheet: PassSheet | undefined;
}

/** A list of everything that can be done or gone to from here, narrowed by typing. */
export function CommandPalette({ open, onOpenChange, course, sheet }: Props) {
  const navigate = useNavigate();
  // What is only here comes first, and the list itself is open already.
  const commands = useAllCommands().filter((c) => c.run !== undefined && c.keys !== "Ctrl+K");
  const last = ["Go to", "Everywhere"];
  const groups = [...new Set(commands.map((c) => c.group))].sort((a, b) => last.indexOf(a) - last.indexOf(b));
  const does = (run: () => void) => () => {
    onOpenChange(false);
    run();
  };
  const newest = (cells: PassSheet["students"][number]["cells"]) =>
    Math.max(0, ...cells.map((c) => c?.hand_in ?? 0));
  return (
    <List.Dialog
      open={open}
      onOpenChange={onOpenChange}
      label="Commands"
      loop
      overlayClassName="fixed inset-0 z-20 bg-black/45"
      contentClassName="fixed left-1/2 top-[12vh] z-30 w-[min(40rem,94vw)] -translate-x-1/2 border border-rule-strong bg-sheet shadow-xl"
    >
      <List.Input
        placeholder="What do you want to do, or where to?"
        className="w-full border-b border-rule bg-sheet px-3 py-2.5 outline-none"
      />
      <List.List className="max-h-[60vh] overflow-auto pb-2">
        <List.Empty className="px-3 py-3 text-ink-soft">Nothing here is called that.</List.Empty>
        {groups.map((group) => (
          <List.Group key={group} heading={group} className={GROUP}>
            {commands
              .filter((c) => c.group === group)
              .map((c) => (
                <List.Item
                  key={c.title}
                  value={`${group} ${c.title}`}
                  className={ITEM}
                  onSelect={does(() => c.run?.())}
                >
                  {c.title}
                  {c.keys !== undefined && <kbd className="mono text-sm text-ink-soft">{c.keys}</kbd>}
                </List.Item>
              ))}
          </List.Group>
        ))}
        {course !== null && sheet !== undefined && (
          <>
            <List.Group heading="Exercises" className={GROUP}>
              {sheet.exercises.map((e) => (
                <List.Item
                  key={e.id}
                  value={`exercise ${e.title} ${e.id}`}
                  className={ITEM}
                  onSelect={does(() => navigate(`/courses/${course}/exercises/${e.id}`))}
                >
                  {e.title}
                </List.Item>
              ))}
            </List.Group>
            {sheet.students.length > 1 && (
              <List.Group heading="Newest hand-in of" className={GROUP}>
                {sheet.students
                  .filter((s) => newest(s.cells) > 0)
                  .map((s) => (
                    <List.Item
                      key={s.id}
                      value={`student ${s.name} ${s.id}`}
                      className={ITEM}
                      onSelect={does(() => navigate(`/courses/${course}/hand-ins/${newest(s.cells)}`))}
                    >
                      {s.name}
                      <span className="text-sm text-ink-soft">{s.section}</span>
                    </List.Item>
                  ))}
              </List.Group>
            )}
          </>
        )}
      </List.List>
    </List.Dialog>
  );
}
