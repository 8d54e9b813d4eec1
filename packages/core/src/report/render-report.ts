import {
  answerInSentences,
  BROKEN_WORDS,
  describeForecast,
  findFirst,
  judgePrompt,
  nameOfCompetitor,
  rank,
  type RatedRow,
  UNDELIVERED_WORDS,
  type Worth,
} from "../conclusions/index.js";
import type { Mending, PromptRatings, Standings, StandingsBasis } from "../contract/index.js";
import { count, formatShare } from "../format.js";
import { describeCounts, isEverything } from "../what-counts.js";
import { html, Html } from "./html.js";
import { keyframesOf, renderShown, type ReportPrompt } from "./render-shown.js";
import { renderKinds, renderMending, renderPrice, renderStandings, renderSuccession } from "./render-standings.js";
import { STYLE } from "./style.js";
import { named } from "./words.js";

export interface ReportInput {
  standings: Standings;
  ratings: PromptRatings;
  mending: readonly Mending[];
  basis: Pick<StandingsBasis, "prompts" | "panels">;
  shown: readonly ReportPrompt[];
  /** How each entrant was asked. */
  conditions: readonly { name: string; model: string; settings: string }[];
  /** ISO 8601. */
  madeAt: string;
  rendererVersion: string;
  /** SHA-256 of the ballots as they were counted. */
  inputDigest: string;
}

const day = (iso: string) => iso.slice(0, 10);

/** A report as one page that needs nothing from elsewhere and runs no script. */
export function renderReport(input: ReportInput): string {
  const { standings } = input;
  const { edition } = standings;
  const title = `${edition.suiteTitle}, edition ${edition.number}`;
  const page = html`<!doctype html>
    <html lang="en">
      <head>
        <meta charset="utf-8" />
        <meta name="viewport" content="width=device-width" />
        <meta
          http-equiv="Content-Security-Policy"
          content="default-src 'none'; style-src 'unsafe-inline'; img-src data:"
        />
        <title>${title}: report</title>
        <style>
          ${raw(STYLE)}${raw(keyframesOf(input.shown))}
        </style>
      </head>
      <body>
        <main>
          <header>
            <h1>${title}</h1>
            <p class="soft">
              Report of
              ${day(input.madeAt)}${standings.sampleBallots > 0 ? html`. <span class="care">${standings.sampleBallots === standings.ballots ? "All of it is sample data" : `${count(standings.sampleBallots, "ballot")} are sample data`}</span>` : ""}.
              ${isEverything(standings.counts) ? "" : describeCounts(standings.counts, input.basis)}
            </p>
          </header>
          <section class="answer" aria-label="The answer">
            ${answerInSentences(standings).map((sentence) => html`<p>${sentence}</p>`)}
          </section>
          ${renderStandings(standings)} ${renderPrice(standings)} ${renderKinds(input)} ${renderMending(input)}
          ${renderSuccession(standings)} ${renderShown(input.shown)} ${renderPrompts(input)} ${renderDoubts(standings)}
          ${renderConditions(input)} ${renderMethod(input)}
        </main>
      </body>
    </html> `;
  return page.text;
}

/** Style of our own: the one text that is not escaped. */
const raw = (text: string): Html => new Html(text);

const WORTH: Record<Worth, string> = {
  "worn out": "worn out: entrants do it alike",
  disputed: "disputed: voters part on it",
  "tells apart": "tells apart",
  "too few ballots": "too few ballots",
};

/** The prompts as they are rated, with what they are worth to the suite. */
export function judgePrompts({
  ratings,
  standings: { rows },
  basis,
}: Pick<ReportInput, "ratings" | "standings" | "basis">): {
  promptId: string;
  title: string;
  rated: RatedRow[];
  worth: Worth;
  ballots: number;
  agreement: number | null;
}[] {
  const overall = ratings.overall.flatMap(({ rating }) => (rating === null ? [] : [rating]));
  return ratings.prompts.map((own) => {
    const rated = rank(own.ratings, rows);
    const title = basis.prompts.find(({ id }) => id === own.promptId)?.title ?? own.promptId;
    return {
      ...{ promptId: own.promptId, title, rated, ballots: own.ballots, agreement: own.agreement },
      worth: judgePrompt(own, { rated, overall }),
    };
  });
}

function renderPrompts(input: ReportInput): Html {
  const judged = judgePrompts(input);
  return html`<section>
    <h2>Prompts</h2>
    <div class="wide">
      <table>
        <thead>
          <tr>
            <th>prompt</th>
            <th>first there</th>
            <th>what it is worth</th>
            <th class="n">voters agree</th>
            <th class="n">ballots</th>
          </tr>
        </thead>
        <tbody>
          ${judged.map(({ title, rated, worth, agreement, ballots }) => {
            const first = findFirst(rated);
            return html`<tr>
              <th scope="row">${title}</th>
              <td>${first === null ? "none" : named(first.row)}</td>
              <td>${WORTH[worth]}</td>
              <td class="n">${formatShare(agreement)}</td>
              <td class="n">${ballots}</td>
            </tr>`;
          })}
        </tbody>
      </table>
    </div>
  </section>`;
}

function renderDoubts({ forecasts, rows, circles, components, side }: Standings): Html {
  const nameOf = (id: string) => nameOfCompetitor(rows.find(({ version }) => version.id === id));
  return html`<section>
    <h2>What is in doubt</h2>
    ${forecasts.slice(0, 5).map((forecast) => html`<p><strong>${nameOf(forecast.firstId)} over ${nameOf(forecast.secondId)}.</strong> ${describeForecast(forecast)}</p>`)}
    ${circles.length === 0 ? html`` : html`<p>In a circle, which no order can show: ${circles.map((circle) => [...circle, circle[0]].map((row) => nameOfCompetitor(rows[row])).join(" over ")).join("; ")}.</p>`}
    ${components > 1 ? html`<p>There are ${components} groups of entrants that never met: ratings compare only inside a group.</p>` : html``}
    ${side === null ? html`` : html`<p>The left place is worth ${Math.round(side.points)} points (± ${Math.round(side.halfWidth)}, by the model alone); sides are shuffled, and this is taken out of the ratings.</p>`}
  </section>`;
}

function renderConditions({ standings, conditions, basis, rendererVersion }: ReportInput): Html {
  const { sources, counts, setAside } = standings;
  return html`<section>
    <h2>Conditions</h2>
    <p>
      ${describeCounts(counts, basis)}${setAside > 0 ? ` ${count(setAside, "ballot")} set aside, since a take was redone or another model answered.` : ""}
    </p>
    <div class="wide">
      <table>
        <thead>
          <tr>
            <th>panel</th>
            <th class="n">ballots</th>
            <th>cast</th>
            <th>blank and crashed entries</th>
            <th>what was not delivered</th>
          </tr>
        </thead>
        <tbody>
          ${sources.map(
            (source) =>
              html`<tr>
                <th scope="row">${source.title}</th>
                <td class="n">${source.ballots}</td>
                <td>${day(source.firstAt)} – ${day(source.lastAt)}</td>
                <td>${BROKEN_WORDS[source.brokenRule]}</td>
                <td>${UNDELIVERED_WORDS[source.undeliveredRule]}</td>
              </tr>`,
          )}
        </tbody>
      </table>
    </div>
    <div class="wide">
      <table>
        <thead>
          <tr>
            <th>entrant</th>
            <th>model</th>
            <th>settings</th>
          </tr>
        </thead>
        <tbody>
          ${conditions.map(
            ({ name, model, settings }) =>
              html`<tr>
                <th scope="row">${name}</th>
                <td><code>${model}</code></td>
                <td><code>${settings}</code></td>
              </tr>`,
          )}
        </tbody>
      </table>
    </div>
    <p class="soft">
      Every page was recorded headlessly under the same clock and seed, by renderer ${rendererVersion}.
    </p>
  </section>`;
}

function renderMethod({ standings: { methodVersion, edition }, inputDigest }: ReportInput): Html {
  return html`<section>
    <h2>Method and its limits</h2>
    <p>
      People saw two pages of one prompt side by side without names, and said which is better and by how far. Ratings
      are fitted to all ballots at once (a cumulative logit model of paired comparisons: Rao &amp; Kupper 1967,
      McCullagh 1980), with a place's favour taken out. Intervals allow for ballots of one voter and on one prompt going
      together (two-way clustering: Cameron, Gelbach &amp; Miller 2011; t, the widest of four errors); ranks hold for
      all pairs at once (Holm 1979).
    </p>
    <p>
      A rating says how often an entrant's pages are preferred on prompts like these. It says nothing of code that
      nobody saw, of other sorts of work, or of another day's model under the same name. Looking again and again until a
      difference shows finds differences that are not there.
    </p>
    <p class="soft">
      Method <code>${methodVersion}</code>. Suite <code>${edition.digest}</code>. Ballots as counted
      <code>${inputDigest}</code>.
    </p>
  </section>`;
}
