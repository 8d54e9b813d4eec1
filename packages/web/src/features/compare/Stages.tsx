import { findFrame, type Compared } from "@tourney/core/compare";
import type { EntryDetail } from "@tourney/core/contract";
import { tallySheets } from "@tourney/core/sheets";
import { Link } from "react-router";
import { EntrantGlyph } from "../../ui/glyphs.js";
import { pictureUrl } from "../../ui/Picture.js";
import { nameOfCompared } from "./figure-table.js";

/** What stands under a stage: who made it, which of their answers it is, and what people made of it. */
export function Caption({ compared: { entry, sheets }, note }: { compared: Compared; note?: string | null }) {
  const { verdicts, judged, meanMarks } = tallySheets(sheets);
  const [name, ...which] = nameOfCompared(entry).split(", ");
  const judgement = [
    ...(judged === 0
      ? []
      : judged === 1
        ? [(["pass", "part", "fail"] as const).find((key) => verdicts[key] > 0)!]
        : [`${verdicts.pass} of ${judged} pass`]),
    ...(meanMarks === null ? [] : [meanMarks.toFixed(judged === 1 ? 0 : 1)]),
  ];
  return (
    <p className="m-0 mt-1 flex items-center gap-1.5 text-[14px]">
      <EntrantGlyph glyph={entry.entrant.glyph} />
      <Link
        to={`/entries/${entry.id}`}
        className="min-w-0 truncate font-display font-semibold text-ink no-underline hover:underline"
      >
        {name}
      </Link>
      <span className="truncate text-[13px] text-soft">{which.length === 0 ? "first shot" : which.join(", ")}</span>
      <span className="ml-auto text-[13px] whitespace-nowrap text-soft">{note ?? judgement.join(" · ")}</span>
    </p>
  );
}

/** Stages of equal size, each showing its frame of the same page time; one may stand alone. */
export function RecordedStages({
  compared,
  atMs,
  solo,
}: {
  compared: readonly Compared[];
  atMs: number;
  solo: number | null;
}) {
  return (
    <StageGrid count={solo === null ? compared.length : 1}>
      {compared.map((item, index) =>
        solo === null || solo === index ? (
          <div key={item.entry.id} className="min-w-0">
            <FrameAt entry={item.entry} atMs={atMs} />
            <Caption compared={item} />
          </div>
        ) : null,
      )}
    </StageGrid>
  );
}

/** All side by side up to four; five and six in two rows. */
export function StageGrid({ count, children }: { count: number; children: React.ReactNode }) {
  const columns = count <= 4 ? count : 3;
  const narrow = "max-[700px]:grid-cols-1";
  const widths = ["grid-cols-1", "grid-cols-2", "grid-cols-3", "grid-cols-4 max-[1000px]:grid-cols-2"];
  return <div className={`grid gap-2.5 ${widths[columns - 1]!} ${narrow}`}>{children}</div>;
}

/** The frame of an entry at a time. All frames are there, so that moving the playhead shows no gap. */
export function FrameAt({
  entry,
  atMs,
  className = "border border-rule",
}: {
  entry: EntryDetail;
  atMs: number;
  className?: string;
}) {
  const { width, height } = entry.prompt.viewport;
  const frames = entry.render?.recording?.frames ?? [];
  const shown = findFrame(frames, atMs);
  return (
    <div className={`relative overflow-hidden bg-sheet ${className}`} style={{ aspectRatio: `${width} / ${height}` }}>
      {frames.length === 0 ? (
        <p className="hatched absolute inset-0 m-0 grid place-items-center">
          <span className="bg-ground px-2 py-1">{entry.render?.error ?? "Not recorded"}</span>
        </p>
      ) : (
        frames.map(({ atMs: at, file }) => (
          <img
            key={at}
            src={pictureUrl(file)}
            alt={at === shown?.atMs ? `${nameOfCompared(entry)} at ${(at / 1000).toFixed(1)} s` : ""}
            aria-hidden={at === shown?.atMs ? undefined : true}
            draggable={false}
            className={`absolute inset-0 size-full object-cover ${at === shown?.atMs ? "" : "invisible"}`}
          />
        ))
      )}
    </div>
  );
}
