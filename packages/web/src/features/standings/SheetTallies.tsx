import { type JudgedEntry, Kind, KINDS, type Standings } from "@tourney/core/contract";
import { isFirstShot, type SheetTally, tallyBy, tallySheets } from "@tourney/core/sheets";
import { useGetJudgingQuery } from "../../api/sheet-api.js";
import { count } from "../../lib/format.js";
import { describeTally } from "../../lib/tally-words.js";
import { EntrantGlyph } from "../../ui/glyphs.js";
import { Td, Th } from "./table-cells.js";

type Row = Standings["rows"][number];

const passes = (tally: SheetTally | undefined) =>
  tally === undefined || tally.judged === 0 ? "—" : `${tally.verdicts.pass} of ${tally.judged}`;

/** What people made of single entries, beside the ratings and never mixed into them. */
export function SheetTallies({ editionId, rows }: { editionId: string; rows: readonly Row[] }) {
  const { data: judging } = useGetJudgingQuery(editionId);
  if (judging === undefined || judging.sheets.length === 0) return null;
  const { sheets, agreement } = judging;
  const firstShots = sheets.filter(isFirstShot);
  const rounds = [...new Set(sheets.map(({ mends }) => mends))].filter((mends) => mends > 0).toSorted((a, b) => a - b);
  const kinds = Kind.options.filter((kind) => firstShots.some((sheet) => sheet.kind === kind));
  const byVersion = tallyBy(firstShots, ({ versionId }) => versionId);
  return (
    <section aria-labelledby="sheets-heading" className="mt-8">
      <h2 id="sheets-heading" className="m-0 border-b border-strong-rule pb-1.5 text-[16px]">
        Score sheets
      </h2>
      <div className="relative overflow-x-auto">
        <table className="figures w-full border-collapse text-[14px]">
          <thead>
            <tr className="border-b border-rule text-left text-[13px] text-soft">
              <Th>Entrant</Th>
              <Th>First shots that pass</Th>
              {rounds.map((mends) => (
                <Th key={mends}>After mend {mends}</Th>
              ))}
              <Th>Mean of ten</Th>
              <Th>Watch-points met</Th>
              {kinds.map((kind) => (
                <Th key={kind}>{KINDS[kind].plural}</Th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.map(({ entrant, version }) => {
              const own = sheets.filter(({ versionId }) => versionId === version.id);
              const tally = byVersion.get(version.id) ?? tallySheets([]);
              return (
                <tr key={version.id} className="border-b border-rule" title={describeTally(tally).long}>
                  <th scope="row" className="py-1.5 pr-3 text-left font-normal whitespace-nowrap">
                    <span className="inline-flex items-center gap-1.5">
                      <EntrantGlyph glyph={entrant.glyph} /> {entrant.name}
                    </span>
                  </th>
                  <Td>{passes(tally)}</Td>
                  {rounds.map((mends) => (
                    <Td key={mends}>{passes(tallySheets(own.filter((sheet) => sheet.mends === mends)))}</Td>
                  ))}
                  <Td>{tally.meanMarks === null ? "—" : tally.meanMarks.toFixed(1)}</Td>
                  <Td>{tally.judgedWatchpoints === 0 ? "—" : `${tally.met} of ${tally.judgedWatchpoints}`}</Td>
                  {kinds.map((kind) => (
                    <Td key={kind}>{passes(tallySheets(ofKind(own, kind)))}</Td>
                  ))}
                </tr>
              );
            })}
          </tbody>
        </table>
      </div>
      <p className="mt-2 mb-0 text-[13px] text-soft">
        Counted by sheet, whoever filled it in; sheets never enter the ratings.
        {agreement
          .filter(({ pairs }) => pairs > 0)
          .map(
            ({ judge, pairs, agreed }) =>
              ` ${judge} and the voters agree on ${agreed} of ${count(pairs, "pair")} that both decided.`,
          )
          .join("")}
      </p>
    </section>
  );
}

const ofKind = (sheets: readonly JudgedEntry[], kind: Kind) =>
  sheets.filter((sheet) => isFirstShot(sheet) && sheet.kind === kind);
