import type { Compared } from "@tourney/core/compare";
import { lazy, Suspense, useState } from "react";
import { Toggle } from "../../ui/controls.js";
import { EntrantGlyph } from "../../ui/glyphs.js";
import { Loading } from "../../ui/notices.js";
import { nameOfCompared } from "./figure-table.js";

// The editor is large, and only this view needs it.
const CodeMerge = lazy(() => import("./CodeMerge.js").then((m) => ({ default: m.CodeMerge })));

const lines = (text: string) => text.split("\n").length;

/** Code beside code: files matched by their names, what differs by line. Two at a time; the first stays on the left. */
export function CodeBeside({ compared }: { compared: readonly Compared[] }) {
  const [right, setRight] = useState(1);
  const [left, other] = [compared[0]!.entry, (compared[right] ?? compared[1]!).entry];
  const paths = [...new Set([...left.fileTexts, ...other.fileTexts].map(({ path }) => path))];
  // A drawing and a page have other names for the same thing: what is opened is matched with what is opened.
  const isSameEntry = left.entryPath !== other.entryPath && paths.length === 2;
  const matched = isSameEntry ? [left.entryPath!] : paths;
  const [chosen, setChosen] = useState<string | null>(null);
  const path =
    chosen !== null && matched.includes(chosen)
      ? chosen
      : (matched.find((item) => item === left.entryPath) ?? matched[0]);
  if (path === undefined) return <p className="mt-0 text-soft">Neither has any code.</p>;
  const textOf = (entry: typeof left) =>
    entry.fileTexts.find((file) => file.path === (isSameEntry ? entry.entryPath : path))?.text ?? null;
  const [before, after] = [textOf(left), textOf(other)];
  return (
    <>
      <div className="mb-2 flex flex-wrap items-center gap-1.5">
        {matched.map((item) => (
          <Toggle key={item} pressed={item === path} onClick={() => setChosen(item)} className="font-mono">
            {item}
          </Toggle>
        ))}
        {compared.length > 2 ? (
          <span className="ml-3 flex items-center gap-1.5 text-[13px] text-soft">
            beside
            {compared.slice(1).map(({ entry }, index) => (
              <Toggle key={entry.id} pressed={entry.id === other.id} onClick={() => setRight(index + 1)}>
                <EntrantGlyph glyph={entry.entrant.glyph} size={10} /> {nameOfCompared(entry)}
              </Toggle>
            ))}
          </span>
        ) : null}
      </div>
      <div className="grid grid-cols-2 gap-4">
        <CodeHead entry={left} text={before} />
        <CodeHead entry={other} text={after} />
      </div>
      <Suspense fallback={<Loading what="the code" />}>
        <CodeMerge key={`${left.id} ${other.id} ${path}`} path={path} before={before ?? ""} after={after ?? ""} />
      </Suspense>
    </>
  );
}

function CodeHead({ entry, text }: { entry: Compared["entry"]; text: string | null }) {
  const { facts, render } = entry;
  const libraries = facts.remote.length;
  const metrics = render?.recording?.metrics;
  return (
    <p className="figures m-0 flex flex-wrap items-center gap-x-2 pb-1 text-[13px] text-soft">
      <EntrantGlyph glyph={entry.entrant.glyph} />
      <span className="font-display font-semibold text-ink">{nameOfCompared(entry)}</span>
      {text === null
        ? "has no such file"
        : [
            `${(text.length / 1000).toFixed(1)} kB`,
            `${lines(text)} lines`,
            libraries === 0 ? "nothing from elsewhere" : `${libraries} from elsewhere`,
            ...(metrics?.domNodes ? [`${metrics.domNodes} nodes`] : []),
            ...(metrics?.domDepth ? [`${metrics.domDepth} deep`] : []),
          ].join(" · ")}
    </p>
  );
}
