import { describeSuccession, nameOfCompetitor } from "@tourney/core/conclusions";
import type { Standing, Standings } from "@tourney/core/contract";

/** New against old: each entrant with its predecessor, and each version with the one before it. */
export function Succession({ succession, rows }: { succession: Standings["succession"]; rows: readonly Standing[] }) {
  if (succession.length === 0) return null;
  const nameOf = (id: string) => nameOfCompetitor(rows.find(({ version }) => version.id === id));
  return (
    <section aria-labelledby="succession-heading" className="mt-6">
      <h2 id="succession-heading" className="m-0 border-b border-strong-rule pb-1.5 text-[16px]">
        New against old
      </h2>
      <dl className="m-0">
        {succession.map((one) => (
          <div key={`${one.newerId} ${one.olderId}`} className="border-b border-rule py-2">
            <dt className="font-semibold">
              {nameOf(one.newerId)} after {nameOf(one.olderId)}
            </dt>
            <dd className="figures m-0 text-soft">{describeSuccession(one)}</dd>
          </div>
        ))}
      </dl>
      <p className="mt-2 mb-0 text-[13px] text-soft">
        Each pair by itself: ranks and brackets hold for all pairs at once, so they may still keep the two together.
      </p>
    </section>
  );
}
