import type { WallAnswer } from "@tourney/core/contract";

type Place = Pick<WallAnswer["cells"][number], "promptId" | "versionId">;
const placeOf = ({ promptId, versionId }: Place): string => `${promptId} ${versionId}`;

/** What is the same stays the same object, so that nothing is drawn anew for it. */
const keep = <T>(held: T, sent: T): T => (JSON.stringify(held) === JSON.stringify(sent) ? held : sent);

/** The wall that a page holds, with what has changed since put into it; or the one that was sent, where that is whole. */
export function joinWall(held: WallAnswer, sent: WallAnswer): WallAnswer {
  if (sent.since === null) return sent;
  const cells = new Map(held.cells.map((cell) => [placeOf(cell), cell]));
  for (const place of sent.emptied) cells.delete(placeOf(place));
  for (const cell of sent.cells) cells.set(placeOf(cell), cell);
  return {
    ...sent,
    prompts: keep(held.prompts, sent.prompts),
    entrants: keep(held.entrants, sent.entrants),
    cells: sent.cells.length + sent.emptied.length === 0 ? held.cells : [...cells.values()],
  };
}
