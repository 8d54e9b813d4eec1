import type { Forecast, Standing } from "@tourney/core/contract";
import { useState } from "react";
import { nameOfCompetitor } from "../../lib/competitor-words.js";
import { count } from "../../lib/format.js";
import { Button } from "../../ui/controls.js";

/** So many pairs are shown at first: what is in doubt at the top matters most. */
const FIRST_SHOWN = 4;

/** Two significant digits: a forecast is no better than that. */
const roughly = (n: number): number => Number(n.toPrecision(n < 10 ? 1 : 2));
const formatRough = (n: number) => roughly(n).toLocaleString("en");

/** What it takes to tell two apart, in a sentence or two. */
export function describeForecast({ ballots: { low, likely, high }, voters, prompts, needs }: Forecast): string {
  if (likely === null || voters === null || prompts === null)
    return "Too close to call: if they differ as little as it looks, no number of ballots that one could collect tells them apart.";
  const range = `${low === null ? "0" : formatRough(low)} to ${high === null ? "no number" : formatRough(high)}`;
  const about = `About ${count(roughly(likely), "more ballot")} (${range} if the difference is one error larger or smaller)`;
  const newVoters = count(roughly(voters), "new voter");
  const newPrompts = count(roughly(prompts), "new prompt");
  const whence: Record<Forecast["needs"], string> = {
    ballots: "by any voters, on any prompts",
    voters: `from ${newVoters}: more by the same ones do not help`,
    prompts: `on ${newPrompts}: more on the same ones do not help`,
    "voters and prompts": `from ${newVoters}, on ${newPrompts}: more of the same do not help`,
  };
  return `${about}, ${whence[needs]}.`;
}

/** What would settle it: for neighbours that are not told apart, how many ballots, voters or prompts are missing. */
export function Settling({ forecasts, rows }: { forecasts: readonly Forecast[]; rows: readonly Standing[] }) {
  const [isAll, setAll] = useState(false);
  if (forecasts.length === 0) return null;
  const nameOf = (id: string) => nameOfCompetitor(rows.find(({ version }) => version.id === id));
  return (
    <section aria-labelledby="settling-heading" className="mt-6">
      <h2 id="settling-heading" className="m-0 border-b border-strong-rule pb-1.5 text-[16px]">
        What would settle it
      </h2>
      <dl className="m-0">
        {forecasts.slice(0, isAll ? undefined : FIRST_SHOWN).map((forecast) => (
          <div key={forecast.firstId} className="border-b border-rule py-2">
            <dt className="font-semibold">
              {nameOf(forecast.firstId)} over {nameOf(forecast.secondId)}
            </dt>
            <dd className="m-0 text-soft">{describeForecast(forecast)}</dd>
          </div>
        ))}
      </dl>
      {forecasts.length > FIRST_SHOWN ? (
        <Button compact tone="quiet" className="mt-1" onClick={() => setAll(!isAll)}>
          {isAll ? "Fewer" : `All ${forecasts.length} pairs that are not told apart`}
        </Button>
      ) : null}
    </section>
  );
}
