import { css } from "@codemirror/lang-css";
import { html } from "@codemirror/lang-html";
import { javascript } from "@codemirror/lang-javascript";
import { HighlightStyle, syntaxHighlighting } from "@codemirror/language";
import { MergeView } from "@codemirror/merge";
import { EditorState, type Extension } from "@codemirror/state";
import { tags } from "@lezer/highlight";
import { basicSetup, EditorView } from "codemirror";
import { useEffect, useRef } from "react";

/** A file longer than this is shown without colours: parsing it would hold the page up. */
const LONGEST_COLOURED = 400_000;

/** Colours that can be read in either theme. */
const COLOURS = syntaxHighlighting(
  HighlightStyle.define([
    { tag: [tags.comment, tags.meta], color: "light-dark(#5a6472, #9aa3ae)" },
    { tag: [tags.keyword, tags.operatorKeyword, tags.modifier], color: "light-dark(#8b2f86, #e0a3dc)" },
    { tag: [tags.string, tags.attributeValue, tags.regexp], color: "light-dark(#9a3412, #f0b48a)" },
    { tag: [tags.number, tags.bool, tags.unit, tags.color], color: "light-dark(#1f6a5f, #7fd0c0)" },
    { tag: [tags.tagName, tags.className, tags.typeName], color: "light-dark(#1d4f91, #9cc4f5)" },
    {
      tag: [tags.attributeName, tags.propertyName, tags.definition(tags.variableName)],
      color: "light-dark(#3f4a8a, #b9c0f2)",
    },
    { tag: [tags.labelName, tags.atom, tags.constant(tags.name)], color: "light-dark(#1d4f91, #9cc4f5)" },
  ]),
);

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
        ...(isLong ? [] : [languageOf(path), COLOURS]),
        EditorState.readOnly.of(true),
        EditorView.lineWrapping,
        EditorView.contentAttributes.of({ "aria-label": label, tabindex: "0" }),
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
