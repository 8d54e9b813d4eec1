import type { AnswersImportResult } from "@tourney/core/contract";
import { useState } from "react";
import { useImportAnswersMutation } from "../../api/wall-api.js";
import { count } from "../../lib/format.js";
import { Button } from "../../ui/controls.js";
import { ErrorNotice } from "../../ui/notices.js";
import { Sheet } from "../../ui/Sheet.js";

/** Takes in a zip or JSONL file of answers that were fetched by hand, and says of each what became of it. */
export function ImportAnswers({ editionId }: { editionId: string }) {
  const [isOpen, setIsOpen] = useState(false);
  const [importAnswers, { data, error, isLoading, reset }] = useImportAnswersMutation();
  const take = (file: File | undefined) => {
    if (file) void importAnswers({ editionId, file });
  };
  return (
    <>
      <Button
        compact
        onClick={() => {
          reset();
          setIsOpen(true);
        }}
      >
        Import answers…
      </Button>
      <Sheet
        title="Import answers"
        description="A zip file laid out as <prompt key>/<entrant key>.md, or a JSONL file with prompt, entrant and text on each line. A single answer may be dropped on its cell instead."
        open={isOpen}
        onOpenChange={setIsOpen}
      >
        <div
          className="border border-dashed border-rule p-6 text-center"
          onDragOver={(event) => event.preventDefault()}
          onDrop={(event) => {
            event.preventDefault();
            take(event.dataTransfer.files[0]);
          }}
        >
          <label className="inline-flex items-center gap-3">
            <span className="font-semibold">{isLoading ? "Reading …" : "File, or drop it here"}</span>
            <input
              type="file"
              accept=".zip,.jsonl,.ndjson"
              disabled={isLoading}
              onChange={(event) => take(event.target.files?.[0])}
            />
          </label>
        </div>
        {error ? <ErrorNotice error={error} /> : null}
        {data ? <Outcome result={data} /> : null}
      </Sheet>
    </>
  );
}

function Outcome({ result: { taken, refused } }: { result: AnswersImportResult }) {
  const fresh = taken.filter(({ created }) => created);
  return (
    <div role="status" className="mt-3">
      <p className="m-0 font-semibold">
        {count(fresh.length, "answer")} taken, {taken.length - fresh.length} there already, {refused.length} not taken.
      </p>
      <ul className="m-0 mt-2 max-h-80 list-none overflow-auto p-0">
        {refused.map(({ source, why }) => (
          <li key={source} className="border-b border-rule py-1.5">
            <span className="font-mono text-[12px]">{source}</span> <span className="text-broken">{why}</span>
          </li>
        ))}
        {fresh.map(({ source, verdict }) => (
          <li key={source} className="border-b border-rule py-1.5">
            <span className="font-mono text-[12px]">{source}</span>{" "}
            <span className="text-soft">taken, {verdict.replaceAll("_", " ")}</span>
          </li>
        ))}
      </ul>
    </div>
  );
}
