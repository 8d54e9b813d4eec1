import { type Prompt, SuiteDefinition, type SuitePreview } from "@tourney/core/contract";
import { parseYaml } from "@tourney/core/suite";
import { lazy, Suspense, useDeferredValue, useEffect, useMemo, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { toast } from "sonner";
import { count } from "../../lib/format.js";
import { Button } from "../../ui/controls.js";
import { ErrorNotice, Loading } from "../../ui/notices.js";
import { Difference } from "./Difference.js";
import { PromptPage } from "./PromptPage.js";
import {
  useDropSuiteDraftMutation,
  useGetSuiteDraftQuery,
  useImportSuiteMutation,
  usePreviewSuiteMutation,
  useSaveSuiteDraftMutation,
} from "./suite-api.js";

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
  const [line, setLine] = useState(1);
  const [goTo, setGoTo] = useState<{ line: number; wish: number } | null>(null);
  const [preview, setPreview] = useState<SuitePreview | null>(null);
  const checked = useDeferredValue(text);
  const parsed = useMemo(() => parseYaml(SuiteDefinition, checked), [checked]);
  const state = useSavedDraft(suiteKey, text, initial);
  const [previewSuite, previewing] = usePreviewSuiteMutation();
  const issues = parsed.ok ? [] : parsed.issues;
  const prompt = parsed.ok ? promptAtLine(parsed.value, checked, line) : null;
  const show = async () => {
    const result = await previewSuite(text);
    if (result.data) setPreview(result.data);
  };
  return (
    <main className="grid h-full grid-cols-[minmax(0,1fr)_minmax(0,1fr)] grid-rows-[auto_minmax(0,1fr)]">
      <div className="col-span-2 flex flex-wrap items-center gap-3 border-b border-rule px-4 py-2.5">
        <Link to="/suite">← Suite</Link>
        <h1 className="m-0 text-[18px] leading-6">
          Edition {(basedOn ?? 0) + 1} of {suiteKey}
        </h1>
        <span className="text-soft" role="status">
          {state} ·{" "}
          {parsed.ok ? count(parsed.value.prompts.length, "prompt") : `${count(issues.length, "thing")} to correct`}
        </span>
        <span className="ml-auto flex gap-2">
          <DropDraft suiteKey={suiteKey} />
          <Button tone="primary" disabled={!parsed.ok || previewing.isLoading} onClick={() => void show()}>
            Compare and freeze…
          </Button>
        </span>
      </div>
      <Suspense fallback={<Loading what="the editor" />}>
        <YamlEditor initial={initial} issues={issues} goTo={goTo} onChange={setText} onLine={setLine} />
      </Suspense>
      <div className="min-h-0 overflow-auto border-l border-rule">
        {previewing.error ? <ErrorNotice error={previewing.error} /> : null}
        {issues.length > 0 ? (
          <Issues issues={issues} onGo={(to) => setGoTo((now) => ({ line: to, wish: (now?.wish ?? 0) + 1 }))} />
        ) : preview ? (
          <Freeze preview={preview} yaml={text} onClose={() => setPreview(null)} />
        ) : prompt ? (
          <PromptPage prompt={prompt} />
        ) : (
          <p className="px-8 py-5 text-soft">
            Put the cursor into a prompt to see it as it will be sent, driven and judged.
          </p>
        )}
      </div>
    </main>
  );
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

/** The prompt that the cursor is in: the last whose key stands at or above its line. */
function promptAtLine(suite: SuiteDefinition, text: string, line: number): Prompt | null {
  const above = text.split("\n").slice(0, line);
  const keys = above.flatMap((row) => /^\s*-\s+(?:\{\s*)?key:\s*["']?([\w-]+)/.exec(row)?.[1] ?? []);
  const prompt = suite.prompts.find(({ key }) => key === keys.at(-1));
  return prompt ? { id: "00000000-0000-4000-8000-000000000000", ...prompt } : null;
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

function Freeze({ preview, yaml, onClose }: { preview: SuitePreview; yaml: string; onClose: () => void }) {
  const navigate = useNavigate();
  const [importSuite, { isLoading, error }] = useImportSuiteMutation();
  const freeze = async () => {
    const result = await importSuite(yaml);
    if (!result.data) return;
    toast.success(`${result.data.edition.suiteTitle} is frozen as edition ${result.data.edition.number}.`);
    void navigate("/suite");
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

function DropDraft({ suiteKey }: { suiteKey: string }) {
  const navigate = useNavigate();
  const [drop, { isLoading }] = useDropSuiteDraftMutation();
  const onDrop = async () => {
    await drop(suiteKey);
    void navigate("/suite");
  };
  return (
    <Button disabled={isLoading} onClick={() => void onDrop()}>
      Throw draft away
    </Button>
  );
}
