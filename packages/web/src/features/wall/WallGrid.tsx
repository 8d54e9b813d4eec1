import type { Wall, WallCell } from "@tourney/core/contract";
import { useRef, useState } from "react";
import { useNavigate } from "react-router";
import { formatMs, formatShare, formatUsd } from "../../lib/format.js";
import { EntrantGlyph } from "../../ui/glyphs.js";
import type { AnswerTarget } from "./AnswerSheet.js";
import { CellView } from "./CellView.js";

/** Whether something about a cell asks for the lead's eyes. */
export const needsLook = ({ state, findings }: WallCell): boolean =>
  ["failed", "refused", "no_artifact"].includes(state) || findings.some(({ severity }) => severity === "error");

interface WallGridProps {
  wall: Wall;
  take: number;
  kind: string | null;
  onlyNeedLook: boolean;
  onAnswer: (target: AnswerTarget) => void;
}

const STEPS: Record<string, [rows: number, columns: number]> = {
  ArrowUp: [-1, 0],
  ArrowDown: [1, 0],
  ArrowLeft: [0, -1],
  ArrowRight: [0, 1],
};

/** The grid itself: one cell is in the tab order, arrows move it, Enter opens. */
export function WallGrid({ wall, take, kind, onlyNeedLook, onAnswer }: WallGridProps) {
  const navigate = useNavigate();
  const grid = useRef<HTMLTableElement>(null);
  const [active, setActive] = useState<[row: number, column: number]>([0, 0]);
  const byPlace = new Map(
    wall.cells.filter((cell) => cell.take === take).map((cell) => [`${cell.promptId} ${cell.entrantId}`, cell]),
  );
  const cellOf = (promptId: string, entrantId: string) => byPlace.get(`${promptId} ${entrantId}`)!;
  const prompts = wall.prompts
    .filter((prompt) => kind === null || prompt.kind === kind)
    .filter((prompt) => !onlyNeedLook || wall.entrants.some(({ id }) => needsLook(cellOf(prompt.id, id))));

  const open = (row: number, column: number) => {
    const [prompt, entrant] = [prompts[row]!, wall.entrants[column]!];
    const cell = cellOf(prompt.id, entrant.id);
    if (cell.entryId !== null) void navigate(`/entries/${cell.entryId}`);
    else if (cell.state === "missing" || cell.state === "failed") onAnswer({ prompt, entrant, take, text: "" });
  };
  const onKeyDown = (event: React.KeyboardEvent) => {
    const step = STEPS[event.key];
    if (!step) return;
    event.preventDefault();
    const row = Math.min(prompts.length - 1, Math.max(0, active[0] + step[0]));
    const column = Math.min(wall.entrants.length - 1, Math.max(0, active[1] + step[1]));
    setActive([row, column]);
    grid.current?.querySelector<HTMLElement>(`[data-place="${row} ${column}"]`)?.focus();
  };

  return (
    <table
      ref={grid}
      role="grid"
      aria-label="Entries by prompt and entrant"
      onKeyDown={onKeyDown}
      className="w-full table-fixed border-collapse"
      style={{ minWidth: 176 + wall.entrants.length * 128 }}
    >
      <thead>
        <tr>
          <th className="sticky top-0 left-0 z-20 w-44 border-r border-b border-rule bg-ground px-4 py-2 text-left text-[12px] leading-4 font-normal text-soft max-[1000px]:w-32">
            clean first shots
            <br />
            median time · cost
          </th>
          {wall.entrants.map((entrant) => (
            <EntrantHead key={entrant.id} entrant={entrant} isMixed={!wall.entrants.every(({ sample }) => sample)} />
          ))}
        </tr>
      </thead>
      <tbody>
        {prompts.map((prompt, row) => (
          <tr key={prompt.id}>
            <th
              scope="row"
              className="sticky left-0 z-10 border-r border-b border-rule bg-ground px-4 py-2 text-left align-top font-normal"
            >
              <span className="block font-display text-[15px] leading-5 font-semibold">{prompt.title}</span>
              <span className="block text-[12px] text-soft">{prompt.kind}</span>
            </th>
            {wall.entrants.map((entrant, column) => (
              <CellView
                key={entrant.id}
                cell={cellOf(prompt.id, entrant.id)}
                label={`${prompt.title}, ${entrant.name}`}
                seconds={prompt.seconds}
                place={`${row} ${column}`}
                isActive={active[0] === row && active[1] === column}
                onFocus={() => setActive([row, column])}
                onOpen={() => open(row, column)}
                onText={(text) => onAnswer({ prompt, entrant, take, text })}
              />
            ))}
          </tr>
        ))}
        {prompts.length === 0 ? (
          <tr>
            <td colSpan={wall.entrants.length + 1} className="px-4 py-8 text-soft">
              Nothing here needs a look. Take the filter off to see the whole wall.
            </td>
          </tr>
        ) : null}
      </tbody>
    </table>
  );
}

function EntrantHead({
  entrant: { name, glyph, sample, byHand, cleanShare, medianTotalMs, costPerEntryUsd },
  isMixed,
}: {
  entrant: Wall["entrants"][number];
  /** Whether sample data stands beside data that is none: where all is, the bar at the top says so. */
  isMixed: boolean;
}) {
  return (
    <th
      scope="col"
      className="sticky top-0 z-10 border-r border-b border-rule bg-ground px-2 py-2 text-left font-normal"
    >
      <span className="flex items-center gap-1.5">
        <EntrantGlyph glyph={glyph} />
        <span className="truncate font-display text-[14px] font-semibold" title={name}>
          {name}
        </span>
        {sample && isMixed ? <span className="ml-auto text-[11px] text-care-ink">sample</span> : null}
      </span>
      <span className="figures block truncate text-[12px] leading-4 text-soft">
        {byHand && medianTotalMs === null
          ? `${formatShare(cleanShare)} · by hand`
          : `${formatShare(cleanShare)} · ${formatMs(medianTotalMs)} · ${formatUsd(costPerEntryUsd)}`}
      </span>
      <span className="mt-1 block h-[3px] bg-rule">
        <span className="block h-full bg-ink" style={{ width: `${(cleanShare ?? 0) * 100}%` }} />
      </span>
    </th>
  );
}
