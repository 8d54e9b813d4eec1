import type { PromptDefinition, StripFrame, SuitePreview } from "@tourney/core/contract";
import { type RawPrompt, readSuiteText, setInSuite } from "@tourney/core/suite";
import { skipToken } from "@reduxjs/toolkit/query";
import {
  type KeyboardEvent,
  lazy,
  type ReactNode,
  type RefObject,
  Suspense,
  useDeferredValue,
  useEffect,
  useMemo,
  useRef,
  useState,
} from "react";
import { useParams } from "react-router";
import { EditionLink, useEditionNavigate } from "../../api/edition-links.js";
import { toast } from "sonner";
import { count } from "../../lib/format.js";
import { useEdition } from "../../api/use-edition.js";
import { useGetStripQuery, useGetWallQuery } from "../../api/wall-api.js";
import { Button } from "../../ui/controls.js";
import { ErrorNotice, Loading } from "../../ui/notices.js";
import { Difference } from "./Difference.js";
import { PromptBar, type PromptView } from "./PromptBar.js";
import { PromptForm } from "./PromptForm.js";
import { PromptPage } from "./PromptPage.js";
import { asText } from "./raw-values.js";
import {
  useDropSuiteDraftMutation,
  useGetSuiteDraftQuery,
  useImportSuiteMutation,
  usePreviewSuiteMutation,
  useSaveSuiteDraftMutation,
} from "./suite-api.js";

import type { TextHandle, TextHistory } from "./YamlEditor.js";

const YamlEditor = lazy(() => import("./YamlEditor.js").then((m) => ({ default: m.YamlEditor })));
/** What is typed is kept this long after the last key. */
const SAVE_AFTER_MS = 800;

/** The next edition of a suite as a file in an editor: checked while it is typed, kept as a draft, compared, then frozen. */
export function SuiteEditor() {
  const { suiteKey = "" } = useParams();
  const { currentData: draft, error, refetch } = useGetSuiteDraftQuery(suiteKey);
  if (draft === undefined)
    return error ? <ErrorNotice error={error} onRetry={() => void refetch()} /> : <Loading what="the draft" />;
  return <Editor key={suiteKey} suiteKey={suiteKey} initial={draft.yaml} basedOn={draft.basedOn} />;
}

function Editor({ suiteKey, initial, basedOn }: { suiteKey: string; initial: string; basedOn: number | null }) {
  const [text, setText] = useState(initial);
  const [chosen, setChosen] = useState(0);
  const [view, setView] = useState<PromptView>("form");
  const [goTo, setGoTo] = useState<{ line: number; wish: number } | null>(null);
  const [history, setHistory] = useState<TextHistory>({ undo: 0, redo: 0 });
  const preview = usePreview();
  const editor = useRef<TextHandle>(null);
  const { parsed, prompts } = useReading(text);
  const state = useSavedDraft(suiteKey, text, initial);
  const issues = parsed.ok ? [] : parsed.issues;
  const index = Math.min(chosen, Math.max(0, prompts.length - 1));
  const prompt = prompts[index];
  const frames = useEarlierFrames(suiteKey, asText(prompt?.value["key"]));

  const go = (line: number) => setGoTo((now) => ({ line, wish: (now?.wish ?? 0) + 1 }));
  const onLine = (line: number) => setChosen(findPromptAt(prompts, line));
  const change = (next: string | null) => {
    if (next === null) toast.error("The file cannot be parsed. Correct it first.");
    else editor.current?.replace(next);
  };
  return (
    <main className="grid h-full grid-cols-[minmax(0,1fr)_minmax(0,1fr)] grid-rows-[auto_minmax(0,1fr)]">
      <EditorHead
        suiteKey={suiteKey}
        number={(basedOn ?? 0) + 1}
        state={`${state} · ${parsed.ok ? count(prompts.length, "prompt") : `${count(issues.length, "thing")} to correct`}`}
        {...{ text, history, editor }}
      >
        <Button
          tone={preview.shown ? "plain" : "primary"}
          disabled={!parsed.ok || preview.isLoading}
          onClick={() => void preview.show(text)}
        >
          Compare and freeze…
        </Button>
      </EditorHead>
      <Suspense fallback={<Loading what="the editor" />}>
        <YamlEditor
          ref={editor}
          initial={initial}
          issues={issues}
          goTo={goTo}
          onChange={(next) => {
            setText(next);
            // What is frozen is what was shown: another text is compared anew.
            preview.close();
          }}
          onLine={onLine}
          onHistory={setHistory}
        />
      </Suspense>
      <div
        className="flex min-h-0 flex-col border-l border-rule"
        onKeyDown={(event) => onHistoryKey(event, editor.current)}
      >
        {preview.error ? <ErrorNotice error={preview.error} /> : null}
        {preview.shown ? (
          <div className="min-h-0 overflow-auto">
            <Freeze compared={preview.shown} onClose={preview.close} />
          </div>
        ) : (
          <>
            <PromptBar
              prompts={prompts}
              index={index}
              view={view}
              onView={setView}
              onChoose={(next) => {
                setChosen(next);
                go(prompts[next]?.line ?? 1);
              }}
              onChange={(next, at) => {
                change(next);
                setChosen(at);
              }}
              text={text}
            />
            <div className="min-h-0 flex-1 overflow-auto">
              {issues.length > 0 ? <Issues issues={issues} onGo={go} /> : null}
              {prompt === undefined ? (
                <NoPrompt isReadable={issues.length === 0} />
              ) : view === "form" ? (
                <PromptForm
                  key={prompt.index}
                  prompt={prompt}
                  keys={prompts.map(({ value }) => asText(value["key"]))}
                  issues={issues}
                  frames={frames}
                  onSet={(path, value) => change(setInSuite(text, path, value))}
                />
              ) : (
                <FrozenView prompt={parsed.ok ? parsed.value.prompts[index] : undefined} />
              )}
            </div>
          </>
        )}
      </div>
    </main>
  );
}

/** What freezing would change, once it was asked for. */
interface Compared {
  preview: SuitePreview;
  /** The text that was compared: it is what is frozen. */
  yaml: string;
}

function usePreview() {
  const [shown, setShown] = useState<Compared | null>(null);
  const [previewSuite, { error, isLoading }] = usePreviewSuiteMutation();
  const asked = useRef(0);
  const show = async (text: string) => {
    const own = ++asked.current;
    const result = await previewSuite(text);
    // The text may have changed while it was being compared.
    if (result.data && own === asked.current) setShown({ preview: result.data, yaml: text });
  };
  const close = () => {
    asked.current++;
    setShown(null);
  };
  return { shown, show, close, error, isLoading };
}

/** The prompt that a line of the file is in; the first for what stands before all. */
const findPromptAt = (prompts: readonly RawPrompt[], line: number): number =>
  Math.max(
    0,
    prompts.findLastIndex((prompt) => prompt.line <= line),
  );

/** The text as a suite, read when the typing lets up. */
function useReading(text: string) {
  const settled = useDeferredValue(text);
  return useMemo(() => readSuiteText(settled), [settled]);
}

/** The form's fields have a history of their own in the browser; the file's is the one that counts. */
function onHistoryKey(event: KeyboardEvent, editor: TextHandle | null): void {
  if (!(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== "z") return;
  event.preventDefault();
  if (event.shiftKey) editor?.redo();
  else editor?.undo();
}

interface EditorHeadProps {
  suiteKey: string;
  number: number;
  /** How the draft stands, in words. */
  state: string;
  /** The draft as it stands. */
  text: string;
  history: TextHistory;
  editor: RefObject<TextHandle | null>;
  children: ReactNode;
}

function EditorHead({ suiteKey, text, number, state, history, editor, children }: EditorHeadProps) {
  return (
    <div className="col-span-2 flex flex-wrap items-center gap-3 border-b border-rule px-4 py-2.5">
      <EditionLink to="/suite">← Suite</EditionLink>
      <h1 className="m-0 text-[18px] leading-6">
        Edition {number} of {suiteKey}
      </h1>
      <span className="text-soft" role="status">
        {state}
      </span>
      <span className="ml-auto flex gap-2">
        <Button disabled={history.undo === 0} onClick={() => editor.current?.undo()}>
          Undo
        </Button>
        <Button disabled={history.redo === 0} onClick={() => editor.current?.redo()}>
          Redo
        </Button>
        <DropDraft suiteKey={suiteKey} text={text} />
        {children}
      </span>
    </div>
  );
}

/** A prompt that is not frozen has no id yet. */
const NO_ID = "00000000-0000-4000-8000-000000000000";

const NoPrompt = ({ isReadable }: { isReadable: boolean }) => (
  <p className="m-0 px-6 py-4 text-soft">
    {isReadable ? "This suite has no prompt yet. Add one." : "The form comes back when the file can be read."}
  </p>
);

/** The prompt as it will stand in the edition. */
function FrozenView({ prompt }: { prompt: PromptDefinition | undefined }) {
  if (prompt) return <PromptPage prompt={{ id: NO_ID, ...prompt }} />;
  return <p className="m-0 px-6 py-4 text-soft">The page shows when nothing is left to correct.</p>;
}

/** Pictures that were recorded for a prompt of this suite, by its key: what a walkthrough is aimed on. */
function useEarlierFrames(suiteKey: string, promptKey: string): readonly StripFrame[] {
  const { editions } = useEdition();
  const edition = editions.find((item) => item.suiteKey === suiteKey && item.generations > 0);
  const { currentData: wall } = useGetWallQuery(
    { editionId: edition?.id ?? "", take: 1 },
    { skip: edition === undefined },
  );
  const prompt = wall?.prompts.find(({ key }) => key === promptKey);
  const entryId = wall?.cells.find(({ promptId, picture }) => promptId === prompt?.id && picture !== null)?.entryId;
  const { currentData: strip } = useGetStripQuery(
    edition === undefined || !entryId ? skipToken : { entryId, edition: edition.id },
  );
  return strip?.frames ?? [];
}

/** Keeps the draft on the server a moment after the last key; says in words how it stands. */
function useSavedDraft(suiteKey: string, text: string, initial: string): string {
  const [save, { isLoading, isError }] = useSaveSuiteDraftMutation();
  const [saved, setSaved] = useState(initial);
  useEffect(() => {
    if (text === saved) return undefined;
    const timer = setTimeout(() => {
      void save({ suiteKey, yaml: text }).then((result) => {
        if (!result.error) setSaved(text);
      });
    }, SAVE_AFTER_MS);
    return () => clearTimeout(timer);
  }, [text, saved, save, suiteKey]);
  if (isError) return "not kept: the server does not answer";
  if (isLoading) return "keeping …";
  return text === saved ? (text === initial ? "as it was" : "kept as a draft") : "changed";
}

function Issues({
  issues,
  onGo,
}: {
  issues: readonly { line: number | null; path: string; message: string }[];
  onGo: (line: number) => void;
}) {
  return (
    <section aria-labelledby="issues-heading" className="px-6 py-4">
      <h2 id="issues-heading" className="m-0 mb-2 text-[16px]">
        To correct before it can be frozen
      </h2>
      <ul className="m-0 list-none p-0">
        {issues.map(({ line, path, message }, index) => (
          <li key={index} className="flex gap-3 border-b border-rule py-1.5">
            <Button compact disabled={line === null} onClick={() => onGo(line ?? 1)}>
              line {line ?? "?"}
            </Button>
            <span className="min-w-0 break-words">
              {path ? <span className="font-mono text-[12px]">{path} </span> : null}
              <span className="text-broken">{message}</span>
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}

function Freeze({ compared: { preview, yaml }, onClose }: { compared: Compared; onClose: () => void }) {
  const navigate = useEditionNavigate();
  const [importSuite, { isLoading, error }] = useImportSuiteMutation();
  const freeze = async () => {
    const result = await importSuite({ yaml, digest: preview.digest });
    if (!result.data) return;
    toast.success(`${result.data.edition.suiteTitle} is frozen as edition ${result.data.edition.number}.`);
    navigate(`/suite?edition=${result.data.edition.id}`);
  };
  return (
    <section aria-labelledby="freeze-heading" className="px-6 py-4">
      <div className="mb-3 flex items-center gap-2">
        <h2 id="freeze-heading" className="m-0 mr-auto text-[16px]">
          {preview.sameAs === null
            ? `What edition ${preview.nextNumber} changes${preview.against === null ? "" : ` from edition ${preview.against}`}`
            : `This is edition ${preview.sameAs}, which is frozen already`}
        </h2>
        <Button onClick={onClose}>Go on editing</Button>
        <Button tone="primary" disabled={isLoading || preview.sameAs !== null} onClick={() => void freeze()}>
          Freeze edition {preview.nextNumber}
        </Button>
      </div>
      {error ? <ErrorNotice error={error} /> : null}
      {preview.difference ? <Difference difference={preview.difference} /> : <p className="text-soft">A new suite.</p>}
    </section>
  );
}

/** Throws the draft away, with a way to have it back as it was. */
function DropDraft({ suiteKey, text }: Pick<EditorHeadProps, "suiteKey" | "text">) {
  const navigate = useEditionNavigate();
  const [drop, { isLoading }] = useDropSuiteDraftMutation();
  const [save] = useSaveSuiteDraftMutation();
  const onDrop = async () => {
    const result = await drop(suiteKey);
    if (result.error) {
      toast.error("The draft could not be thrown away.");
      return;
    }
    const bringBack = async () => {
      await save({ suiteKey, yaml: text });
      navigate(`/suite/edit/${suiteKey}`);
    };
    navigate("/suite");
    toast("The draft was thrown away.", { action: { label: "Undo", onClick: () => void bringBack() } });
  };
  return (
    <Button disabled={isLoading} onClick={() => void onDrop()}>
      Throw draft away
    </Button>
  );
}
