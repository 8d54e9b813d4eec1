import type { FindingRule, RecordingPlan } from "@tourney/core/contract";
import { ODD_PAGES } from "../test-support/hostile-pages.js";

/** A page that a person has said of what a rule should find on it. */
export interface LabelledPage {
  page: string;
  /** How it is recorded, besides what all are. */
  plan?: Partial<RecordingPlan>;
}

export interface LabelledSet {
  rule: FindingRule;
  /** Pages on which the rule should find something. */
  bad: readonly LabelledPage[];
  /** Pages that come near and on which it should not. */
  good: readonly LabelledPage[];
}

export const doc = (body: string, head = "") =>
  `<!doctype html><html lang="en"><head><meta charset="utf-8"><title>Page</title>${head}</head><body>${body}</body></html>`;
export const pages = (bodies: readonly string[], plan?: LabelledPage["plan"]): LabelledPage[] =>
  bodies.map((body) => ({ page: doc(body), ...(plan ? { plan } : {}) }));
export const js = (code: string) => `<script>${code}</script>`;
export const canvas = (code: string, setUp = "") =>
  `<canvas id="c" width="600" height="300"></canvas>${js(`const g = c.getContext("2d"); ${setUp} let n = 0; const draw = (t) => { n++; ${code} requestAnimationFrame(draw); }; requestAnimationFrame(draw);`)}`;
export const MOVING = canvas(
  'g.fillStyle = "#136"; g.fillRect(0, 0, 600, 300); g.fillStyle = "#fc3"; g.fillRect((t / 8) % 500, 80, 90, 90);',
);
export const MOVES = { motionExpected: true };
export const GAME = { motionExpected: true, kind: "game" } as const;
export const APP = { kind: "app" } as const;
export const odd = (test: RegExp): LabelledPage[] =>
  ODD_PAGES.filter(({ name, page }) => test.test(name) && typeof page === "string").map(({ page }) => ({
    page: page as string,
  }));
