import { describeMending, hasMending, nameOfCompetitor } from "@tourney/core/conclusions";
import type { Mending, Standing, Standings } from "@tourney/core/contract";
import { EntrantGlyph } from "../../ui/glyphs.js";
import { useGetMendingQuery } from "./standings-api.js";
import { Td, Th } from "./table-cells.js";

/** First shots against mends and corrections: what works by itself, and what a page's own errors fed back come to. */
export function Mends({ standings: { edition, counts, rows } }: { standings: Standings }) {
  const { currentData: mending } = useGetMendingQuery({ editionId: edition.id, counts });
  if (mending === undefined || !hasMending(mending)) return null;
  const isMendedAgain = mending.some(({ mendedAgain }) => mendedAgain > 0);
  const isCorrected = mending.some(({ corrected }) => corrected > 0);
  return (
    <section aria-labelledby="mends-heading" className="mt-8">
      <h2 id="mends-heading" className="m-0 border-b border-strong-rule pb-1.5 text-[16px]">
        First shots and mends
      </h2>
      <div className="relative overflow-x-auto">
        <table className="figures w-full border-collapse text-[14px]">
          <thead>
            <tr className="border-b border-rule text-left text-[13px] text-soft">
              <Th>Entrant</Th>
              <Th>Works by itself</Th>
              <Th>After 1 mend</Th>
              {isMendedAgain ? <Th>After 2</Th> : null}
              <Th>Mended, of those that did not</Th>
              <Th>First clean page</Th>
              {isCorrected ? <Th>Corrected: clean before → after</Th> : null}
            </tr>
          </thead>
          <tbody>
            {rows.map((row) => (
              <Row
                key={row.version.id}
                row={row}
                own={mending.find(({ versionId }) => versionId === row.version.id)}
                {...{ isMendedAgain, isCorrected }}
              />
            ))}
          </tbody>
        </table>
      </div>
      <p className="mt-2 mb-0 text-[13px] text-soft">
        A mend feeds a page’s own errors back, in the same words to all. A page works by itself where its recording has
        no error and nobody helped it along. Ratings are of first shots alone.
      </p>
    </section>
  );
}

function Row({
  row,
  own,
  isMendedAgain,
  isCorrected,
}: {
  row: Standing;
  own: Mending | undefined;
  isMendedAgain: boolean;
  isCorrected: boolean;
}) {
  if (own === undefined) return null;
  const { works, mended, rounds, corrected } = describeMending(own);
  return (
    <tr className="border-b border-rule">
      <th scope="row" className="py-1.5 pr-3 text-left font-normal whitespace-nowrap">
        <span className="inline-flex items-center gap-1.5">
          <EntrantGlyph glyph={row.entrant.glyph} /> {nameOfCompetitor(row)}
        </span>
      </th>
      {(isMendedAgain ? works : works.slice(0, -1)).map((text, after) => (
        <Td key={after}>{text}</Td>
      ))}
      <Td>{mended}</Td>
      <Td>{rounds}</Td>
      {isCorrected ? <Td>{corrected}</Td> : null}
    </tr>
  );
}
