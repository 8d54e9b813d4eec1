import type { StripFrame, WalkthroughStep } from "@tourney/core/contract";
import { type KeyboardEvent, type PointerEvent, useRef, useState } from "react";
import { Button } from "../../ui/controls.js";
import { frameAt, pictureUrl } from "../../ui/Picture.js";
import { StageMap } from "./StageMap.js";
import { StepTargets, TargetFields } from "./StepTargets.js";
import { TypedField } from "./TypedField.js";
import {
  describeStep,
  holdOf,
  holdStep,
  moveStep,
  newStep,
  readSteps,
  setTarget,
  SNAP_MS,
  type StepKind,
  toFileStep,
} from "./walkthrough-steps.js";

interface WalkthroughEditorProps {
  /** As the file has them. */
  steps: readonly unknown[];
  seconds: number;
  viewport: { width: number; height: number };
  frames: readonly StripFrame[];
  issueAt: (step: number) => string | undefined;
  onChange: (steps: unknown[]) => void;
}

const ADDABLE: readonly [StepKind, string][] = [
  ["key", "Key"],
  ["click", "Click"],
  ["drag", "Drag"],
  ["move", "Move"],
  ["wheel", "Wheel"],
  ["type", "Text"],
  ["paste", "Paste"],
  ["tap", "Tap"],
  ["swipe", "Swipe"],
  ["reload", "Load again"],
  ["resize", "Window size"],
];

/** The walkthrough on the recording's clock: inputs are moved and held by pointer or arrow keys, and aimed on a picture of the page. */
export function WalkthroughEditor({
  steps: values,
  seconds,
  viewport,
  frames,
  issueAt,
  onChange,
}: WalkthroughEditorProps) {
  const [selected, setSelected] = useState<number | null>(null);
  const steps = readSteps(values);
  const replace = (index: number, step: WalkthroughStep) =>
    onChange(values.map((value, at) => (at === index ? toFileStep(step) : value)));
  const remove = (index: number) => {
    setSelected(null);
    onChange(values.filter((_, at) => at !== index));
  };
  const add = (kind: StepKind) => {
    const known = steps.filter((step) => step !== null);
    setSelected(values.length);
    onChange([...values, toFileStep(newStep(kind, known, { seconds, viewport }))]);
  };
  const step = selected === null ? null : (steps[selected] ?? null);
  const picture = step === null ? undefined : frameAt(frames, Math.min(0.999, step.atMs / (seconds * 1000)));
  return (
    <div>
      {values.length === 0 ? <p className="m-0 mb-2 text-soft">Nothing is pressed.</p> : null}
      <ol className="m-0 list-none border-b border-ink p-0" aria-label="Inputs by time">
        {steps.map((item, index) => (
          <li key={index} className={`relative h-7 ${selected === index ? "bg-sheet" : ""}`}>
            {item === null ? (
              <UnreadableStep index={index} issue={issueAt(index)} onRemove={() => remove(index)} />
            ) : (
              <StepBar
                step={item}
                index={index}
                seconds={seconds}
                isSelected={selected === index}
                hasIssue={issueAt(index) !== undefined}
                onSelect={() => setSelected(index)}
                onChange={(next) => replace(index, next)}
                onRemove={() => remove(index)}
              />
            )}
          </li>
        ))}
      </ol>
      <div className="flex justify-between font-mono text-[11px] text-soft" aria-hidden="true">
        {Array.from({ length: Math.floor(seconds) + 1 }, (_, second) => (
          <span key={second}>{second}</span>
        ))}
      </div>
      <div className="mt-2 flex flex-wrap items-center gap-2">
        <span className="text-soft">Add</span>
        {ADDABLE.map(([kind, label]) => (
          <Button key={kind} compact onClick={() => add(kind)}>
            {label}
          </Button>
        ))}
        {values.length > 0 ? (
          <span className="ml-auto text-[12px] text-soft">
            Drag an input, or ← → to move it, Alt ← → to hold it longer, Delete to remove it
          </span>
        ) : null}
      </div>
      {selected !== null && step !== null ? (
        <div
          className="mt-3 grid grid-cols-[minmax(0,1fr)_minmax(0,1fr)] gap-4"
          role="group"
          aria-label={`Input ${selected + 1}`}
        >
          <StepFields
            key={selected}
            step={step}
            seconds={seconds}
            issue={issueAt(selected)}
            onChange={(next) => replace(selected, next)}
          />
          <StageMap
            steps={steps}
            selected={selected}
            viewport={viewport}
            picture={picture === undefined ? null : pictureUrl(picture.file)}
            onChange={(next) => replace(selected, next)}
          />
        </div>
      ) : null}
    </div>
  );
}

function UnreadableStep({
  index,
  issue,
  onRemove,
}: {
  index: number;
  issue: string | undefined;
  onRemove: () => void;
}) {
  return (
    <span className="flex h-full items-center gap-2 text-broken">
      Input {index + 1} cannot be read{issue ? `: ${issue}` : ""}. Correct it in the file, or
      <Button compact onClick={onRemove}>
        remove it
      </Button>
    </span>
  );
}

interface StepBarProps {
  step: WalkthroughStep;
  index: number;
  seconds: number;
  isSelected: boolean;
  hasIssue: boolean;
  onSelect: () => void;
  onChange: (step: WalkthroughStep) => void;
  onRemove: () => void;
}

/** One input as a bar. While it is dragged the change is only shown; letting go makes it one step to undo. */
function StepBar({ step, index, seconds, isSelected, hasIssue, onSelect, onChange, onRemove }: StepBarProps) {
  const lane = useRef<HTMLSpanElement>(null);
  const [dragged, setDragged] = useState<WalkthroughStep | null>(null);
  const shown = dragged ?? step;
  const lengthMs = seconds * 1000;
  const percent = (ms: number) => `${Math.min(100, (ms / lengthMs) * 100)}%`;
  const end = shown.atMs + holdOf(shown);

  const startDrag = (event: PointerEvent<HTMLElement>, part: "time" | "hold") => {
    if (event.button !== 0) return;
    onSelect();
    const handle = event.currentTarget;
    const startX = event.clientX;
    const width = lane.current?.getBoundingClientRect().width ?? 0;
    if (width === 0) return;
    handle.setPointerCapture(event.pointerId);
    const at = (moved: globalThis.PointerEvent) => {
      const byMs = ((moved.clientX - startX) / width) * lengthMs;
      return part === "time" ? moveStep(step, step.atMs + byMs, seconds) : holdStep(step, holdOf(step) + byMs);
    };
    const onMove = (moved: globalThis.PointerEvent) => setDragged(at(moved));
    const finish = (moved: globalThis.PointerEvent) => {
      handle.removeEventListener("pointermove", onMove);
      setDragged(null);
      const next = at(moved);
      if (moved.type === "pointerup" && describeTimes(next) !== describeTimes(step)) onChange(next);
    };
    handle.addEventListener("pointermove", onMove);
    handle.addEventListener("pointerup", finish, { once: true });
    handle.addEventListener("pointercancel", finish, { once: true });
  };
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.key === "Delete" || event.key === "Backspace") onRemove();
    const direction = event.key === "ArrowLeft" ? -1 : event.key === "ArrowRight" ? 1 : 0;
    if (direction === 0) return;
    event.preventDefault();
    const byMs = direction * (event.shiftKey ? 10 * SNAP_MS : SNAP_MS);
    onChange(event.altKey ? holdStep(step, holdOf(step) + byMs) : moveStep(step, step.atMs + byMs, seconds));
  };
  return (
    <span ref={lane} className="absolute inset-0">
      <button
        type="button"
        aria-label={`Input ${index + 1}: ${describeStep(shown)} at ${shown.atMs / 1000} s`}
        aria-pressed={isSelected}
        onClick={onSelect}
        onKeyDown={onKeyDown}
        onPointerDown={(event) => startDrag(event, "time")}
        className={`absolute top-1 h-5 touch-none cursor-grab p-0 active:cursor-grabbing ${hasIssue ? "bg-broken" : isSelected ? "bg-act" : "bg-ink"}`}
        style={{ left: `min(${percent(shown.atMs)}, calc(100% - 6px))`, width: `max(6px, ${percent(holdOf(shown))})` }}
      />
      {"holdMs" in shown ? (
        <span
          aria-hidden="true"
          title="Drag to hold it longer"
          onPointerDown={(event) => startDrag(event, "hold")}
          className="absolute top-1 h-5 w-2 touch-none cursor-ew-resize"
          style={{ left: `max(${percent(end)}, calc(${percent(shown.atMs)} + 6px))` }}
        />
      ) : null}
      <span
        className="pointer-events-none absolute top-1 font-mono text-[11px] leading-5 whitespace-nowrap"
        style={
          shown.atMs > lengthMs - end
            ? { right: `calc(100% - ${percent(shown.atMs)} + 6px)` }
            : { left: `calc(${percent(end)} + 14px)` }
        }
      >
        {describeStep(shown)} <span className="text-soft">at {(shown.atMs / 1000).toFixed(2)} s</span>
      </span>
    </span>
  );
}

const describeTimes = (step: WalkthroughStep) => `${step.atMs} ${holdOf(step)}`;

interface StepFieldsProps {
  step: WalkthroughStep;
  seconds: number;
  issue: string | undefined;
  onChange: (step: WalkthroughStep) => void;
}

function StepFields({ step, seconds, issue, onChange }: StepFieldsProps) {
  const number = (text: string, fallback: number) =>
    text.trim() !== "" && Number.isFinite(Number(text)) ? Number(text) : fallback;
  return (
    <div className="grid grid-cols-2 content-start gap-x-4 gap-y-2">
      <TypedField
        label="At"
        hint="ms of page time"
        value={String(step.atMs)}
        error={issue}
        onText={(text) => onChange(moveStep(step, number(text, step.atMs), seconds))}
      />
      {"holdMs" in step ? (
        <TypedField
          label={"key" in step ? "Held for" : "Takes"}
          hint="ms"
          value={String(step.holdMs)}
          onText={(text) => onChange(holdStep(step, number(text, step.holdMs)))}
        />
      ) : (
        <span />
      )}
      {"key" in step ? (
        <TypedField
          className="col-span-2"
          label="Key"
          hint="As in ArrowRight, Space, Delete, a or Control+z"
          value={step.key}
          onText={(text) => (text.trim() === "" ? undefined : onChange({ ...step, key: text.trim() }))}
        />
      ) : null}
      {"type" in step ? (
        <TypedField
          className="col-span-2"
          label="Text"
          hint="Typed where the focus is"
          value={step.type}
          onText={(text) => (text === "" ? undefined : onChange({ ...step, type: text }))}
        />
      ) : null}
      {"paste" in step ? (
        <TypedField
          className="col-span-2"
          label="Text"
          hint="Pasted where the focus is"
          value={step.paste}
          onText={(text) => (text === "" ? undefined : onChange({ ...step, paste: text }))}
        />
      ) : null}
      {"wheel" in step ? (
        <>
          <TypedField
            label="By"
            hint="CSS px across, down"
            value={`${step.wheel.byX}, ${step.wheel.byY}`}
            onText={(text) => {
              const [byX, byY] = text.split(/[,\s]+/).map(Number);
              if (Number.isFinite(byX) && Number.isFinite(byY))
                onChange({ ...step, wheel: { ...step.wheel, byX: byX!, byY: byY! } });
            }}
          />
          <span />
          <TargetFields
            label="Where"
            target={step.wheel.at}
            onTarget={(target) => onChange(setTarget(step, "at", target))}
          />
        </>
      ) : null}
      {"resize" in step ? (
        <TypedField
          className="col-span-2"
          label="New size"
          hint="CSS px, as in 640 × 800"
          value={`${step.resize.width} × ${step.resize.height}`}
          onText={(text) => {
            const [width, height] = text.split(/[×x,\s]+/).map(Number);
            if (Number.isInteger(width) && Number.isInteger(height))
              onChange({ ...step, resize: { width: width!, height: height! } });
          }}
        />
      ) : null}
      <StepTargets step={step} onChange={onChange} />
    </div>
  );
}
