import { clsx } from "clsx";
import { ToggleGroup } from "radix-ui";

interface Props<T extends string> {
  label: string;
  value: T;
  options: { value: T; label: string }[];
  onChange: (value: T) => void;
  disabled?: boolean;
}

/** One of a few, side by side; arrow keys go from one to the next. */
export function Choice<T extends string>({ label, value, options, onChange, disabled }: Props<T>) {
  return (
    <ToggleGroup.Root
      type="single"
      aria-label={label}
      value={value}
      disabled={disabled}
      onValueChange={(next) => {
        if (next !== "") onChange(next as T);
      }}
      className="inline-flex flex-wrap border border-rule-strong rounded-sm overflow-hidden print:hidden"
    >
      {options.map((option) => (
        <ToggleGroup.Item
          key={option.value}
          value={option.value}
          className={clsx(
            "px-2.5 py-1 text-sm border-r border-rule last:border-r-0",
            "data-[state=on]:bg-ink data-[state=on]:text-paper data-[state=off]:hover:bg-tint",
          )}
        >
          {option.label}
        </ToggleGroup.Item>
      ))}
    </ToggleGroup.Root>
  );
}
