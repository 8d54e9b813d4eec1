import type { Compared } from "@tourney/core/compare";
import type { SharedInput } from "@tourney/core/stage";
import { useEffect, useRef, useState } from "react";
import { Stage } from "../../ui/Stage.js";
import { Caption, StageGrid } from "./Stages.js";

/** A stage that found nothing to act on says so for this long. */
const NOTE_MS = 2500;
/** Those that are ready begin without one that is not after this time. */
const LONGEST_WAIT_MS = 8000;

interface LiveStagesProps {
  compared: readonly Compared[];
  restart: number;
  /** Whether what is done in one stage is done in all. */
  isShared: boolean;
  isLoud: boolean;
  /** A stage has got the keyboard, or has it no more. */
  onFocusChange: (name: string, hasKeyboard: boolean) => void;
}

/** The pages live. They begin at one instant, and what is done in one may be done in all of them. */
export function LiveStages({ compared, restart, isShared, isLoud, onFocusChange }: LiveStagesProps) {
  const show = `${restart} ${compared.map(({ entry }) => entry.id).join(" ")}`;
  // What was ready before a restart is not ready after it.
  return <LiveShow key={show} {...{ compared, restart, isShared, isLoud, onFocusChange }} />;
}

function LiveShow({ compared, restart, isShared, isLoud, onFocusChange }: LiveStagesProps) {
  const [ready, setReady] = useState<ReadonlySet<string>>(new Set());
  const [isLate, setIsLate] = useState(false);
  const [notes, setNotes] = useState<Record<string, string>>({});
  const acts = useRef(new Map<string, (input: SharedInput) => void>());
  const live = compared.filter(({ entry }) => entry.liveUrl !== null);
  const hasBegun = isLate || live.every(({ entry }) => ready.has(entry.id));
  useEffect(() => {
    const timer = setTimeout(() => setIsLate(true), LONGEST_WAIT_MS);
    return () => clearTimeout(timer);
  }, []);
  useEffect(() => {
    if (Object.keys(notes).length === 0) return;
    const timer = setTimeout(() => setNotes({}), NOTE_MS);
    return () => clearTimeout(timer);
  }, [notes]);

  const sharingOf = (own: string) => ({
    onInput: (input: SharedInput) => {
      for (const [id, act] of acts.current) if (isShared && id !== own) act(input);
    },
    onActed: (found: boolean, what: string) => {
      if (!found) setNotes((now) => ({ ...now, [own]: `nothing to act on: ${what}` }));
    },
    connect: (act: ((input: SharedInput) => void) | null) => {
      if (act === null) acts.current.delete(own);
      else acts.current.set(own, act);
    },
  });
  return (
    <StageGrid count={compared.length}>
      {compared.map((item) => {
        const { entry } = item;
        return (
          <div key={entry.id} className="min-w-0">
            <div className="relative border border-rule">
              {entry.liveUrl === null ? (
                <p className="hatched m-0 grid aspect-[16/10] place-items-center">Nothing to show</p>
              ) : (
                <Stage
                  url={`${entry.liveUrl}?shared=1`}
                  title={`${entry.prompt.title} by ${entry.entrant.name}, live`}
                  viewport={entry.prompt.viewport}
                  restart={restart}
                  held={{
                    hasBegun,
                    isLoud,
                    onReady: () => setReady((now) => new Set([...now, entry.id])),
                    onAway: (isAway) => {
                      if (isAway) setNotes((now) => ({ ...now, [entry.id]: "it has gone elsewhere" }));
                    },
                  }}
                  sharing={sharingOf(entry.id)}
                  onFocusChange={(has) => onFocusChange(entry.entrant.name, has)}
                />
              )}
              {hasBegun ? null : (
                <span className="absolute inset-0 grid place-items-center bg-sheet text-soft">Getting all ready …</span>
              )}
            </div>
            <Caption compared={item} note={notes[entry.id] ?? null} />
          </div>
        );
      })}
    </StageGrid>
  );
}
