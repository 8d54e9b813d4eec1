import { type ReactNode, useState } from "react";
import { Button } from "../../ui/controls.js";

interface WhyFormProps {
  /** What is asked, for assistive technology. */
  label: string;
  /** What happens then, as one word or two. */
  verb: string;
  /** What is likely the reason. */
  likely?: string;
  isBusy: boolean;
  onSubmit: (why: string) => void;
  onCancel: () => void;
  children?: ReactNode;
}

/** Asks in a line of a table for the reason of what is about to be done, since the audit trail keeps it. Escape leaves it be. */
export function WhyForm({ label, verb, likely = "", isBusy, onSubmit, onCancel, children }: WhyFormProps) {
  const [why, setWhy] = useState(likely);
  return (
    <form
      className="inline-flex items-center gap-1"
      onSubmit={(event) => {
        event.preventDefault();
        onSubmit(why);
      }}
    >
      <input
        aria-label={label}
        placeholder="why"
        autoFocus
        maxLength={300}
        value={why}
        onChange={(event) => setWhy(event.target.value)}
        onKeyDown={(event) => {
          if (event.key === "Escape") onCancel();
        }}
        className="h-6 w-48 rounded border border-rule bg-sheet px-2 text-[13px] text-ink"
      />
      <Button compact type="submit" disabled={why.trim() === "" || isBusy}>
        {verb}
      </Button>
      {children}
    </form>
  );
}
