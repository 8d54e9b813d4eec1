import type { Grid } from "@tourney/core/contract";
import { useVirtualizer } from "@tanstack/react-virtual";
import { memo, useMemo, useRef } from "react";
import { EntrantGlyph } from "../../ui/glyphs.js";
import { SpaceRow } from "../../ui/SpaceRow.js";

/** What is not ticked. */
export interface LeftOut {
  prompts: ReadonlySet<string>;
  entrants: ReadonlySet<string>;
}
/** Whether a run can ask it. */
export const isReachable = ({ byHand, retired }: Grid["entrants"][number]) => !byHand && !retired;

interface PlanTableProps {
  grid: Grid;
  takes: number;
  leftOut: LeftOut;
  onToggle: (axis: keyof LeftOut, id: string) => void;
}

interface PlanColumn {
  entrant: Grid["entrants"][number];
  /** Its place among all entrants of the grid. */
  index: number;
}

const ROW_PX = 30;

/** The grid of squares; only the rows in sight are there. */
export function PlanTable({ grid, takes, leftOut, onToggle }: PlanTableProps) {
  const columns = useMemo(
    () =>
      grid.entrants
        .map((entrant, index): PlanColumn => ({ entrant, index }))
        .filter((column) => isReachable(column.entrant)),
    [grid],
  );
  const scroller = useRef<HTMLDivElement>(null);
  // eslint-disable-next-line react-hooks/incompatible-library -- its functions are called while drawing, never kept
  const rows = useVirtualizer({
    count: grid.prompts.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW_PX,
    overscan: 8,
  });
  const shown = rows.getVirtualItems();
  return (
    <div ref={scroller} className="max-h-[60vh] overflow-auto">
      <table className="border-collapse" aria-rowcount={grid.prompts.length + 1}>
        <thead>
          <tr>
            <td className="sticky top-0 left-0 z-20 bg-ground" />
            {columns.map(({ entrant: { id, name, glyph } }) => (
              <th key={id} className="sticky top-0 z-10 bg-ground px-1.5 pb-1 text-center font-normal">
                <label className="grid justify-items-center gap-1" title={name}>
                  <EntrantGlyph glyph={glyph} />
                  <input
                    type="checkbox"
                    aria-label={`Send to ${name}`}
                    checked={!leftOut.entrants.has(id)}
                    onChange={() => onToggle("entrants", id)}
                    className="accent-(--ink)"
                  />
                </label>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          <SpaceRow heightPx={shown[0]?.start ?? 0} />
          {shown.map(({ index }) => {
            const prompt = grid.prompts[index]!;
            return (
              <PlanRow
                key={prompt.id}
                rowIndex={index + 2}
                prompt={prompt}
                isChosen={!leftOut.prompts.has(prompt.id)}
                columns={columns}
                leftOut={leftOut.entrants}
                there={grid.there[index]!}
                takes={takes}
                onToggle={onToggle}
              />
            );
          })}
          <SpaceRow heightPx={rows.getTotalSize() - (shown.at(-1)?.end ?? 0)} />
        </tbody>
      </table>
    </div>
  );
}

interface PlanRowProps {
  rowIndex: number;
  prompt: Grid["prompts"][number];
  isChosen: boolean;
  columns: readonly PlanColumn[];
  leftOut: ReadonlySet<string>;
  /** Takes that exist, by entrant of the grid. */
  there: readonly number[];
  takes: number;
  onToggle: PlanTableProps["onToggle"];
}

/** Memoised, so that React does not draw the other rows again when the lead ticks one. */
const PlanRow = memo(function PlanRow({
  rowIndex,
  prompt,
  isChosen,
  columns,
  leftOut,
  there,
  takes,
  onToggle,
}: PlanRowProps) {
  return (
    <tr aria-rowindex={rowIndex} style={{ height: ROW_PX }}>
      <th scope="row" className="sticky left-0 bg-ground p-0 pr-4 text-left font-normal">
        <label className="flex max-w-52 items-center gap-2" title={prompt.title}>
          <input
            type="checkbox"
            aria-label={`Send ${prompt.title}`}
            checked={isChosen}
            onChange={() => onToggle("prompts", prompt.id)}
            className="accent-(--ink)"
          />
          <span className="truncate">{prompt.title}</span>
        </label>
      </th>
      {columns.map(({ entrant: { id, name }, index }) => {
        const isSent = isChosen && !leftOut.has(id) && there[index]! < takes;
        return (
          <td key={id} className="px-1.5 py-0 text-center">
            <PlanSquare
              there={there[index]! > 0}
              chosen={isSent}
              label={`${prompt.title}, ${name}: ${there[index]!} of ${takes} there${isSent ? ", to be sent" : ""}`}
            />
          </td>
        );
      })}
    </tr>
  );
});

function PlanSquare({ there, chosen, label }: { there: boolean; chosen: boolean; label: string }) {
  const look = chosen ? "plan-chosen border-act" : there ? "bg-ink border-ink" : "border-rule";
  // The title is its name as well: a second attribute on five thousand squares is felt.
  return <span role="img" title={label} className={`inline-block size-4 border-2 align-middle ${look}`} />;
}
