import type { VirtualItem } from "@tanstack/react-virtual";
import { nameOfCompetitor } from "@tourney/core/conclusions";
import type { Wall, WallCell } from "@tourney/core/contract";
import type { SheetTally } from "@tourney/core/sheets";
import { memo } from "react";
import { type CellHandlers, type CellStanding, CellView } from "./CellView.js";
import type { PlayedCells } from "./use-play.js";
import { RowHead } from "./WallHeads.js";
import type { WallKnowledge } from "./wall-knowledge.js";

/** The cells of a wall by their places: the same objects each time they are asked for. */
export interface WallCells {
  cellOf: (promptId: string, entrant: Pick<Wall["entrants"][number], "id" | "version">) => WallCell;
  standingOf: (cell: WallCell) => CellStanding;
}

interface WallRowProps {
  prompt: Wall["prompts"][number];
  /** Its place in the grid, from 0, and where it stands, in px. */
  index: number;
  top: number;
  height: number;
  headPx: number;
  /** The edition whose wall this is. */
  edition: string;
  entrants: Wall["entrants"];
  /** Those in sight. */
  columns: readonly VirtualItem[];
  cells: WallCells;
  known: WallKnowledge;
  tally: SheetTally | undefined;
  /** The column of the active cell; null when it is in another row. */
  activeColumn: number | null;
  marked: readonly string[];
  played: PlayedCells | null;
  handlers: CellHandlers;
  onPlay: (promptId: string) => void;
}

/** One prompt with its cells in sight. Rows that stay are not drawn anew while others come and go. */
export const WallRow = memo(function WallRow(props: WallRowProps) {
  const { prompt, index: row, top, height, headPx, edition, entrants, columns, cells } = props;
  const { known, tally, activeColumn, marked, played, handlers, onPlay } = props;
  return (
    <div role="row" aria-rowindex={row + 2} className="absolute left-0 w-full" style={{ top, height }}>
      <RowHead
        {...{ prompt, known, tally, onPlay }}
        widthPx={headPx}
        isPlayed={played !== null && played.versionId === null}
      />
      {columns.map(({ index, start, size }) => {
        const entrant = entrants[index]!;
        const cell = cells.cellOf(prompt.id, entrant);
        const isPlayed = played !== null && (played.versionId ?? entrant.version.id) === entrant.version.id;
        return (
          <CellView
            key={entrant.version.id}
            {...{ cell, edition, row, handlers }}
            standing={cells.standingOf(cell)}
            label={`${prompt.title}, ${nameOfCompetitor({ entrant, version: entrant.version })}`}
            seconds={prompt.seconds}
            column={index}
            left={start}
            width={size}
            isActive={activeColumn === index}
            playedShare={isPlayed ? Math.min(0.999, played.atMs / (prompt.seconds * 1000)) : null}
            isMarked={cell.entryId !== null && marked.includes(cell.entryId)}
          />
        );
      })}
    </div>
  );
});
