import {
  breakTies,
  formatPrice,
  isOnFrontier,
  nameOfCompetitor,
  type Price,
  type Priced,
  priceEntrants,
  PRICES,
} from "@tourney/core/conclusions";
import type { Standings } from "@tourney/core/contract";
import { lazy, Suspense, useState } from "react";
import { Toggle } from "../../ui/controls.js";
import { EntrantGlyph } from "../../ui/glyphs.js";

// The charts' code is large, and few open this part of the screen.
const PriceChart = lazy(() => import("./PriceChart.js").then(({ PriceChart }) => ({ default: PriceChart })));

const FRONTIER_WORDS: Record<Priced["frontier"], string> = {
  surely: "yes, told apart from all that cost no more",
  "by its rating": "yes by its rating, not told apart from all that cost no more",
  perhaps: "perhaps: not told apart from the better ones that cost no more",
  no: "no",
};

/** Ratings against what an entry costs, how long it takes and how many tokens, with the frontier: those that nobody beats for as little. */
export function ByPrice({ standings }: { standings: Pick<Standings, "rows" | "brackets"> }) {
  const [wanted, setWanted] = useState<Price>("cost");
  const [isTable, setIsTable] = useState(false);
  const [isTieBroken, setTieBroken] = useState(false);
  // Prices may not be known, nor times of answers that were fetched by hand.
  const known = (Object.keys(PRICES) as Price[]).filter((key) => priceEntrants(standings, key).length > 1);
  const price = known.includes(wanted) ? wanted : known[0];
  if (price === undefined) return null;
  const priced = priceEntrants(standings, price);
  const frontier = priced.filter(isOnFrontier);
  return (
    <section aria-labelledby="by-price-heading" className="mt-8">
      <div className="flex flex-wrap items-center gap-1.5 border-b border-strong-rule pb-1.5">
        <h2 id="by-price-heading" className="m-0 mr-2 text-[16px]">
          Rating against price
        </h2>
        {known.map((key) => (
          <Toggle key={key} pressed={price === key} onClick={() => setWanted(key)}>
            {PRICES[key]}
          </Toggle>
        ))}
        <Toggle className="ml-3" pressed={isTable} onClick={() => setIsTable(!isTable)}>
          as a table
        </Toggle>
        <Toggle pressed={isTieBroken} onClick={() => setTieBroken(!isTieBroken)}>
          break ties by it
        </Toggle>
      </div>
      <p className="my-2 text-soft">
        Nobody is rated higher {price === "pace" ? "and as fast" : "for as little"}:{" "}
        {frontier.map(({ row, price: own }, index) => (
          <span key={row.version.id} className="whitespace-nowrap">
            {index === 0 ? "" : ", "}
            <span className="text-ink">{nameOfCompetitor(row)}</span> at {formatPrice(own, price)}
          </span>
        ))}
        .
      </p>
      {isTieBroken ? (
        <p className="my-2 text-soft">
          Where ballots do not tell two apart, whoever has{" "}
          {price === "pace" ? "more tokens a second" : `the lower ${PRICES[price]}`} goes first:{" "}
          {breakTies(priced).map(({ row }, place) => (
            <span key={row.version.id} className="whitespace-nowrap">
              {place === 0 ? "" : ", "}
              {place + 1} <span className="text-ink">{nameOfCompetitor(row)}</span>
            </span>
          ))}
          .
        </p>
      ) : null}
      {isTable ? (
        <PriceTable {...{ priced, price }} />
      ) : (
        <Suspense fallback={<div className="h-80" />}>
          <PriceChart {...{ priced, price }} />
        </Suspense>
      )}
    </section>
  );
}

function PriceTable({ priced, price }: { priced: readonly Priced[]; price: Price }) {
  return (
    <table className="w-full max-w-3xl border-collapse">
      <thead>
        <tr className="border-b border-rule text-left text-[12px] text-soft">
          <th className="py-1.5 font-medium">entrant</th>
          <th className="py-1.5 text-right font-medium">{PRICES[price]}</th>
          <th className="py-1.5 text-right font-medium">rating</th>
          <th className="py-1.5 pl-6 font-medium">on the frontier</th>
        </tr>
      </thead>
      <tbody>
        {priced.map(({ row, price: own, frontier }) => (
          <tr key={row.version.id} className="border-b border-rule">
            <th scope="row" className="py-1.5 text-left font-semibold">
              <span className="flex items-center gap-1.5">
                <EntrantGlyph glyph={row.entrant.glyph} /> {nameOfCompetitor(row)}
              </span>
            </th>
            <td className="figures text-right">{formatPrice(own, price)}</td>
            <td className="figures text-right">
              {Math.round(row.rating!)} {row.halfWidth === null ? "" : `± ${Math.round(row.halfWidth)}`}
            </td>
            <td className="pl-6 text-soft">{FRONTIER_WORDS[frontier]}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
