import { RULE_WORDS } from "@tourney/core/page";
import { useState } from "react";
import { Button } from "./controls.js";
import { FINDING_RULES, FindingMark } from "./FindingMark.js";
import { Sheet } from "./Sheet.js";

/** All findings with their marks, what each means and how it can err. */
export function RuleGuide() {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button compact tone="quiet" onClick={() => setOpen(true)}>
        What the marks mean
      </Button>
      <Sheet
        title="Findings"
        description="What a recording notices by itself. None of it is a judgement: look before you conclude."
        open={open}
        onOpenChange={setOpen}
      >
        <dl className="m-0">
          {FINDING_RULES.map((rule) => {
            const { word, meaning, canErr } = RULE_WORDS[rule];
            return (
              <div key={rule} className="grid grid-cols-[24px_132px_1fr] border-b border-rule py-2">
                <span className="pt-1">
                  <FindingMark rule={rule} severity="error" />
                </span>
                <dt className="font-semibold">{word}</dt>
                <dd className="m-0">
                  {meaning} <span className="text-soft">Can err: {lowerFirst(canErr)}</span>
                </dd>
              </div>
            );
          })}
        </dl>
      </Sheet>
    </>
  );
}

const lowerFirst = (text: string) => `${text[0]!.toLowerCase()}${text.slice(1)}`;
