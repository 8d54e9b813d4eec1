import type { Bout, SkipReason } from "@tourney/core/contract";
import { useEffect, useReducer, useRef, useState } from "react";
import { Button, Kbd } from "../../ui/controls.js";
import { ErrorNotice } from "../../ui/notices.js";
import {
  actionOfKey,
  type BallotDraft,
  type BoothAction,
  type DraftEvent,
  EMPTY_DRAFT,
  nextDraft,
  reasonsFor,
  toBallot,
} from "./ballot-draft.js";
import { useSkipBoutMutation } from "./booth-api.js";
import { BoothTools, SKIPS } from "./BoothTools.js";
import { Lean } from "./Lean.js";
import { OwnLink } from "./OwnLink.js";
import { StagePane } from "./StagePane.js";
import { useSeenWith } from "./use-seen-with.js";
import { type Side, useBoutStages } from "./use-bout-stages.js";
import type { Casting } from "./use-casting.js";

interface BoutViewProps {
  bout: Bout;
  /** Whether it is the one to vote on; the other is loaded ahead, out of sight, and does not begin. */
  isCurrent: boolean;
  done: number;
  quota: number;
  canTakeBack: boolean;
  panelToken: string;
  asksReasons: boolean;
  ownUrl: string | null;
  casting: Casting;
}

/** One bout: two stages, the beam, reasons, and the way on. Everything works by keyboard. */
export function BoutView({ bout, isCurrent, panelToken, casting, ...panel }: BoutViewProps) {
  const [draft, change] = useReducer(nextDraft, EMPTY_DRAFT);
  const stages = useBoutStages(isCurrent);
  const [full, setFull] = useState<Side | null>(null);
  const [keyboard, setKeyboard] = useState<Side | null>(null);
  const [isSkipping, setIsSkipping] = useState(false);
  const [skip, skipping] = useSkipBoutMutation();
  const isOtherwiseBusy = skipping.isLoading || casting.isTakingBack;
  const isBusy = casting.isBusy || isOtherwiseBusy;
  // The next bout is on screen while the ballot on the last one is on its way: it can be taken back, too.
  const canTakeBack = (panel.canTakeBack || casting.isBusy) && !casting.isWaiting && !isOtherwiseBusy;
  const { isCurtained } = stages;

  const measure = useMeasures({ isCurrent, isCurtained });

  const confirm = () => {
    const ballot = toBallot(draft, measure());
    if (ballot && !isOtherwiseBusy) casting.cast(bout.token, ballot);
  };
  const pass = (reason: SkipReason) => {
    if (!isBusy) void skip({ panelToken, boutToken: bout.token, reason });
  };
  const act = (action: BoothAction) => {
    switch (action.type) {
      case "confirm":
        confirm();
        break;
      case "takeBack":
        if (canTakeBack) casting.takeBack();
        break;
      case "restart":
        stages.startOver();
        break;
      case "recordings":
        stages.toggleRecordings();
        break;
      case "sound":
        stages.toggleSound();
        break;
      case "skip":
        setIsSkipping((now) => !now);
        break;
      case "fullView":
        setFull(full === action.side ? null : action.side);
        break;
      default: {
        // While it is asked why a bout is passed over, the digits choose a reason.
        const reason = isSkipping && action.type === "lean" ? SKIPS[action.lean + 2] : undefined;
        if (reason !== undefined) pass(reason);
        else change(action);
      }
    }
  };
  useBoothKeys(isCurrent, act, () => {
    setFull(null);
    setIsSkipping(false);
  });

  const pane = (side: Side) => ({
    side,
    url: stages.showing === "live" ? bout[`${side}Url`] : bout[`${side}RecordingUrl`],
    restart: stages.restart,
    held: stages.heldOf(side),
    showing: stages.showing,
    isForced: stages.isForced,
    isCurtained: isCurrent && isCurtained,
    isGone: stages.gone[side],
    isFull: full === side,
    hasKeyboard: keyboard === side,
    works: side === "left" ? draft.leftWorks : draft.rightWorks,
    ...{ needs: bout[`${side}Needs`], viewport: bout.prompt.viewport },
    onRestart: stages.startOver,
    onFull: () => setFull(full === side ? null : side),
    onToggleWorks: () => change({ type: side === "left" ? "toggleLeftWorks" : "toggleRightWorks" }),
    onKeyboard: (has: boolean) => {
      if (has) change({ type: "touch", side });
      setKeyboard((now) => (has ? side : now === side ? null : now));
    },
  });

  return (
    <main
      inert={!isCurrent}
      aria-hidden={!isCurrent}
      className={`mx-auto flex min-h-screen max-w-[1480px] flex-col px-6 py-4 max-[900px]:px-3 ${isCurrent ? "" : "invisible absolute inset-x-0 top-0 -z-10 h-0 overflow-hidden"}`}
    >
      {isCurrent ? <BoutHead bout={bout} {...panel} /> : null}
      <div className="grid grid-cols-2 gap-4 max-[900px]:grid-cols-1">
        <StagePane {...pane("left")} />
        <StagePane {...pane("right")} />
      </div>
      {isCurrent ? (
        <>
          <BoothTools {...{ stages, keyboard, isSkipping, isBusy }} act={act} onSkip={pass} />
          <BallotBar
            {...{ bout, draft, change, canTakeBack, confirm, casting }}
            asksReasons={panel.asksReasons}
            errors={[casting.error, skipping.error, casting.takeBackError]}
            onTakeBack={() => act({ type: "takeBack" })}
          />
        </>
      ) : null}
    </main>
  );
}

/** What is known of how the bout was looked at. */
function useMeasures({ isCurrent, isCurtained }: { isCurrent: boolean; isCurtained: boolean }) {
  const dwellMs = useDwell(isCurtained);
  const seenWith = useSeenWith(isCurrent && !isCurtained);
  return () => ({ dwellMs: dwellMs(), seenWith: seenWith() });
}

/** For how long both stages have been visible. */
function useDwell(isCurtained: boolean): () => number {
  const visibleSince = useRef<number | null>(null);
  useEffect(() => {
    if (!isCurtained) visibleSince.current ??= performance.now();
  }, [isCurtained]);
  return () => performance.now() - (visibleSince.current ?? performance.now());
}

interface BallotBarProps extends Pick<BoutViewProps, "bout" | "canTakeBack" | "asksReasons"> {
  draft: BallotDraft;
  change: (event: DraftEvent) => void;
  casting: Casting;
  /** Of casting, passing over and taking back. */
  errors: readonly unknown[];
  confirm: () => void;
  onTakeBack: () => void;
}

/** The beam, the reasons and the way on. */
function BallotBar(props: BallotBarProps) {
  const { bout, draft, change, casting, errors, canTakeBack, asksReasons, confirm, onTakeBack } = props;
  return (
    <>
      <div className="flex flex-1 flex-col justify-center py-4">
        <Lean lean={draft.lean} name={bout.token} onChange={(lean) => change({ type: "lean", lean })} />
      </div>
      {casting.isWaiting ? <Waiting onSendNow={casting.sendNow} /> : null}
      {errors.map((error, index) => (error ? <ErrorNotice key={index} error={error} /> : null))}
      <div className="flex flex-wrap items-center gap-2 pt-2">
        {asksReasons ? <Reasons bout={bout} chosen={draft.reasons} note={draft.note} change={change} /> : null}
        <span className="ml-auto flex gap-2">
          <Button tone="quiet" disabled={!canTakeBack} onClick={onTakeBack}>
            <Kbd>⌫</Kbd> take back the last
          </Button>
          <Button tone="primary" disabled={draft.lean === null} onClick={confirm}>
            Next ⏎
          </Button>
        </span>
      </div>
    </>
  );
}

/** The ballot before this one waits for the server. */
function Waiting({ onSendNow }: { onSendNow: () => void }) {
  return (
    <div role="status" className="my-3 flex flex-wrap items-center gap-4 border-l-3 border-care bg-sheet px-4 py-2">
      <span>
        Your ballot is not stored yet: Tourney does not answer. It is kept here and sent again until it is stored; leave
        this page open.
      </span>
      <Button onClick={onSendNow}>Send now</Button>
    </div>
  );
}

/** The booth's keys, wherever the focus is in it, but in a field of text. Keys inside a stage never reach this page. */
function useBoothKeys(isOn: boolean, act: (action: BoothAction) => void, onEscape: () => void) {
  const latest = useRef({ act, onEscape });
  useEffect(() => {
    latest.current = { act, onEscape };
  });
  useEffect(() => {
    if (!isOn) return;
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
  }, [isOn]);
}

function BoutHead({
  bout: { prompt },
  done,
  quota,
  ownUrl,
}: Pick<BoutViewProps, "bout" | "done" | "quota" | "ownUrl">) {
  return (
    <header className="mb-3 flex items-start gap-4 max-[900px]:flex-wrap">
      <details className="min-w-0 flex-1 max-[900px]:basis-full">
        <summary className="flex cursor-pointer list-none flex-wrap items-baseline gap-x-4">
          <h1 className="m-0 text-[20px] leading-7">{prompt.title}</h1>
          <span>{prompt.summary}</span>
          <span className="border-b border-dotted border-soft text-[13px] text-soft">
            full text{prompt.turns.length > 0 ? `, ${prompt.turns.length + 1} turns` : ""} · {prompt.watchpoints.length}{" "}
            things to look for
          </span>
        </summary>
        <div className="my-3 grid max-w-[1100px] grid-cols-[3fr_2fr] gap-8 max-[900px]:grid-cols-1">
          <Asked texts={[prompt.text, ...prompt.turns]} />
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
        {ownUrl === null ? null : <OwnLink url={ownUrl} />}
      </div>
    </header>
  );
}

/** What was asked, turn by turn. */
function Asked({ texts }: { texts: readonly string[] }) {
  const paragraph = (text: string) => (
    <p className="m-0 whitespace-pre-line">{text.trim().replace(/(\S)\n(?=\S)/g, "$1 ")}</p>
  );
  if (texts.length === 1) return paragraph(texts[0]!);
  return (
    <ol className="m-0 grid list-decimal gap-2 pl-5">
      {texts.map((text, turn) => (
        <li key={turn}>{paragraph(text)}</li>
      ))}
    </ol>
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
      {reasonsFor(bout.prompt).map(({ reason, word }) => {
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
