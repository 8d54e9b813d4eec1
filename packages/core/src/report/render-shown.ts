import type { Standing } from "../contract/index.js";
import { html, type Html } from "./html.js";
import { named } from "./words.js";

/** The recording of an entry, small: pictures as data addresses, in order. */
export interface ReportStrip {
  row: Standing;
  pictures: readonly string[];
  seconds: number;
}

/** A prompt with the best and the worst that entrants made of it. */
export interface ReportPrompt {
  title: string;
  best: ReportStrip;
  worst: ReportStrip;
}

/** Each picture shows for its share of the recording; one set of keyframes for each number of pictures. */
export function keyframesOf(shown: readonly ReportPrompt[]): string {
  const counts = new Set(shown.flatMap(({ best, worst }) => [best.pictures.length, worst.pictures.length]));
  return [...counts]
    .filter((n) => n > 0)
    .map(
      (n) =>
        `@keyframes shown${n}{0%{visibility:visible}${(100 / n).toFixed(3)}%{visibility:hidden}100%{visibility:hidden}}`,
    )
    .join("");
}

function renderStrip({ row, pictures, seconds }: ReportStrip, word: string): Html {
  const middle = pictures.length >> 1;
  return html`<figure>
    <div class="strip">
      ${pictures.map((picture, index) => html`<img alt="" class="${index === middle ? "still" : ""}" src="${picture}" style="--seconds:${seconds}s;--at:${((index / pictures.length) * seconds).toFixed(3)}s;animation-name:shown${pictures.length}" />`)}
    </div>
    <figcaption>${named(row)} <span class="soft">${word}</span></figcaption>
  </figure>`;
}

export function renderShown(shown: readonly ReportPrompt[]): Html {
  if (shown.length === 0) return html``;
  return html`<section>
    <h2>Best and worst</h2>
    <p class="soft">Of the prompts that tell entrants apart most: what was rated best there, and what worst.</p>
    ${shown.map(
      ({ title, best, worst }) =>
        html`<h3>${title}</h3>
          <div class="pair">${renderStrip(best, "rated best here")}${renderStrip(worst, "rated worst here")}</div>`,
    )}
  </section>`;
}
