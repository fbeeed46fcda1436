import { ChevronDown } from "lucide-react";
import { DropdownMenu } from "radix-ui";
import type { ReactNode } from "react";
import { Button } from "./Button";

/** What is done seldom, behind one button. */
export function Menu({ label, children }: { label: string; children: ReactNode }) {
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger asChild>
        <Button strength="quiet">
          {label}
          <ChevronDown size={16} aria-hidden />
        </Button>
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="end"
          sideOffset={4}
          className="z-30 min-w-48 border border-rule-strong bg-paper py-1 shadow-md"
        >
          {children}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

const ITEM =
  "block w-full cursor-default px-3 py-1.5 outline-none data-[highlighted]:bg-tint data-[disabled]:opacity-50";

interface ItemProps {
  onSelect: () => void;
  disabled?: boolean;
  children: ReactNode;
}

export function MenuItem({ onSelect, disabled = false, children }: ItemProps) {
  return (
    <DropdownMenu.Item className={ITEM} disabled={disabled} onSelect={onSelect}>
      {children}
    </DropdownMenu.Item>
  );
}

/** An entry that brings a file to this computer. */
export function MenuDownload({ href, children }: { href: string; children: ReactNode }) {
  return (
    <DropdownMenu.Item className={ITEM} asChild>
      <a href={href} download>
        {children}
      </a>
    </DropdownMenu.Item>
  );
}
