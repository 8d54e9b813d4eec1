import { ScoreSheetInput, type ScoreSheet } from "@tourney/core/contract";
import { useEffect, useRef, useState } from "react";
import { toast } from "sonner";
import { useListSheetsQuery, useRemoveSheetMutation, useSaveSheetMutation } from "../../api/sheet-api.js";

/** What a judge fills in. */
export type SheetParts = Omit<ScoreSheetInput, "isBlind">;
export const EMPTY_SHEET: SheetParts = { watchpoints: [], verdict: null, marks: null, note: "", tags: [] };

/** Words that are being written are kept after this pause. */
const PAUSE_MS = 500;

const partsOf = ({ watchpoints, verdict, marks, note, tags }: SheetParts): SheetParts => ({
  watchpoints,
  verdict,
  marks,
  note,
  tags,
});

export interface OpenSheet {
  sheet: SheetParts;
  /** As the server has it; null while there is none. */
  kept: ScoreSheet | null;
  others: ScoreSheet[];
  isLoading: boolean;
  isUnsaved: boolean;
  /** Changes parts, or what a function makes of the sheet as it is then; words are kept after a pause, all else at once. */
  change: (parts: Partial<SheetParts> | ((sheet: SheetParts) => Partial<SheetParts>)) => void;
  /** Takes the sheet away, with a way to have it back. */
  clear: () => void;
}

/**
 * One judge's sheet of one entry. What is filled in shows at once and is sent one change after another, the newest state of it only, so that
 * two quick keys can never arrive in the wrong order. What could not be sent stays and is sent with the next change.
 */
export function useSheet(entryId: string, judge: string, isBlind: boolean): OpenSheet {
  const { currentData: sheets } = useListSheetsQuery(entryId);
  const [saveSheet] = useSaveSheetMutation();
  const [removeSheet] = useRemoveSheetMutation();
  const key = `${entryId} ${judge}`;
  const [draft, setDraft] = useState<{ key: string; sheet: SheetParts; isKept: boolean } | null>(null);
  const kept = sheets?.find((sheet) => sheet.judge === judge) ?? null;
  const sheet = draft?.key === key ? draft.sheet : kept === null ? EMPTY_SHEET : partsOf(kept);

  const send = useSender(async ({ entryId, judge, parts, isBlind }: Outgoing) => {
    const result = await saveSheet({ entryId, judge, sheet: { ...parts, isBlind } });
    if (result.error) {
      toast.error("The score sheet could not be kept.", { description: "It is sent again with your next change." });
      return;
    }
    // The draft stays on screen: the next key may come before the refetched list does.
    setDraft((now) => (now?.key === `${entryId} ${judge}` && now.sheet === parts ? { ...now, isKept: true } : now));
  });

  // Two keys may come before what the first one changed is drawn: the second builds on the first.
  const newest = useRef<{ key: string; sheet: SheetParts } | null>(null);
  const change: OpenSheet["change"] = (changed) => {
    const present = newest.current?.key === key ? newest.current.sheet : sheet;
    const parts = typeof changed === "function" ? changed(present) : changed;
    const next = { ...present, ...parts };
    newest.current = { key, sheet: next };
    setDraft({ key, sheet: next, isKept: false });
    send({ entryId, judge, parts: next, isBlind }, "note" in parts ? PAUSE_MS : 0);
  };
  const clear = () => {
    const before = sheet;
    newest.current = null;
    setDraft({ key, sheet: EMPTY_SHEET, isKept: true });
    void removeSheet({ entryId, judge });
    toast("The score sheet was cleared.", {
      action: { label: "Undo", onClick: () => change(before) },
    });
  };
  return {
    sheet,
    kept,
    others: sheets?.filter((other) => other.judge !== judge) ?? [],
    isLoading: sheets === undefined,
    isUnsaved: draft?.key === key && !draft.isKept,
    change,
    clear,
  };
}

interface Outgoing {
  entryId: string;
  judge: string;
  parts: SheetParts;
  isBlind: boolean;
}

/** Sends the newest state of each sheet, one at a time, after a pause; what waits for its pause is sent when the screen goes. */
function useSender(send: (outgoing: Outgoing) => Promise<void>) {
  const latest = useRef(send);
  const waiting = useRef(new Map<string, Outgoing>());
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  const isSending = useRef(false);
  useEffect(() => {
    latest.current = send;
  });
  const flush = useRef(async () => {
    clearTimeout(timer.current);
    if (isSending.current) return;
    isSending.current = true;
    for (let next = takeFirst(waiting.current); next !== null; next = takeFirst(waiting.current))
      await latest.current(next);
    isSending.current = false;
  });
  useEffect(() => {
    const { current: flushAll } = flush;
    return () => void flushAll();
  }, []);
  return (outgoing: Outgoing, pauseMs: number) => {
    waiting.current.set(`${outgoing.entryId} ${outgoing.judge}`, outgoing);
    clearTimeout(timer.current);
    if (pauseMs === 0) void flush.current();
    else timer.current = setTimeout(() => void flush.current(), pauseMs);
  };
}

function takeFirst<T>(map: Map<string, T>): T | null {
  for (const [key, value] of map) {
    map.delete(key);
    return value;
  }
  return null;
}
