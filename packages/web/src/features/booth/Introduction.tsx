import { useEffect, useState } from "react";
import { Button, Kbd } from "../../ui/controls.js";
import { actionOfKey } from "./ballot-draft.js";
import { Lean } from "./Lean.js";

const STEPS = [
  "Two pages, built for the same task. Play with both: click into one and its keys are yours to try; Esc takes them back.",
  "Lean to the one you would rather have. Press 1 to 5, or choose a notch.",
  "Enter confirms and brings the next two. Backspace takes the last one back.",
] as const;

/** Twenty seconds on a made-up bout that does not count, before the first real one. */
export function Introduction({ onDone }: { onDone: () => void }) {
  const [lean, setLean] = useState<number | null>(null);
  const [isConfirmed, setIsConfirmed] = useState(false);
  const step = isConfirmed ? 3 : lean === null ? 0 : 2;
  useEffect(() => {
    const onKeyDown = (event: KeyboardEvent) => {
      if (event.key === "Escape") onDone();
      const action = actionOfKey(event.key);
      if (action?.type === "lean") setLean(action.lean);
      else if (action?.type === "takeBack") setIsConfirmed(false);
      else if (action?.type === "confirm" && lean !== null && !(event.target instanceof HTMLButtonElement)) {
        if (isConfirmed) onDone();
        else setIsConfirmed(true);
      }
    };
    window.addEventListener("keydown", onKeyDown);
    return () => window.removeEventListener("keydown", onKeyDown);
  }, [lean, isConfirmed, onDone]);
  return (
    <main className="mx-auto flex min-h-screen max-w-[900px] flex-col px-6 py-8 max-[640px]:px-3">
      <h1 className="m-0 text-[24px] leading-8">How it works</h1>
      <p className="m-0 mt-1 text-soft">A made-up pair to try the keys on. It does not count.</p>
      <div className="mt-5 grid grid-cols-2 gap-4">
        <MadeUpPage label="Left page" hand={40} isPlain />
        <MadeUpPage label="Right page" hand={130} isPlain={false} />
      </div>
      <div className="py-6">
        <Lean lean={lean} name="introduction" onChange={setLean} />
      </div>
      <ol className="m-0 grid list-none gap-2 p-0">
        {STEPS.map((text, index) => (
          <li
            key={text}
            aria-current={step === index ? "step" : undefined}
            className={`flex gap-3 border-l-3 px-3 py-1 ${index < step ? "border-sound text-soft" : step === index || (step === 0 && index === 1) ? "border-ink" : "border-rule text-soft"}`}
          >
            <span className="figures w-4">{index + 1}</span> {text}
          </li>
        ))}
      </ol>
      <p role="status" className="m-0 mt-3 min-h-6">
        {isConfirmed ? "That is all there is to it." : lean !== null ? "Now press Enter." : ""}
      </p>
      <div className="mt-3 flex items-center gap-3">
        <Button tone="primary" onClick={onDone}>
          Start voting
        </Button>
        <span className="text-[13px] text-soft">
          <Kbd>Esc</Kbd> skips this. Names are hidden in the pages: dots stand in their place.
        </span>
      </div>
    </main>
  );
}

/** A clock face, drawn with more or less care. */
function MadeUpPage({ label, hand, isPlain }: { label: string; hand: number; isPlain: boolean }) {
  return (
    <figure className="m-0 border border-rule">
      <svg viewBox="0 0 320 200" role="img" aria-label={label} className="block w-full">
        <rect width="320" height="200" fill={isPlain ? "#ffffff" : "#16324a"} />
        <circle cx="160" cy="100" r="70" fill={isPlain ? "none" : "#f6f4ee"} stroke="#1b2430" strokeWidth="2" />
        {isPlain
          ? null
          : Array.from({ length: 12 }, (_, hour) => (
              <line
                key={hour}
                x1="160"
                y1="36"
                x2="160"
                y2="46"
                stroke="#1b2430"
                strokeWidth="3"
                transform={`rotate(${hour * 30} 160 100)`}
              />
            ))}
        <line
          x1="160"
          y1="100"
          x2="160"
          y2="52"
          stroke="#1b2430"
          strokeWidth="3"
          transform={`rotate(${hand} 160 100)`}
        />
        <line
          x1="160"
          y1="100"
          x2="160"
          y2="66"
          stroke="#1b2430"
          strokeWidth="5"
          transform={`rotate(${hand * 3} 160 100)`}
        />
      </svg>
    </figure>
  );
}
