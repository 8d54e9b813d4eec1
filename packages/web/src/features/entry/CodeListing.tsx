import type { EntryDetail } from "@tourney/core/contract";
import { useEffect, useRef } from "react";
import { Link, useSearchParams } from "react-router";

const LINE_PX = 18;
const PADDING_PX = 8;

/** A place in an entry's own code, as findings and the log name it: index.html:142. */
export function readPlace(
  text: string,
  { fileTexts }: Pick<EntryDetail, "fileTexts">,
): { path: string; line: number } | null {
  for (const [, written, line] of text.matchAll(/(?<![\w./-])([\w./-]+):(\d+)/g)) {
    const path = written!.replace(/^[./-]+/, "");
    if (fileTexts.some((file) => file.path === path)) return { path, line: Number(line) };
  }
  return null;
}

/** What names a place in the code, as a link to it; otherwise the text alone. */
export function CodePlace({ text, entry }: { text: string; entry: EntryDetail }) {
  const [search] = useSearchParams();
  const place = readPlace(text, entry);
  if (place === null) return text;
  const to = new URLSearchParams(search);
  to.set("tab", "code");
  to.set("place", `${place.path}:${place.line}`);
  return (
    <Link to={`?${to.toString()}`} className="underline">
      {text}
    </Link>
  );
}

/** A file with its line numbers; the line that the address names is marked and in sight. */
export function Listing({ text, line = null }: { text: string; line?: number | null }) {
  const view = useRef<HTMLDivElement>(null);
  const lines = text.split("\n");
  const marked = line !== null && line >= 1 && line <= lines.length ? line : null;
  useEffect(() => {
    if (marked === null || view.current === null) return;
    view.current.scrollTop = PADDING_PX + (marked - 1) * LINE_PX - view.current.clientHeight / 2;
    view.current.scrollIntoView({ block: "nearest" });
  }, [marked]);
  return (
    <div
      ref={view}
      className="relative grid max-h-[420px] grid-cols-[auto_1fr] overflow-auto border border-rule bg-sheet font-mono text-[12px] leading-[18px]"
    >
      {marked === null ? null : (
        <div
          aria-hidden="true"
          className="absolute inset-x-0 border-y border-act bg-[color-mix(in_srgb,var(--act)_12%,transparent)]"
          style={{ top: PADDING_PX + (marked - 1) * LINE_PX, height: LINE_PX }}
        />
      )}
      <pre aria-hidden="true" className="m-0 border-r border-rule px-2 py-2 text-right text-soft select-none">
        {lines.map((_, i) => i + 1).join("\n")}
      </pre>
      <pre tabIndex={0} className="m-0 px-3 py-2">
        {text}
      </pre>
    </div>
  );
}
