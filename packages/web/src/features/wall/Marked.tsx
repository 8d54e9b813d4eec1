import { MOST_COMPARED } from "@tourney/core/compare";
import type { Wall, WallCell } from "@tourney/core/contract";
import { useState } from "react";
import { toast } from "sonner";
import { useEditionNavigate } from "../../api/edition-links.js";
import { useKeys } from "../../lib/use-keys.js";
import { Button, Kbd } from "../../ui/controls.js";

export interface Marks {
  entryIds: readonly string[];
  mark: (cell: WallCell) => void;
  clear: () => void;
}

/** The cells that are marked to be compared: two to six of one row. Marking a cell of another row drops the marks of the first. */
export function useMarks(): Marks {
  const [marks, setMarks] = useState<{ promptId: string; entryIds: string[] }>({ promptId: "", entryIds: [] });
  const mark = ({ promptId, entryId }: WallCell) => {
    if (entryId === null) return;
    const present = marks.promptId === promptId ? marks.entryIds : [];
    if (present.includes(entryId)) setMarks({ promptId, entryIds: present.filter((id) => id !== entryId) });
    else if (present.length < MOST_COMPARED) setMarks({ promptId, entryIds: [...present, entryId] });
    else toast(`${MOST_COMPARED} are compared at most. Take one away with Space first.`);
  };
  return { entryIds: marks.entryIds, mark, clear: () => setMarks({ promptId: "", entryIds: [] }) };
}

/** What is marked, and C to compare it. */
export function MarkedBar({ wall, marks }: { wall: Wall; marks: Marks }) {
  const navigate = useEditionNavigate();
  const { entryIds, clear } = marks;
  const compare = () => {
    if (entryIds.length >= 2) navigate(`/compare?entries=${entryIds.join(",")}`);
    else toast("Mark two cells of one row with Space, then press C.");
  };
  useKeys((event) => {
    if (event.key.toLowerCase() === "c") compare();
    if (event.key === "Escape" && entryIds.length > 0) clear();
  });
  if (entryIds.length === 0) return null;
  const names = entryIds.map((id) => {
    const cell = wall.cells.find(({ entryId }) => entryId === id);
    return wall.entrants.find(({ version }) => version.id === cell?.versionId)?.name ?? "an older version";
  });
  return (
    <div className="flex flex-wrap items-center gap-3 border-t border-strong-rule bg-sheet px-4 py-1.5">
      <span role="status">
        Marked: <strong>{names.join(", ")}</strong>
      </span>
      <span className="ml-auto" />
      <Button compact onClick={clear}>
        Clear <Kbd>Esc</Kbd>
      </Button>
      <Button compact tone="primary" disabled={entryIds.length < 2} onClick={compare}>
        Compare {entryIds.length} <Kbd>C</Kbd>
      </Button>
    </div>
  );
}
