import { Dialog } from "radix-ui";
import type { ReactNode } from "react";
import { Button } from "./controls.js";

interface SheetProps {
  title: string;
  description: string;
  open: boolean;
  onOpenChange: (open: boolean) => void;
  children: ReactNode;
}

/** A dialog over the page; Escape closes it and the focus goes back where it was. */
export function Sheet({ title, description, open, onOpenChange, children }: SheetProps) {
  return (
    <Dialog.Root open={open} onOpenChange={onOpenChange}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-[#0008]" />
        <Dialog.Content className="fixed top-[6vh] left-1/2 z-50 max-h-[88vh] w-[min(720px,94vw)] -translate-x-1/2 overflow-auto rounded border border-rule bg-ground p-6 shadow-xl">
          <div className="mb-4 flex items-start justify-between gap-4">
            <div>
              <Dialog.Title className="m-0 text-[20px] leading-6">{title}</Dialog.Title>
              <Dialog.Description className="m-0 mt-1 text-soft">{description}</Dialog.Description>
            </div>
            <Dialog.Close asChild>
              <Button aria-label="Close">Esc</Button>
            </Dialog.Close>
          </div>
          {children}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
