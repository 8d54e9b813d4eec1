import { Popover } from "radix-ui";
import type { ReactNode } from "react";

interface MenuProps {
  /** What the button says. */
  label: ReactNode;
  /** What is inside, for those who do not see it. */
  name: string;
  /** Dark: something is chosen in it. */
  isChosen?: boolean;
  title?: string;
  align?: "start" | "end";
  className?: string;
  onOpen?: () => void;
  children: ReactNode;
}

/** A small button that opens a sheet with choices. */
export function PopoverMenu({
  label,
  name,
  isChosen = false,
  title,
  align = "start",
  className = "w-72",
  onOpen,
  children,
}: MenuProps) {
  const tone = isChosen ? "border-ink bg-ink text-ground" : "border-rule bg-sheet text-ink hover:border-ink";
  return (
    <Popover.Root onOpenChange={(isOpen) => (isOpen ? onOpen?.() : undefined)}>
      <Popover.Trigger
        title={title}
        className={`inline-flex h-6 max-w-64 items-center gap-1.5 rounded border px-2.5 text-[13px] whitespace-nowrap ${tone}`}
      >
        <span className="truncate">{label}</span>
        <span aria-hidden="true" className="text-[9px]">
          ▼
        </span>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align={align}
          sideOffset={4}
          aria-label={name}
          className={`z-40 grid max-h-[min(70vh,var(--radix-popover-content-available-height))] max-w-[calc(100vw-32px)] gap-3 overflow-auto rounded border border-rule bg-sheet p-3 text-[13px] shadow-lg ${className}`}
        >
          {children}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
