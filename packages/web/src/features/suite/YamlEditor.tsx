import { yaml } from "@codemirror/lang-yaml";
import { type Diagnostic, lintGutter, setDiagnostics } from "@codemirror/lint";
import type { YamlIssue } from "@tourney/core/suite";
import { basicSetup, EditorView } from "codemirror";
import { useEffect, useRef } from "react";

interface YamlEditorProps {
  initial: string;
  issues: readonly YamlIssue[];
  onChange: (text: string) => void;
  /** 1-based line of the cursor. */
  onLine: (line: number) => void;
  /** A line to go to; the count makes the same line a new wish. */
  goTo: { line: number; wish: number } | null;
}

/** The suite file as text: colours, undo, search, folding, and marks at what is wrong. */
export function YamlEditor({ initial, issues, onChange, onLine, goTo }: YamlEditorProps) {
  const place = useRef<HTMLDivElement>(null);
  const view = useRef<EditorView | null>(null);
  const callbacks = useRef({ onChange, onLine });
  useEffect(() => {
    callbacks.current = { onChange, onLine };
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
        EditorView.contentAttributes.of({ "aria-label": "The suite file" }),
        EditorView.updateListener.of((update) => {
          if (update.docChanged) callbacks.current.onChange(update.state.doc.toString());
          if (update.docChanged || update.selectionSet)
            callbacks.current.onLine(update.state.doc.lineAt(update.state.selection.main.head).number);
        }),
      ],
    });
    view.current = editor;
    return () => editor.destroy();
  }, [initial]);
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
    editor.dispatch({
      selection: { anchor: from },
      effects: EditorView.scrollIntoView(from, { y: "start", yMargin: 40 }),
    });
    editor.focus();
  }, [goTo]);
  return <div ref={place} className="yaml-editor h-full min-h-0 overflow-hidden bg-sheet" />;
}
