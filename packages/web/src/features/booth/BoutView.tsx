import type { Bout } from "@tourney/core/contract";
import { useEffect, useReducer, useRef, useState } from "react";
import { Button, Kbd } from "../../ui/controls.js";
import { ErrorNotice } from "../../ui/notices.js";
import { actionOfKey, type BoothAction, EMPTY_DRAFT, nextDraft, reasonsFor, toBallot } from "./ballot-draft.js";
import { useCastBallotMutation, useTakeBackBallotMutation } from "./booth-api.js";
import { Lean } from "./Lean.js";
import { StagePane } from "./StagePane.js";

interface BoutViewProps {
  bout: Bout;
  done: number;
  quota: number;
  canTakeBack: boolean;
  panelToken: string;
  isRefreshing: boolean;
}

type Side = "left" | "right";

/** One bout: two stages, the beam, reasons, and the way on. Everything works by keyboard. */
export function BoutView({ bout, done, quota, canTakeBack, panelToken, isRefreshing }: BoutViewProps) {
  const [draft, change] = useReducer(nextDraft, EMPTY_DRAFT);
  const [restart, setRestart] = useState(0);
  const [ready, setReady] = useState<Record<Side, boolean>>({ left: false, right: false });
  const [full, setFull] = useState<Side | null>(null);
  const [keyboard, setKeyboard] = useState<Side | null>(null);
  const visibleSince = useRef<number | null>(null);
  const [cast, casting] = useCastBallotMutation();
  const [takeBack, takingBack] = useTakeBackBallotMutation();
  const isBusy = casting.isLoading || takingBack.isLoading || isRefreshing;
  const isCurtained = !(ready.left && ready.right);

  useEffect(() => {
    if (!isCurtained) visibleSince.current ??= performance.now();
  }, [isCurtained]);

  const restartBoth = () => {
    setReady({ left: false, right: false });
    setRestart((now) => now + 1);
  };
  const confirm = () => {
    const ballot = toBallot(draft, performance.now() - (visibleSince.current ?? performance.now()));
    if (ballot && !isBusy) void cast({ boutToken: bout.token, ballot });
  };
  const act = (action: BoothAction) => {
    if (action.type === "confirm") confirm();
    else if (action.type === "takeBack") {
      if (canTakeBack && !isBusy) void takeBack(panelToken);
    } else if (action.type === "restart") restartBoth();
    else if (action.type === "fullView") setFull(full === action.side ? null : action.side);
    else change(action);
  };
  useBoothKeys(act, () => setFull(null));

  const pane = (side: Side) => ({
    side,
    url: side === "left" ? bout.leftUrl : bout.rightUrl,
    viewport: bout.prompt.viewport,
    restart,
    isCurtained,
    isFull: full === side,
    works: side === "left" ? draft.leftWorks : draft.rightWorks,
    onReady: () => setReady((now) => ({ ...now, [side]: true })),
    onRestart: restartBoth,
    onFull: () => setFull(full === side ? null : side),
    onToggleWorks: () => change({ type: side === "left" ? "toggleLeftWorks" : "toggleRightWorks" }),
    onKeyboard: (has: boolean) => setKeyboard((now) => (has ? side : now === side ? null : now)),
  });

  return (
    <main className="mx-auto flex min-h-screen max-w-[1480px] flex-col px-6 py-4 max-[900px]:px-3">
      <BoutHead bout={bout} done={done} quota={quota} />
      <div className="grid grid-cols-2 gap-4 max-[900px]:grid-cols-1">
        <StagePane {...pane("left")} />
        <StagePane {...pane("right")} />
      </div>
      <div className="mt-4 flex flex-1 flex-col justify-center border-t border-rule py-5">
        <Lean lean={draft.lean} onChange={(lean) => change({ type: "lean", lean })} />
      </div>
      {casting.error ? <ErrorNotice error={casting.error} onRetry={confirm} /> : null}
      {takingBack.error ? <ErrorNotice error={takingBack.error} /> : null}
      <div className="flex flex-wrap items-center gap-2 pt-2">
        <Reasons bout={bout} chosen={draft.reasons} note={draft.note} change={change} />
        <p role="status" className="m-0 ml-auto rounded border border-rule px-2 py-1 text-[13px]">
          {keyboard === null ? (
            <>Keys: yours</>
          ) : (
            <>
              Keys: the {keyboard} page's · <strong>Esc</strong> takes them back
            </>
          )}
        </p>
        <Button tone="quiet" disabled={!canTakeBack || isBusy} onClick={() => act({ type: "takeBack" })}>
          <Kbd>⌫</Kbd> take back the last
        </Button>
        <Button tone="primary" disabled={draft.lean === null || isBusy} onClick={confirm}>
          Next ⏎
        </Button>
      </div>
    </main>
  );
}

/** The booth's keys, wherever the focus is in it, but in a field of text. Keys inside a stage never reach this page. */
function useBoothKeys(act: (action: BoothAction) => void, onEscape: () => void) {
  const latest = useRef({ act, onEscape });
  useEffect(() => {
    latest.current = { act, onEscape };
  });
  useEffect(() => {
    const onKeyDown = (event: KeyboardEvent) => {
      if (event.ctrlKey || event.metaKey || event.altKey || event.repeat) return;
      // A key struck right after a click into a stage may still arrive here; by then it belongs to that page.
      if (document.activeElement instanceof HTMLIFrameElement) return;
      const target = event.target as HTMLElement;
      if (target instanceof HTMLTextAreaElement || (target instanceof HTMLInputElement && target.type === "text")) {
        if (event.key === "Escape") target.blur();
        return;
      }
      if (event.key === "Escape") {
        latest.current.onEscape();
        return;
      }
      const action = actionOfKey(event.key);
      // Enter on a button presses that button; on everything else it confirms.
      if (!action || (action.type === "confirm" && target instanceof HTMLButtonElement)) return;
      event.preventDefault();
      latest.current.act(action);
    };
    window.addEventListener("keydown", onKeyDown);
    return () => window.removeEventListener("keydown", onKeyDown);
  }, []);
}

function BoutHead({ bout: { prompt }, done, quota }: Pick<BoutViewProps, "bout" | "done" | "quota">) {
  return (
    <header className="mb-3 flex items-start gap-4 max-[900px]:flex-wrap">
      <details className="min-w-0 flex-1">
        <summary className="flex cursor-pointer list-none flex-wrap items-baseline gap-x-4">
          <h1 className="m-0 text-[20px] leading-7">{prompt.title}</h1>
          <span>{prompt.summary}</span>
          <span className="border-b border-dotted border-soft text-[13px] text-soft">
            full text · {prompt.watchpoints.length} things to look for
          </span>
        </summary>
        <div className="my-3 grid max-w-[1100px] grid-cols-[3fr_2fr] gap-8 max-[900px]:grid-cols-1">
          <p className="m-0 whitespace-pre-line">{prompt.text.trim().replace(/(\S)\n(?=\S)/g, "$1 ")}</p>
          <ul className="m-0 list-disc pl-5">
            {prompt.watchpoints.map((watchpoint) => (
              <li key={watchpoint}>{watchpoint}</li>
            ))}
          </ul>
        </div>
      </details>
      <div className="figures flex items-center gap-3 pt-1 text-soft">
        <span className="whitespace-nowrap">
          {done} of {quota}
        </span>
        <span
          role="progressbar"
          aria-label="Bouts done"
          aria-valuemin={0}
          aria-valuemax={quota}
          aria-valuenow={done}
          className="block h-1 w-36 bg-rule"
        >
          <span className="block h-full bg-ink" style={{ width: `${Math.min(1, done / quota) * 100}%` }} />
        </span>
      </div>
    </header>
  );
}

function Reasons({
  bout,
  chosen,
  note,
  change,
}: {
  bout: Bout;
  chosen: readonly string[];
  note: string;
  change: (event: Parameters<typeof nextDraft>[1]) => void;
}) {
  const [isNoting, setIsNoting] = useState(false);
  return (
    <div className="flex flex-wrap items-center gap-2" role="group" aria-label="Because of">
      <span className="text-soft">Because of</span>
      {reasonsFor(bout.prompt.kind).map(({ reason, word }) => {
        const isOn = chosen.includes(reason);
        return (
          <button
            key={reason}
            type="button"
            aria-pressed={isOn}
            onClick={() => change({ type: "toggleReason", reason })}
            className={`h-7 rounded border px-2 text-[13px] ${isOn ? "border-ink bg-ink text-ground" : "border-rule bg-sheet text-ink hover:border-ink"}`}
          >
            {word}
          </button>
        );
      })}
      {isNoting ? (
        <input
          type="text"
          aria-label="Note"
          autoFocus
          maxLength={2000}
          value={note}
          onChange={(event) => change({ type: "note", note: event.target.value })}
          className="h-7 w-64 rounded border border-rule bg-sheet px-2 text-ink"
        />
      ) : (
        <button
          type="button"
          onClick={() => setIsNoting(true)}
          className="h-7 rounded border border-dashed border-rule bg-transparent px-2 text-[13px] text-soft hover:border-ink"
        >
          add a note
        </button>
      )}
    </div>
  );
}
