import { describeForecast, nameOfCompetitor } from "@tourney/core/conclusions";
import type { Forecast, Standing } from "@tourney/core/contract";
import { useState } from "react";
import { Button } from "../../ui/controls.js";

/** So many pairs are shown at first: what is in doubt at the top matters most. */
const FIRST_SHOWN = 4;

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
