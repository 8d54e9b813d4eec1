import type { Compared } from "@tourney/core/compare";
import { useRef } from "react";
import { pictureUrl } from "../../ui/Picture.js";
import { Caption, StageGrid } from "./Stages.js";

/** Whole pages side by side, scrolled in step: as far down each as the one that is scrolled, by its share of the height. */
export function Pages({ compared }: { compared: readonly Compared[] }) {
  const views = useRef(new Map<string, HTMLDivElement>());
  // What follows scrolls too, and must not lead in turn.
  const leader = useRef<string | null>(null);
  const isTall = compared.some(({ entry }) => entry.render?.recording?.whole);
  const onScroll = (own: string) => {
    if (leader.current !== null && leader.current !== own) return;
    leader.current = own;
    const view = views.current.get(own)!;
    const share = view.scrollTop / Math.max(1, view.scrollHeight - view.clientHeight);
    for (const [id, other] of views.current)
      if (id !== own) other.scrollTop = share * (other.scrollHeight - other.clientHeight);
    requestAnimationFrame(() => requestAnimationFrame(() => (leader.current = null)));
  };
  return (
    <>
      {isTall ? null : <p className="mt-0 text-soft">No page here is taller than its window.</p>}
      <StageGrid count={compared.length}>
        {compared.map((item) => {
          const { entry } = item;
          const recording = entry.render?.recording ?? null;
          const file =
            recording?.whole?.file ?? recording?.frames[recording.poster]?.file ?? recording?.frames[0]?.file;
          return (
            <div key={entry.id} className="min-w-0">
              <div
                ref={(view) => {
                  if (view === null) views.current.delete(entry.id);
                  else views.current.set(entry.id, view);
                }}
                tabIndex={0}
                role="region"
                aria-label={`The whole page by ${entry.entrant.name}`}
                onScroll={() => onScroll(entry.id)}
                className="h-[calc(100vh-240px)] min-h-60 overflow-y-auto border border-rule bg-sheet"
              >
                {file === undefined ? (
                  <p className="m-0 p-4 text-soft">{entry.render?.error ?? "Not recorded"}</p>
                ) : (
                  <img
                    src={pictureUrl(file)}
                    alt={`${entry.prompt.title}, from top to bottom`}
                    className="block h-auto w-full"
                  />
                )}
              </div>
              <Caption
                compared={item}
                note={recording?.whole ? `${recording.whole.pageHeight} px tall` : recording ? "fits its window" : null}
              />
            </div>
          );
        })}
      </StageGrid>
    </>
  );
}
