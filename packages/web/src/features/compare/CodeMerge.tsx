import { css } from "@codemirror/lang-css";
import { html } from "@codemirror/lang-html";
import { javascript } from "@codemirror/lang-javascript";
import { MergeView } from "@codemirror/merge";
import { EditorState, type Extension } from "@codemirror/state";
import { basicSetup, EditorView } from "codemirror";
import { useEffect, useRef } from "react";

/** A file longer than this is shown without colours: parsing it would hold the page up. */
const LONGEST_COLOURED = 400_000;

const languageOf = (path: string): Extension => {
  if (/\.css$/i.test(path)) return css();
  return /\.(?:m?js|jsx|ts)$/i.test(path) ? javascript({ jsx: true }) : html();
};

/** Two files, line by line, read only; what is alike is folded away. */
export function CodeMerge({ path, before, after }: { path: string; before: string; after: string }) {
  const place = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const isLong = Math.max(before.length, after.length) > LONGEST_COLOURED;
    const side = (doc: string, label: string) => ({
      doc,
      extensions: [
        basicSetup,
        ...(isLong ? [] : [languageOf(path)]),
        EditorState.readOnly.of(true),
        EditorView.lineWrapping,
        EditorView.contentAttributes.of({ "aria-label": label }),
      ],
    });
    const view = new MergeView({
      a: side(before, `${path}, left`),
      b: side(after, `${path}, right`),
      parent: place.current!,
      highlightChanges: !isLong,
      gutter: true,
      collapseUnchanged: { margin: 3, minSize: 6 },
      // Answers differ almost everywhere; an exact comparison of two long files would take for ever.
      diffConfig: { scanLimit: 1000, timeout: 500 },
    });
    return () => view.destroy();
  }, [path, before, after]);
  return (
    <div
      ref={place}
      className="code-merge h-[calc(100vh-260px)] min-h-60 overflow-auto border border-rule bg-sheet font-mono text-[12px] leading-[18px]"
    />
  );
}
