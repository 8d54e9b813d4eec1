import type { WalkthroughStep } from "@tourney/core/contract";
import { type PointerEvent, useState } from "react";
import { listPoints, setTarget, type StepPoint } from "./walkthrough-steps.js";

interface StageMapProps {
  steps: readonly (WalkthroughStep | null)[];
  selected: number;
  viewport: { width: number; height: number };
  /** Address of a picture of the page at that moment, where one was recorded. */
  picture: string | null;
  onChange: (step: WalkthroughStep) => void;
}

const LEAST_DRAG_PX = 8;

/** The page in small, to aim an input at: a click sets a click's place, a drag the ends of a drag. */
export function StageMap({ steps, selected, viewport, picture, onChange }: StageMapProps) {
  const [from, setFrom] = useState<{ x: number; y: number } | null>(null);
  const step = steps[selected] ?? null;
  const canAim = step !== null && ("click" in step || "drag" in step || "tap" in step || "swipe" in step);
  const place = (event: PointerEvent<HTMLElement>) => {
    const box = event.currentTarget.getBoundingClientRect();
    const along = (share: number, length: number) => Math.min(length - 1, Math.max(0, Math.round(share * length)));
    return {
      x: along((event.clientX - box.left) / box.width, viewport.width),
      y: along((event.clientY - box.top) / box.height, viewport.height),
    };
  };
  const onPointerDown = (event: PointerEvent<HTMLElement>) => {
    if (step === null || event.button !== 0) return;
    if ("click" in step) onChange(setTarget(step, "click", place(event)));
    if ("drag" in step) {
      event.currentTarget.setPointerCapture(event.pointerId);
      setFrom(place(event));
    }
  };
  const onPointerUp = (event: PointerEvent<HTMLElement>) => {
    if (from === null || step === null) return;
    setFrom(null);
    const to = place(event);
    // A press without a way sets the end that is nearer.
    const isPress = Math.hypot(to.x - from.x, to.y - from.y) < LEAST_DRAG_PX;
    onChange(isPress ? setTarget(step, nearestPart(step, to), to) : setTarget(setTarget(step, "from", from), "to", to));
  };
  const percent = (value: number, of: number) => `${(value / of) * 100}%`;
  return (
    <figure className="m-0">
      <div
        role="img"
        aria-label="The page in small, with the places of the inputs"
        onPointerDown={onPointerDown}
        onPointerUp={onPointerUp}
        className={`relative touch-none overflow-hidden border border-rule bg-sheet ${canAim ? "cursor-crosshair" : ""}`}
        style={{ aspectRatio: `${viewport.width} / ${viewport.height}` }}
      >
        {picture === null ? null : (
          <img src={picture} alt="" draggable={false} className="absolute inset-0 size-full object-fill" />
        )}
        {steps.flatMap((item, index) =>
          (item === null ? [] : listPoints(item)).map(({ part, x, y }) => (
            <span
              key={`${index} ${part}`}
              className={`pointer-events-none absolute grid size-5 -translate-x-1/2 -translate-y-1/2 place-items-center rounded-full border font-mono text-[11px] leading-none ${index === selected ? "border-on-act bg-act text-on-act" : "border-ink bg-sheet text-ink opacity-70"}`}
              style={{ left: percent(x, viewport.width), top: percent(y, viewport.height) }}
            >
              {part === "to" ? "→" : index + 1}
            </span>
          )),
        )}
      </div>
      <figcaption className="mt-1 text-[12px] text-soft">
        {canAim
          ? picture === null
            ? "Click to aim. A picture of the page shows here once one was recorded."
            : "Click to aim, on what an entrant has built for it."
          : "A key or a text goes to where the focus is."}
      </figcaption>
    </figure>
  );
}

function nearestPart(step: WalkthroughStep, { x, y }: { x: number; y: number }): StepPoint["part"] {
  const points = listPoints(step);
  const byDistance = [...points].sort((a, b) => Math.hypot(a.x - x, a.y - y) - Math.hypot(b.x - x, b.y - y));
  return byDistance[0]?.part ?? "to";
}
