import { glyphColor, glyphPath, nameOfCompetitor } from "../conclusions/index.js";
import type { Standing } from "../contract/index.js";
import { html, type Html } from "./html.js";

export const glyph = (index: number): Html =>
  html`<svg class="glyph" viewBox="0 0 16 16" aria-hidden="true">
    <path fill-rule="evenodd" d="${glyphPath(index)}" style="fill:${glyphColor(index)}" />
  </svg>`;

/** A competitor by glyph and name. */
export const named = (row: Standing): Html => html`${glyph(row.entrant.glyph)}${nameOfCompetitor(row)}`;

export const pointsOf = (value: number | null) => (value === null ? "—" : String(Math.round(value)));
