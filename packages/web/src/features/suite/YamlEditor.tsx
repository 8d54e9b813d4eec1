import { isolateHistory, redo, redoDepth, undo, undoDepth } from "@codemirror/commands";
import { yaml } from "@codemirror/lang-yaml";
import { type Diagnostic, lintGutter, setDiagnostics } from "@codemirror/lint";
import type { YamlIssue } from "@tourney/core/suite";
import { basicSetup, EditorView } from "codemirror";
import { type Ref, useEffect, useImperativeHandle, useRef } from "react";

/** What may be done to the text from outside the editor. */
export interface TextHandle {
  /** Makes the text another one, as one step that can be undone; only what differs is touched. */
  replace: (text: string) => void;
  undo: () => void;
  redo: () => void;
}

/** How many steps can be undone and redone. */
export interface TextHistory {
  undo: number;
  redo: number;
}

interface YamlEditorProps {
  ref?: Ref<TextHandle>;
  initial: string;
  issues: readonly YamlIssue[];
  onChange: (text: string) => void;
  /** 1-based line to which the person has moved the cursor. */
  onLine: (line: number) => void;
  onHistory: (history: TextHistory) => void;
  /** A line to go to; the count makes the same line a new wish. */
  goTo: { line: number; wish: number } | null;
}

/** The suite file as text: colours, undo, search, folding, and marks at what is wrong. */
export function YamlEditor({ ref, initial, issues, onChange, onLine, onHistory, goTo }: YamlEditorProps) {
  const place = useRef<HTMLDivElement>(null);
  const view = useRef<EditorView | null>(null);
  const callbacks = useRef({ onChange, onLine, onHistory });
  useEffect(() => {
    callbacks.current = { onChange, onLine, onHistory };
  });
  // The editor lives outside React; it is made once for the text it starts with.
  useEffect(() => {
    const editor = new EditorView({
      doc: initial,
      parent: place.current!,
      extensions: [
        basicSetup,
        yaml(),
        lintGutter(),
        EditorView.lineWrapping,
        EditorView.contentAttributes.of({ "aria-label": "The suite file", tabindex: "0" }),
        EditorView.updateListener.of((update) => {
          if (update.docChanged) {
            callbacks.current.onChange(update.state.doc.toString());
            callbacks.current.onHistory({ undo: undoDepth(update.state), redo: redoDepth(update.state) });
          }
          if (update.view.hasFocus && (update.docChanged || update.selectionSet))
            callbacks.current.onLine(update.state.doc.lineAt(update.state.selection.main.head).number);
        }),
      ],
    });
    view.current = editor;
    return () => editor.destroy();
  }, [initial]);
  useImperativeHandle(ref, () => {
    const withView = (work: (editor: EditorView) => void) => () => {
      if (view.current) work(view.current);
    };
    return {
      replace: (text) => withView((editor) => replaceText(editor, text))(),
      undo: withView((editor) => void undo(editor)),
      redo: withView((editor) => void redo(editor)),
    };
  }, []);
  useEffect(() => {
    const editor = view.current;
    if (!editor) return;
    const diagnostics = issues.map(({ line, path, message }): Diagnostic => {
      const at = editor.state.doc.line(Math.min(Math.max(1, line ?? 1), editor.state.doc.lines));
      return { from: at.from, to: at.to, severity: "error", message: path === "" ? message : `${path}: ${message}` };
    });
    editor.dispatch(setDiagnostics(editor.state, diagnostics));
  }, [issues]);
  useEffect(() => {
    const editor = view.current;
    if (!editor || goTo === null) return;
    const { from } = editor.state.doc.line(Math.min(goTo.line, editor.state.doc.lines));
    const toStart = EditorView.scrollIntoView(from, { y: "start", yMargin: 40 });
    editor.dispatch({ selection: { anchor: from }, effects: toStart });
    // Heights of lines that were never in sight are guesses; once they are measured, the way is known.
    editor.requestMeasure({
      read: () => undefined,
      write: () => void setTimeout(() => view.current === editor && editor.dispatch({ effects: toStart }), 50),
    });
    editor.focus();
  }, [goTo]);
  return <div ref={place} className="yaml-editor h-full min-h-0 overflow-hidden bg-sheet" />;
}

function replaceText(editor: EditorView, text: string): void {
  const now = editor.state.doc.toString();
  if (now === text) return;
  const most = Math.min(now.length, text.length);
  let start = 0;
  while (start < most && now[start] === text[start]) start++;
  let end = 0;
  while (end < most - start && now.at(-1 - end) === text.at(-1 - end)) end++;
  editor.dispatch({
    changes: { from: start, to: now.length - end, insert: text.slice(start, text.length - end) },
    annotations: isolateHistory.of("full"),
  });
}
