import { MOST_COMPARED } from "@tourney/core/compare";
import type { ComparableEntry, WallCell } from "@tourney/core/contract";
import { useState } from "react";
import { EditionLink, useEditionInAddress } from "../../api/edition-links.js";
import { useGetEntryQuery, useListComparableQuery } from "../../api/entry-api.js";
import { describeComparable } from "../../lib/comparable-words.js";
import { ErrorNotice, Loading } from "../../ui/notices.js";
import { pictureUrl } from "../../ui/Picture.js";
import { Sheet } from "../../ui/Sheet.js";

/** The cell that is fanned out, with what it is called. */
export interface Fanned {
  cell: WallCell & { entryId: string };
  label: string;
}

/** F fans a cell out. */
export function useFan() {
  const [fanned, setFanned] = useState<Fanned | null>(null);
  return {
    fanned,
    close: () => setFanned(null),
    open: (cell: WallCell, label: string) => {
      if (cell.entryId !== null) setFanned({ label, cell: { ...cell, entryId: cell.entryId } });
    },
  };
}

/** Everything that one entrant has made of one prompt: takes, turns, rounds and older versions, each with its picture. */
export function Fan({ fanned, onClose }: { fanned: Fanned; onClose: () => void }) {
  const { cell, label } = fanned;
  const edition = useEditionInAddress() ?? undefined;
  const { data, error } = useListComparableQuery({ entryId: cell.entryId, edition });
  const own = (data ?? []).filter(({ entrant, isSamePrompt }) => isSamePrompt && entrant.id === cell.entrantId);
  return (
    <Sheet
      title={label}
      description="Takes, turns, rounds and versions of this cell."
      open
      onOpenChange={(open) => (open ? null : onClose())}
    >
      {data === undefined ? error ? <ErrorNotice error={error} /> : <Loading what="the entries" /> : null}
      <ul
        aria-label="Entries of this cell"
        className="m-0 grid list-none grid-cols-2 gap-3 p-0 max-[640px]:grid-cols-1"
      >
        {own.map((one) => (
          <li key={one.entryId} className="min-w-0">
            <Card entry={one} edition={edition} />
          </li>
        ))}
      </ul>
      {own.length > 1 ? (
        <p className="mt-4 mb-0">
          <EditionLink
            to={`/compare?entries=${own
              .slice(0, MOST_COMPARED)
              .map(({ entryId }) => entryId)
              .join(",")}`}
          >
            Compare {own.length > MOST_COMPARED ? `the first ${MOST_COMPARED}` : `all ${own.length}`}
          </EditionLink>
        </p>
      ) : null}
    </Sheet>
  );
}

function Card({ entry, edition }: { entry: ComparableEntry; edition: string | undefined }) {
  const { data } = useGetEntryQuery({ entryId: entry.entryId, edition });
  const recording = data?.render?.recording;
  const poster = recording?.frames[recording.poster];
  const errors = recording?.findings.filter(({ severity }) => severity === "error").length ?? 0;
  return (
    <EditionLink to={`/entries/${entry.entryId}`} className="block text-ink no-underline">
      <span className="block aspect-[16/10] overflow-hidden border border-rule bg-sheet">
        {poster ? (
          <img src={pictureUrl(poster.thumbnail)} alt="" className="size-full object-cover" />
        ) : (
          <span className="hatched grid size-full place-items-center text-[13px] text-soft">
            {data === undefined ? "Loading …" : "Not recorded"}
          </span>
        )}
      </span>
      <span className="mt-1 block text-[13px] underline">{describeComparable(entry)}</span>
      <span className="figures block text-[12px] text-soft">
        {errors === 0 ? "no errors found" : `${errors} ${errors === 1 ? "error" : "errors"} found`}
      </span>
    </EditionLink>
  );
}
