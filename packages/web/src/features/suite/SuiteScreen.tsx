import { type Edition, Kind, KINDS, type Prompt, type SuitePreview } from "@tourney/core/contract";
import { useState } from "react";
import { useSearchParams } from "react-router";
import { useEdition, useGetEditionQuery } from "../../api/use-edition.js";
import { count, formatAgo, formatExact } from "../../lib/format.js";
import { Button } from "../../ui/controls.js";
import { NoSuiteNotice } from "../../ui/NoSuiteNotice.js";
import { ErrorNotice, Loading } from "../../ui/notices.js";
import { ImportSheet } from "../../ui/ImportSheet.js";
import { EditionTools } from "./EditionTools.js";
import { BuiltStrip } from "./BuiltStrip.js";
import { PromptPage } from "./PromptPage.js";
import { Difference } from "./Difference.js";
import { useImportSuiteMutation, usePreviewSuiteMutation } from "./suite-api.js";

/** The suite: its editions, its prompts by kind, and the prompt that is looked at. */
export function SuiteScreen() {
  const { edition, error } = useEdition();
  const [isImporting, setIsImporting] = useState(false);
  if (edition === undefined) return error ? <ErrorNotice error={error} /> : <Loading what="the suite" />;
  return (
    <>
      {edition === null ? (
        <NoSuiteNotice
          title="No suite yet"
          importAction={
            <Button tone="primary" onClick={() => setIsImporting(true)}>
              Import a suite file
            </Button>
          }
        >
          A suite is the fixed set of visual prompts that every entrant answers. It is read from a YAML file and frozen
          as a numbered edition. The demo's own, <code className="font-mono">demo/suite.yaml</code>, is a good file to
          start from.
        </NoSuiteNotice>
      ) : (
        <main>
          <EditionView editionId={edition.id} onImport={() => setIsImporting(true)} />
        </main>
      )}
      <SuiteImport open={isImporting} onOpenChange={setIsImporting} />
    </>
  );
}

function SuiteImport({ open, onOpenChange }: { open: boolean; onOpenChange: (open: boolean) => void }) {
  const [importSuite, { isLoading, error }] = useImportSuiteMutation();
  const [previewSuite, previewing] = usePreviewSuiteMutation();
  const [preview, setPreview] = useState<{ yaml: string; of: SuitePreview } | null>(null);
  const [, setSearch] = useSearchParams();
  return (
    <ImportSheet
      title="Import a suite file"
      description="What is read is shown as a difference first, then frozen as the next edition."
      what="suite"
      open={open}
      onOpenChange={onOpenChange}
      isLoading={isLoading || previewing.isLoading}
      error={error ?? previewing.error}
      onPreview={async (yaml) => {
        const of = await previewSuite(yaml).unwrap();
        setPreview({ yaml, of });
      }}
      preview={(yaml) => (preview?.yaml === yaml ? <PreviewNotice preview={preview.of} /> : null)}
      onImport={async (yaml) => {
        const { edition, created } = await importSuite({
          yaml,
          digest: preview?.yaml === yaml ? preview.of.digest : undefined,
        }).unwrap();
        setSearch({ edition: edition.id });
        return created
          ? `${edition.suiteTitle} is frozen as edition ${edition.number}.`
          : `That is edition ${edition.number}, which is there already.`;
      }}
    />
  );
}

function PreviewNotice({ preview }: { preview: SuitePreview }) {
  return (
    <div className="mb-3 max-h-60 overflow-auto border border-rule px-3 py-2">
      <p className="m-0 mb-1 font-semibold">
        {preview.sameAs === null
          ? `${preview.suiteTitle}, ${count(preview.promptCount, "prompt")}: becomes edition ${preview.nextNumber}`
          : `This is edition ${preview.sameAs}, which is there already`}
      </p>
      {preview.difference ? (
        <Difference difference={preview.difference} />
      ) : (
        <p className="m-0 text-soft">A new suite.</p>
      )}
    </div>
  );
}

function EditionView({ editionId, onImport }: { editionId: string; onImport: () => void }) {
  const { currentData: edition, error, refetch } = useGetEditionQuery(editionId);
  const [search, setSearch] = useSearchParams();
  if (edition === undefined)
    return error ? <ErrorNotice error={error} onRetry={() => void refetch()} /> : <Loading what="the edition" />;
  const chosen = edition.prompts.find(({ key }) => key === search.get("prompt")) ?? edition.prompts[0]!;
  const choose = (key: string) => setSearch((now) => ({ ...Object.fromEntries(now), prompt: key }));
  return (
    <div className="grid grid-cols-[320px_1fr] max-[900px]:grid-cols-1">
      <div className="border-r border-rule">
        <EditionHead edition={edition} onImport={onImport} />
        <PromptList prompts={edition.prompts} chosenKey={chosen.key} onChoose={choose} />
      </div>
      <div>
        <PromptPage prompt={chosen} />
        <BuiltStrip editionId={edition.id} promptId={chosen.id} />
      </div>
    </div>
  );
}

function EditionHead({ edition, onImport }: { edition: Edition; onImport: () => void }) {
  const { editions } = useEdition();
  const [, setSearch] = useSearchParams();
  const [nowMs] = useState(() => Date.now());
  return (
    <div className="border-b border-rule px-4 py-4">
      <h1 className="m-0 text-[20px] leading-6">{edition.suiteTitle}</h1>
      <p className="m-0 mt-1 text-soft">
        Frozen{" "}
        <time dateTime={edition.frozenAt} title={formatExact(edition.frozenAt)}>
          {formatAgo(edition.frozenAt, nowMs)}
        </time>{" "}
        · digest{" "}
        <span className="font-mono text-[12px]" title={edition.digest}>
          {edition.digest.slice(0, 12)}
        </span>
      </p>
      <div className="mt-3 flex flex-wrap items-center gap-2">
        <select
          aria-label="Edition"
          value={edition.id}
          onChange={(event) => setSearch({ edition: event.target.value })}
          className="h-8 min-w-0 flex-1 rounded border border-rule bg-sheet px-2 text-ink"
        >
          {editions.map((item) => (
            <option key={item.id} value={item.id}>
              {item.suiteTitle}, edition {item.number}
              {item.archived ? " (archived)" : ""}
            </option>
          ))}
        </select>
        <Button onClick={onImport}>Import…</Button>
      </div>
      <EditionTools edition={edition} editions={editions} />
    </div>
  );
}

function PromptList({
  prompts,
  chosenKey,
  onChoose,
}: {
  prompts: Prompt[];
  chosenKey: string;
  onChoose: (key: string) => void;
}) {
  const kinds = Kind.options.filter((kind) => prompts.some((prompt) => prompt.kind === kind));
  return (
    <nav aria-label="Prompts">
      {kinds.map((kind) => (
        <section key={kind} className="border-b border-rule py-3">
          <h2 className="m-0 px-4 text-[12px] leading-5 font-medium text-soft">{KINDS[kind].plural}</h2>
          {prompts
            .filter((prompt) => prompt.kind === kind)
            .map((prompt) => (
              <button
                key={prompt.key}
                type="button"
                aria-current={prompt.key === chosenKey}
                onClick={() => onChoose(prompt.key)}
                className={`block w-full border-0 px-4 py-1.5 text-left text-ink ${prompt.key === chosenKey ? "bg-sheet shadow-[inset_3px_0_0_var(--ink)]" : "bg-transparent hover:bg-sheet"}`}
              >
                <span className="block font-semibold">{prompt.title}</span>
                <span className="block truncate text-[12px] leading-4 text-soft">{prompt.summary}</span>
              </button>
            ))}
        </section>
      ))}
    </nav>
  );
}
