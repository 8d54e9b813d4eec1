import { rank, scaleRail } from "@tourney/core/conclusions";
import type { Standings } from "@tourney/core/contract";
import { RailTicks, SmallRail } from "./SmallRail.js";
import { useGetRatingsBySeeingQuery } from "./standings-api.js";

const HEAD = "py-1.5 text-left text-[12px] font-medium text-soft";
/** Below this nothing is read from a group. */
const THIN = 30;

/** Whether ratings differ by what voters saw the pages with. */
export function BySeeing({ standings: { edition, rows } }: { standings: Standings }) {
  const { currentData: groups = [] } = useGetRatingsBySeeingQuery(edition.id);
  const all = groups.flatMap(({ ratings }) => ratings);
  if (all.length === 0) return null;
  const scale = scaleRail(all.map(({ rating }) => ({ rating, halfWidth: null })));
  return (
    <section aria-labelledby="by-seeing-heading" className="mt-8">
      <h2 id="by-seeing-heading" className="m-0 border-b border-strong-rule pb-1.5 text-[16px]">
        By what voters saw with{" "}
        <span className="text-[13px] font-normal text-soft">drawn towards the whole where ballots are few</span>
      </h2>
      <div className="overflow-x-auto">
        <table className="w-full min-w-[860px] border-collapse">
          <thead>
            <tr>
              <th className={`${HEAD} w-72`}>pointer, window or frame rate</th>
              <th className={HEAD} aria-label="ratings">
                <RailTicks scale={scale} />
              </th>
              <th className={`${HEAD} w-40 text-right`}>ballots</th>
            </tr>
          </thead>
          <tbody>
            {groups.map(({ by, name, ballots, ratings }) => (
              <tr key={`${by} ${name}`} className="border-b border-rule">
                <th scope="row" className="py-1.5 text-left font-semibold">
                  {name} <span className="font-normal text-soft">{by}</span>
                </th>
                <td>
                  <SmallRail {...{ name, scale }} rated={rank(ratings, rows)} />
                </td>
                <td className="figures text-right">
                  {ballots}
                  {ballots < THIN ? <span className="text-soft">, too few to read</span> : null}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <p className="mt-2 mb-0 text-[13px] text-soft">
        Of all ballots for which it is known, whatever is chosen to count. Where two groups differ, look at who is in
        them before blaming the pages: people choose what they vote with.
      </p>
    </section>
  );
}
