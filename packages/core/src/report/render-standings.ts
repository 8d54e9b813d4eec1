import {
  describeDelivery,
  describeMending,
  describeSuccession,
  formatPrice,
  formatRanks,
  glyphColor,
  hasMending,
  isOnFrontier,
  nameOfCompetitor,
  priceEntrants,
  type RailScale,
  scaleRail,
} from "../conclusions/index.js";
import { KINDS, type Mending, type PromptRatings, type Standing, type Standings } from "../contract/index.js";
import { count, formatMs, formatShare, formatUsd } from "../format.js";
import { html, type Html } from "./html.js";
import { named, pointsOf } from "./words.js";

/** A rating with its interval, on a scale as wide as its cell. */
function peg({ rating, halfWidth, entrant }: Standing, scale: RailScale): Html {
  if (rating === null) return html`<span class="soft">no ballots yet</span>`;
  const at = (value: number) => `${scale.toPercent(value).toFixed(2)}%`;
  const half = halfWidth ?? 0;
  return html`<svg aria-hidden="true">
    <line
      x1="${at(rating - half)}"
      x2="${at(rating + half)}"
      y1="11"
      y2="11"
      stroke="currentColor"
      stroke-width="1.5"
    />
    <circle cx="${at(rating)}" cy="11" r="5" style="fill:${glyphColor(entrant.glyph)}" />
  </svg>`;
}

export function renderStandings(standings: Standings): Html {
  const { rows, voters, prompts } = standings;
  const scale = scaleRail(rows);
  return html`<section>
    <h2>Standings</h2>
    <div class="wide">
      <table>
        <thead>
          <tr>
            <th>rank</th>
            <th>entrant</th>
            <th class="rail">${scale.min} – ${scale.max}</th>
            <th class="n">rating</th>
            <th class="n">ballots</th>
            <th class="n">delivered</th>
            <th class="n">works</th>
            <th class="n">clean at once</th>
            <th class="n">a page</th>
          </tr>
        </thead>
        <tbody>
          ${rows.map(
            (row) =>
              html`<tr>
                <td>${formatRanks(row.rankRange)}</td>
                <th scope="row">${named(row)}</th>
                <td class="rail">${peg(row, scale)}</td>
                <td class="n">
                  ${pointsOf(row.rating)}${row.halfWidth === null ? "" : ` ± ${Math.round(row.halfWidth)}`}
                </td>
                <td class="n">${row.ballots}</td>
                <td class="n">${describeDelivery(row.delivery).short}</td>
                <td class="n">${formatShare(row.worksShare)}</td>
                <td class="n">${formatShare(row.cleanShare)}</td>
                <td class="n">${formatUsd(row.costPerEntryUsd)}</td>
              </tr>`,
          )}
        </tbody>
      </table>
    </div>
    <p class="soft">
      Bars are 95 % intervals for prompts and people like these, not only for these ${count(prompts, "prompt")} and
      ${count(voters, "person", "people")}. A rank is a range where the ballots do not decide it; all ranges hold
      together. 400 points are odds of ten to one.
    </p>
  </section>`;
}

export function renderPrice(standings: Standings): Html {
  const costs = priceEntrants(standings, "cost");
  if (costs.length < 2) return html``;
  const frontier = costs.filter(isOnFrontier);
  return html`<section>
    <h2>What it costs</h2>
    <p>
      Nobody is rated higher for as little as
      ${frontier.map(({ row, price }, index) => html`${index === 0 ? "" : ", "}${nameOfCompetitor(row)} (${formatPrice(price, "cost")} a page)`)}.
    </p>
    <table>
      <thead>
        <tr>
          <th>entrant</th>
          <th class="n">dollars a page</th>
          <th class="n">median time</th>
          <th class="n">rating</th>
          <th>nobody better for as little</th>
        </tr>
      </thead>
      <tbody>
        ${costs.map(
          ({ row, price, frontier: on }) =>
            html`<tr>
              <th scope="row">${named(row)}</th>
              <td class="n">${formatPrice(price, "cost")}</td>
              <td class="n">${formatMs(row.medianTotalMs)}</td>
              <td class="n">${pointsOf(row.rating)}</td>
              <td>
                ${{ surely: "yes", "by its rating": "yes by its rating, not surely", perhaps: "perhaps", no: "no" }[on]}
              </td>
            </tr>`,
        )}
      </tbody>
    </table>
  </section>`;
}

export function renderKinds({ ratings, standings }: { ratings: PromptRatings; standings: Standings }): Html {
  const kinds = ratings.categories.filter(({ of }) => of === "kind");
  if (kinds.length === 0) return html``;
  const cell = (versionId: string, category: PromptRatings["categories"][number]) => {
    const own = category.ratings.find((one) => one.versionId === versionId);
    return html`<td class="n">${own === undefined ? "—" : Math.round(own.rating)}</td>`;
  };
  return html`<section>
    <h2>By kind</h2>
    <div class="wide">
      <table>
        <thead>
          <tr>
            <th>entrant</th>
            ${kinds.map(({ name, prompts, ballots }) => html`<th class="n">${KINDS[name as keyof typeof KINDS].plural.toLowerCase()}<br />${count(prompts, "prompt")}, ${count(ballots, "ballot")}</th>`)}
          </tr>
        </thead>
        <tbody>
          ${standings.rows.map(
            (row) =>
              html`<tr>
                <th scope="row">${named(row)}</th>
                ${kinds.map((kind) => cell(row.version.id, kind))}
              </tr>`,
          )}
        </tbody>
      </table>
    </div>
    <p class="soft">Drawn towards the whole rating where ballots are few.</p>
  </section>`;
}

export function renderMending({
  mending,
  standings: { rows },
}: {
  mending: readonly Mending[];
  standings: Standings;
}): Html {
  if (!hasMending(mending)) return html``;
  return html`<section>
    <h2>First shots and mends</h2>
    <div class="wide">
      <table>
        <thead>
          <tr>
            <th>entrant</th>
            <th class="n">works by itself</th>
            <th class="n">after 1 mend</th>
            <th class="n">after 2</th>
            <th>first clean page</th>
            <th class="n">corrected: clean before → after</th>
          </tr>
        </thead>
        <tbody>
          ${rows.flatMap((row) => {
            const own = mending.find(({ versionId }) => versionId === row.version.id);
            if (own === undefined) return [];
            const { works, rounds, corrected } = describeMending(own);
            return [
              html`<tr>
                <th scope="row">${named(row)}</th>
                ${works.map((text) => html`<td class="n">${text}</td>`)}
                <td>${rounds}</td>
                <td class="n">${corrected}</td>
              </tr>`,
            ];
          })}
        </tbody>
      </table>
    </div>
    <p class="soft">
      A mend feeds a page's own errors back in the same words to all. Ratings are of first shots alone.
    </p>
  </section>`;
}

export function renderSuccession({ succession, rows }: Standings): Html {
  const rowOf = (id: string) => rows.find(({ version }) => version.id === id);
  if (succession.length === 0) return html``;
  return html`<section>
    <h2>New against old</h2>
    ${succession.map((one) => html`<p><strong>${nameOfCompetitor(rowOf(one.newerId))} after ${nameOfCompetitor(rowOf(one.olderId))}.</strong> ${describeSuccession(one)}</p>`)}
    <p class="soft">Each pair by itself: ranks hold for all pairs at once, so they may still keep the two together.</p>
  </section>`;
}
