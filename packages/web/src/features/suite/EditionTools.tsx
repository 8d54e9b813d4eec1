import type { Edition, EditionSummary } from "@tourney/core/contract";
import { useState } from "react";
import { EditionLink } from "../../api/edition-links.js";
import { toast } from "sonner";
import { toApiError } from "../../api/tourney-api.js";
import { Button, Field } from "../../ui/controls.js";
import { ErrorNotice, Loading } from "../../ui/notices.js";
import { Sheet } from "../../ui/Sheet.js";
import { Difference } from "./Difference.js";
import {
  useArchiveSuiteMutation,
  useCompareEditionsQuery,
  useDuplicateSuiteMutation,
  useLazyExportEditionQuery,
} from "./suite-api.js";

/** What can be done with an edition: edit the next one, export, compare, duplicate, archive. */
export function EditionTools({ edition, editions }: { edition: Edition; editions: readonly EditionSummary[] }) {
  const [isComparing, setIsComparing] = useState(false);
  const [isDuplicating, setIsDuplicating] = useState(false);
  const [archive, archiving] = useArchiveSuiteMutation();
  const others = editions.filter(({ suiteKey, id }) => suiteKey === edition.suiteKey && id !== edition.id);
  const setArchived = async (archived: boolean) => {
    const result = await archive({ suiteKey: edition.suiteKey, archived });
    if (result.error) toast.error(toApiError(result.error).detail);
    else if (archived)
      toast.success(`${edition.suiteTitle} is archived. Nothing of it is lost.`, {
        action: { label: "Undo", onClick: () => void setArchived(false) },
      });
  };
  return (
    <div className="mt-2 flex flex-wrap gap-2">
      <EditionLink
        to={`/suite/edit/${edition.suiteKey}`}
        className="inline-flex h-6 items-center rounded border border-rule bg-sheet px-2.5 text-[13px] text-ink no-underline hover:border-ink"
      >
        Edit…
      </EditionLink>
      <ExportButton edition={edition} />
      {others.length > 0 ? (
        <Button compact onClick={() => setIsComparing(true)}>
          Compare…
        </Button>
      ) : null}
      <Button compact onClick={() => setIsDuplicating(true)}>
        Duplicate…
      </Button>
      <Button compact disabled={archiving.isLoading} onClick={() => void setArchived(!edition.archived)}>
        {edition.archived ? "Bring back" : "Archive"}
      </Button>
      {isComparing ? <CompareSheet edition={edition} others={others} onClose={() => setIsComparing(false)} /> : null}
      {isDuplicating ? <DuplicateSheet edition={edition} onClose={() => setIsDuplicating(false)} /> : null}
    </div>
  );
}

function ExportButton({ edition }: { edition: Edition }) {
  const [fetchFile, { isFetching }] = useLazyExportEditionQuery();
  const save = async () => {
    const { data, error } = await fetchFile(edition.id);
    if (data === undefined) {
      toast.error(toApiError(error).detail);
      return;
    }
    const link = document.createElement("a");
    link.href = URL.createObjectURL(new Blob([data.yaml], { type: "application/yaml" }));
    link.download = `${edition.suiteKey}-edition-${edition.number}.yaml`;
    link.click();
    URL.revokeObjectURL(link.href);
  };
  return (
    <Button compact disabled={isFetching} onClick={() => void save()}>
      Export
    </Button>
  );
}

function CompareSheet({
  edition,
  others,
  onClose,
}: {
  edition: Edition;
  others: readonly EditionSummary[];
  onClose: () => void;
}) {
  const [fromId, setFromId] = useState(others[0]!.id);
  const { currentData: difference, error } = useCompareEditionsQuery({ fromId, toId: edition.id });
  return (
    <Sheet
      title={`Edition ${edition.number} compared`}
      description="Prompt by prompt: what stood there before, and what stands there now."
      open
      onOpenChange={onClose}
    >
      <label className="mb-3 flex items-center gap-3">
        <span className="font-semibold">Since</span>
        <select
          value={fromId}
          onChange={(event) => setFromId(event.target.value)}
          className="h-8 rounded border border-rule bg-sheet px-2 text-ink"
        >
          {others.map(({ id, number }) => (
            <option key={id} value={id}>
              edition {number}
            </option>
          ))}
        </select>
      </label>
      {difference ? (
        <Difference difference={difference} />
      ) : error ? (
        <ErrorNotice error={error} />
      ) : (
        <Loading what="the difference" />
      )}
    </Sheet>
  );
}

function DuplicateSheet({ edition, onClose }: { edition: Edition; onClose: () => void }) {
  const [key, setKey] = useState(`${edition.suiteKey}-copy`);
  const [title, setTitle] = useState(`${edition.suiteTitle}, copy`);
  const [duplicate, { isLoading, error }] = useDuplicateSuiteMutation();
  const issues = error ? toApiError(error).issues : [];
  const submit = async () => {
    const result = await duplicate({ editionId: edition.id, key, title });
    if (!result.data) return;
    toast.success(`${title} is a suite of its own, at edition 1.`);
    onClose();
  };
  return (
    <Sheet
      title="Duplicate the suite"
      description="The same prompts as edition 1 of another suite."
      open
      onOpenChange={onClose}
    >
      <form
        onSubmit={(event) => {
          event.preventDefault();
          void submit();
        }}
      >
        {error ? <ErrorNotice error={error} /> : null}
        <Field
          label="Key"
          value={key}
          error={issues.find(({ path }) => path === "key")?.message}
          onChange={(event) => setKey(event.target.value)}
        />
        <Field label="Title" value={title} onChange={(event) => setTitle(event.target.value)} />
        <div className="mt-3 flex justify-end">
          <Button tone="primary" type="submit" disabled={isLoading}>
            Duplicate
          </Button>
        </div>
      </form>
    </Sheet>
  );
}
