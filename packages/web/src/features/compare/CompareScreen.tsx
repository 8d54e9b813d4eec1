import type { Compared } from "@tourney/core/compare";
import { useMemo, useState } from "react";
import { useSearchParams } from "react-router";
import { EditionLink } from "../../api/edition-links.js";
import { useKeys } from "../../lib/use-keys.js";
import { Button, Kbd, Toggle } from "../../ui/controls.js";
import { EntrantGlyph } from "../../ui/glyphs.js";
import { EmptyScreen, ErrorNotice, Loading } from "../../ui/notices.js";
import { Additions } from "./Additions.js";
import { CodeBeside } from "./CodeBeside.js";
import { nameOfCompared } from "./figure-table.js";
import { Figures } from "./Figures.js";
import { LiveStages } from "./LiveStages.js";
import { Pages } from "./Pages.js";
import { Score } from "./Score.js";
import { RecordedStages } from "./Stages.js";
import { Swipe } from "./Swipe.js";
import { type Clock, useClock } from "./use-clock.js";
import { useChosen, useCompared } from "./use-compared.js";

const MODES = { together: "Together", live: "Live", swipe: "Swipe", pages: "Pages", code: "Code" } as const;
type Mode = keyof typeof MODES;

/** Two to six entries under one clock. The address names them, the view and the moment. */
export function CompareScreen() {
  const { ids, choose } = useChosen();
  const { compared, comparable, isLoading, error, retry } = useCompared(ids);
  if (ids.length === 0)
    return (
      <EmptyScreen title="Nothing to compare" action={<EditionLink to="/wall">To the wall</EditionLink>}>
        Mark two to six cells of one row on the wall with Space, then press C.
      </EmptyScreen>
    );
  if (isLoading) return <Loading what="the entries" />;
  if (error !== undefined || compared.length < ids.length) return <ErrorNotice error={error} onRetry={retry} />;
  return <Comparison {...{ compared, comparable, ids, choose }} />;
}

function Comparison({
  compared,
  comparable,
  ids,
  choose,
}: {
  compared: readonly Compared[];
  comparable: ReturnType<typeof useCompared>["comparable"];
  ids: string[];
  choose: (ids: readonly string[]) => void;
}) {
  const [search, setSearch] = useSearchParams();
  const asked = search.get("mode");
  const mode: Mode = asked !== null && asked in MODES ? (asked as Mode) : "together";
  const frames = useMemo(() => compared.map(({ entry }) => entry.render?.recording?.frames ?? []), [compared]);
  const seconds = Math.max(1, ...compared.map(({ entry }) => entry.render?.recording?.seconds ?? entry.prompt.seconds));
  const clock = useClock(frames, seconds);
  const [solo, setSolo] = useState<number | null>(null);
  const [restart, setRestart] = useState(0);
  const [isShared, setIsShared] = useState(true);
  const [isLoud, setIsLoud] = useState(false);
  const [keysOf, setKeysOf] = useState<string | null>(null);
  // Every stage says whether it has the keyboard: that one has not says nothing of another.
  const onFocusChange = (name: string, has: boolean) => setKeysOf((now) => (has ? name : now === name ? null : now));
  useCompareKeys(clock, {
    mode,
    solo: (index) => setSolo((now) => (now === index || index >= compared.length ? null : index)),
    restart: () => setRestart((now) => now + 1),
    share: () => setIsShared((now) => !now),
    sound: () => setIsLoud((now) => !now),
  });
  const setMode = (next: Mode) =>
    setSearch((now) => {
      const changed = new URLSearchParams(now);
      changed.set("mode", next);
      return changed;
    });
  return (
    <main className="flex min-h-full flex-col">
      <div className="flex flex-wrap items-center gap-x-3 gap-y-2 border-b border-rule px-4 py-2.5">
        <EditionLink to="/wall" className="text-ink no-underline hover:underline">
          ← Wall
        </EditionLink>
        <h1 className="m-0 text-[20px] leading-7">{compared[0]!.entry.prompt.title}</h1>
        <Chips {...{ compared, ids, choose }} />
        <Additions comparable={comparable} ids={ids} onChoose={choose} />
        <span className="ml-auto flex gap-1.5">
          {(Object.keys(MODES) as Mode[]).map((key) => (
            <Toggle key={key} pressed={mode === key} onClick={() => setMode(key)}>
              {MODES[key]}
            </Toggle>
          ))}
        </span>
      </div>
      <div className="px-4 py-3">
        {mode === "live" ? (
          <LiveStages {...{ compared, restart, isShared, isLoud }} onFocusChange={onFocusChange} />
        ) : mode === "pages" ? (
          <Pages compared={compared} />
        ) : mode === "code" && compared.length > 1 ? (
          <CodeBeside compared={compared} />
        ) : mode === "swipe" && compared.length > 1 ? (
          <Swipe compared={compared} atMs={clock.atMs} />
        ) : (
          <RecordedStages compared={compared} atMs={clock.atMs} solo={solo} />
        )}
        {mode === "live" ? (
          <LiveControls
            {...{ isShared, isLoud, keysOf }}
            onShare={() => setIsShared(!isShared)}
            onSound={() => setIsLoud(!isLoud)}
            onRestart={() => setRestart(restart + 1)}
          />
        ) : null}
        {mode === "together" || mode === "swipe" ? (
          <div
            className={`mt-3 grid gap-5 max-[1100px]:grid-cols-1 ${compared.length > 4 ? "" : "grid-cols-[minmax(0,1fr)_420px]"}`}
          >
            <div className="min-w-0">
              <Score compared={compared} clock={clock} />
              <Keys clock={clock} />
            </div>
            <Figures compared={compared} />
          </div>
        ) : null}
      </div>
    </main>
  );
}

/** Those that are compared, each with a way to take it away. */
function Chips({
  compared,
  ids,
  choose,
}: {
  compared: readonly Compared[];
  ids: readonly string[];
  choose: (ids: readonly string[]) => void;
}) {
  return (
    <>
      {compared.map(({ entry }) => (
        <span
          key={entry.id}
          className="inline-flex h-7 items-center gap-1.5 rounded border border-rule bg-sheet pl-2 text-[13px]"
        >
          <EntrantGlyph glyph={entry.entrant.glyph} size={12} /> {nameOfCompared(entry)}
          <button
            type="button"
            aria-label={`Take ${nameOfCompared(entry)} away`}
            disabled={ids.length <= 1}
            onClick={() => choose(ids.filter((id) => id !== entry.id))}
            className="h-full border-0 bg-transparent px-1.5 text-soft hover:text-ink disabled:opacity-40"
          >
            ×
          </button>
        </span>
      ))}
    </>
  );
}

function LiveControls({
  isShared,
  isLoud,
  keysOf,
  onShare,
  onSound,
  onRestart,
}: {
  isShared: boolean;
  isLoud: boolean;
  keysOf: string | null;
  onShare: () => void;
  onSound: () => void;
  onRestart: () => void;
}) {
  return (
    <div className="mt-2 flex flex-wrap items-center gap-2">
      <Toggle pressed={isShared} onClick={onShare}>
        Inputs to all <Kbd>K</Kbd>
      </Toggle>
      <Button compact onClick={onRestart}>
        Restart all <Kbd>R</Kbd>
      </Button>
      <Toggle pressed={isLoud} title={`Sound is ${isLoud ? "on" : "off"}`} onClick={onSound}>
        Sound <Kbd>M</Kbd>
      </Toggle>
      <span role="status" className="ml-auto text-soft">
        {keysOf === null
          ? "Keys: yours. Click into a stage to play."
          : `Keys: ${isShared ? `${keysOf}, and through it all` : keysOf} · Esc takes them back`}
      </span>
    </div>
  );
}

function Keys({ clock }: { clock: Clock }) {
  return (
    <p className="m-0 mt-2 flex flex-wrap items-center gap-x-4 gap-y-1 text-[13px] text-soft">
      <Button compact onClick={clock.toggle}>
        {clock.isPlaying ? "Pause" : "Play"} <Kbd>Space</Kbd>
      </Button>
      <span className="flex items-center gap-1">
        <Kbd>←</Kbd>
        <Kbd>→</Kbd> a frame
      </span>
      <span className="flex items-center gap-1">
        <Kbd>1</Kbd>–<Kbd>6</Kbd> one alone
      </span>
    </p>
  );
}

interface CompareActions {
  mode: Mode;
  solo: (index: number) => void;
  restart: () => void;
  share: () => void;
  sound: () => void;
}

/** Space plays, arrows and , . go by a frame, digits show one alone; live, R restarts all, K shares inputs and M turns sound on. */
function useCompareKeys(clock: Clock, actions: CompareActions): void {
  useKeys((event) => {
    if (actions.mode === "live") {
      if (event.key.toLowerCase() === "r") actions.restart();
      if (event.key.toLowerCase() === "k") actions.share();
      if (event.key.toLowerCase() === "m") actions.sound();
      return;
    }
    if (actions.mode === "pages" || actions.mode === "code") return;
    const isButton = (event.target as Element).closest("button, a") !== null;
    const done: Record<string, (() => void) | undefined> = {
      " ": isButton ? undefined : clock.toggle,
      ArrowLeft: () => clock.step(-1),
      ArrowRight: () => clock.step(1),
      ",": () => clock.step(-1),
      ".": () => clock.step(1),
      Home: () => clock.seek(0),
      End: () => clock.seek(clock.endMs),
    };
    const act = /^[1-6]$/.test(event.key) ? () => actions.solo(Number(event.key) - 1) : done[event.key];
    if (act === undefined) return;
    event.preventDefault();
    act();
  });
}
