import { findFrame, type Compared } from "@tourney/core/compare";
import type { EntryDetail, Recording } from "@tourney/core/contract";
import { describeInput } from "@tourney/core/page";
import { useRef } from "react";
import { EntrantGlyph } from "../../ui/glyphs.js";
import { FindingMark } from "../../ui/FindingMark.js";
import { pictureUrl } from "../../ui/Picture.js";
import type { Clock } from "./use-clock.js";

const LABEL_PX = 120;
/** An input that is not held is drawn as long as this, so that it can be seen. */
const SHORTEST_INPUT_MS = 60;

/** The score of the comparison: inputs on top, a lane for each entry with its strip, its findings and what each input changed, one playhead. */
export function Score({ compared, clock }: { compared: readonly Compared[]; clock: Clock }) {
  const lanes = useRef<HTMLDivElement>(null);
  const share = (atMs: number) => `${Math.min(100, (atMs / clock.endMs) * 100)}%`;
  const seekTo = (clientX: number) => {
    const box = lanes.current!.getBoundingClientRect();
    clock.seek(((clientX - box.left - LABEL_PX) / (box.width - LABEL_PX)) * clock.endMs);
  };
  return (
    <div
      ref={lanes}
      className="relative cursor-ew-resize select-none"
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        seekTo(event.clientX);
      }}
      onPointerMove={(event) => {
        if (event.buttons === 1) seekTo(event.clientX);
      }}
    >
      <Seconds clock={clock} share={share} />
      <Inputs entry={compared[0]!.entry} share={share} />
      {compared.map(({ entry }) => (
        <Lane key={entry.id} entry={entry} clock={clock} share={share} />
      ))}
      <div className="pointer-events-none absolute inset-y-0 right-0" style={{ left: LABEL_PX }}>
        <div
          role="slider"
          tabIndex={0}
          aria-label="Time"
          aria-valuemin={0}
          aria-valuemax={clock.endMs}
          aria-valuenow={Math.round(clock.atMs)}
          aria-valuetext={`${(clock.atMs / 1000).toFixed(1)} s`}
          className="absolute inset-y-0 w-0.5 -translate-x-1/2 bg-act"
          style={{ left: share(clock.atMs) }}
        >
          <span className="absolute top-0 left-1/2 -translate-x-1/2 bg-act px-1.5 font-mono whitespace-nowrap text-[11px] leading-5 text-on-act">
            {(clock.atMs / 1000).toFixed(1)} s
          </span>
        </div>
      </div>
    </div>
  );
}

type Share = (atMs: number) => string;
type Input = EntryDetail["prompt"]["walkthrough"][number];

const ARROWS: Readonly<Record<string, string>> = { ArrowUp: "↑", ArrowDown: "↓", ArrowLeft: "←", ArrowRight: "→" };

/** An input in as few letters as a score has room for. */
const nameInput = (step: Input): string =>
  describeInput(step, null)
    .replace(/^key /, "")
    .replace(/Arrow\w+/g, (key) => ARROWS[key] ?? key);

function Seconds({ clock, share }: { clock: Clock; share: Share }) {
  const whole = Math.floor(clock.endMs / 1000);
  return (
    <div className="flex border-b border-strong-rule pb-1">
      <span className="shrink-0 text-[13px] text-soft" style={{ width: LABEL_PX }}>
        {clock.endMs / 1000} s, one clock
      </span>
      <span className="relative h-5 flex-1">
        {Array.from({ length: whole + 1 }, (_, second) => (
          <span
            key={second}
            className={`figures absolute text-[13px] text-soft ${second * 1000 >= clock.endMs ? "-translate-x-full" : ""}`}
            style={{ left: share(second * 1000) }}
          >
            {second}
          </span>
        ))}
      </span>
    </div>
  );
}

function Inputs({ entry, share }: { entry: EntryDetail; share: Share }) {
  const { walkthrough } = entry.prompt;
  return (
    <div className="flex min-h-8 items-center border-b border-rule">
      <span className="shrink-0 text-[13px] leading-4 text-soft" style={{ width: LABEL_PX }}>
        {walkthrough.length === 0 ? "no inputs of its own" : "inputs, to all"}
      </span>
      <span className="relative h-7 flex-1">
        {walkthrough.map((step, index) => {
          const held = "holdMs" in step ? step.holdMs : 0;
          const next = walkthrough[index + 1]?.atMs;
          return (
            <span key={index}>
              <span
                className="absolute top-2 h-3 bg-ink"
                style={{ left: share(step.atMs), width: share(Math.max(SHORTEST_INPUT_MS, held)) }}
              />
              <span
                className="absolute top-1.5 truncate pl-1 font-mono text-[11px] leading-4 text-soft"
                style={{
                  left: share(step.atMs + Math.max(SHORTEST_INPUT_MS, held)),
                  ...(next === undefined ? {} : { maxWidth: share(Math.max(0, next - step.atMs - held)) }),
                }}
              >
                {nameInput(step)}
              </span>
            </span>
          );
        })}
      </span>
    </div>
  );
}

function Lane({ entry, clock, share }: { entry: EntryDetail; clock: Clock; share: Share }) {
  const recording = entry.render?.recording ?? null;
  return (
    <div className="flex border-b border-rule py-1.5">
      <span className="flex shrink-0 items-start gap-1.5 pt-3 pr-2 text-[13px]" style={{ width: LABEL_PX }}>
        <EntrantGlyph glyph={entry.entrant.glyph} />
        <span className="line-clamp-2 leading-4">{entry.entrant.name}</span>
      </span>
      <span className="relative block min-w-0 flex-1">
        {recording === null ? (
          <span className="hatched flex h-11 items-center px-3 text-[13px]">Not recorded</span>
        ) : (
          <>
            <Strip recording={recording} clock={clock} share={share} />
            <Marks recording={recording} share={share} />
          </>
        )}
      </span>
    </div>
  );
}

function Strip({ recording: { frames }, clock, share }: { recording: Recording; clock: Clock; share: Share }) {
  const shown = findFrame(frames, clock.atMs);
  return (
    <span className="relative block h-11">
      {frames.map(({ atMs, thumbnail }, index) => {
        const until = frames[index + 1]?.atMs ?? clock.endMs;
        return (
          <img
            key={atMs}
            src={pictureUrl(thumbnail)}
            alt=""
            draggable={false}
            className={`absolute top-0 h-11 border-r border-ground bg-sheet object-cover ${atMs === shown?.atMs ? "outline-2 -outline-offset-2 outline-act" : ""}`}
            style={{ left: share(atMs), width: share(Math.max(until - atMs, 0)) }}
          />
        );
      })}
    </span>
  );
}

/** What the recording noticed, each at its moment: findings by their shapes, and whether each input changed something. */
function Marks({ recording: { findings, steps }, share }: { recording: Recording; share: Share }) {
  return (
    <span className="relative block h-4">
      {steps.map(({ atMs, effect, input, control }, index) =>
        effect === "changed" || effect === "none" ? (
          <span
            key={index}
            title={`${describeInput(input, control)}: ${effect === "changed" ? "the page answered" : "nothing happened"}`}
            className={`absolute top-1 text-[11px] leading-3 ${effect === "changed" ? "text-sound" : "text-broken"}`}
            style={{ left: share(atMs) }}
          >
            {effect === "changed" ? "✓" : "✕"}
          </span>
        ) : null,
      )}
      {findings
        .filter(({ atMs, severity }) => atMs !== null && severity !== "note")
        .map(({ atMs, rule, severity, message }) => (
          <span
            key={`${rule}${message}`}
            title={message}
            className="absolute top-0.5 pl-3"
            style={{ left: share(atMs!) }}
          >
            <FindingMark rule={rule} severity={severity} />
          </span>
        ))}
    </span>
  );
}
