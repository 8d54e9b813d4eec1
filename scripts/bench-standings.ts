import { EVERYTHING, type StandingsBasis, type WhatCounts } from "@tourney/core/contract";
import { createRandom, drawNormal } from "@tourney/core/random";
import { drawOutcome } from "@tourney/core/ratings";
import { countBasis, prepareBasis } from "@tourney/core/standings";
import { finish } from "@tourney/core/steps";
import { median } from "@tourney/core/stats";

/**
 * Measures what another choice of what counts costs, once the ballots are there, and prints one JSON line: milliseconds until the standings are counted by it, the median over several
 * choices and the longest, and until the ratings on each prompt are there, too. The same code runs in the page's worker.
 */
const ENTRANTS = 100;
const PROMPTS = 100;
const VOTERS = 500;
const BALLOTS = 100_000;
const ROUNDS = 5;

const id = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, "0")}`;

/** Ballots of a made-up world, of which one in fifty is on a page that shows nothing. */
function drawBasis(): StandingsBasis {
  const random = createRandom(3);
  const pick = (count: number) => Math.floor(random() * count);
  const strength = Array.from({ length: ENTRANTS }, () => 0.6 * drawNormal(random));
  const ballots = Array.from({ length: BALLOTS }, () => {
    const left = pick(ENTRANTS);
    const right = (left + 1 + pick(ENTRANTS - 1)) % ENTRANTS;
    const lean = drawOutcome(random, 5, strength[left]! - strength[right]!, [0.4, 1.5]) - 3;
    const marks = 3 + (random() < 0.02 ? 4 : 0);
    return {
      prompt: pick(PROMPTS),
      voter: pick(VOTERS),
      left,
      right,
      lean,
      at: 1_770_000_000 + pick(8_000_000),
      marks,
    };
  });
  const columnOf = (name: keyof (typeof ballots)[number]) => ballots.map((ballot) => ballot[name]);
  const all = Array.from({ length: PROMPTS * ENTRANTS }, (_, n) => n);
  const ones = all.map(() => 1);
  const noughts = all.map(() => 0);
  return {
    edition: { id: id(0) } as StandingsBasis["edition"],
    prompts: Array.from({ length: PROMPTS }, (_, n) => ({
      ...{ id: id(n), key: `p${n}`, title: `P ${n}`, tags: n % 5 === 0 ? ["tag"] : [], isVariant: n % 10 === 9 },
      kind: (["game", "animation", "drawing", "app"] as const)[n % 4]!,
    })),
    competitors: Array.from({ length: ENTRANTS }, (_, n) => ({
      entrant: { id: id(n), key: `e${n}` } as StandingsBasis["competitors"][number]["entrant"],
      version: { id: id(n), number: 1, isPresent: true, until: null },
    })),
    panels: [0, 1, 2].map((n) => ({
      ...{ id: id(n), title: `Panel ${n}`, edition: 1, brokenRule: "pair" as const, undeliveredRule: "lose" as const },
    })),
    voters: Array.from({ length: VOTERS }, (_, n) => ({ id: id(n), name: `V ${n}`, panel: n % 3, sample: false })),
    cells: {
      prompt: all.map((n) => n % PROMPTS),
      competitor: all.map((n) => Math.floor(n / PROMPTS)),
      ...{ pages: ones, none: noughts, owed: noughts, clean: ones, tried: ones, costed: ones },
      costUsd: all.map(() => 0.02),
      ...{ tokens: all.map(() => 3000), tokened: all.map(() => 1) },
      ...{ timedTokens: all.map(() => 3000), timedMs: all.map(() => 40_000) },
      totalsMs: all.map((n) => [20_000 + n]),
    },
    ballots: {
      prompt: columnOf("prompt"),
      voter: columnOf("voter"),
      left: columnOf("left"),
      right: columnOf("right"),
      lean: columnOf("lean"),
      at: columnOf("at"),
      marks: columnOf("marks"),
    },
    ...{ pages: "first", otherPages: [], formerVersions: 0, setAside: 0, readAt: new Date(0).toISOString() },
  };
}

const CHOICES: Partial<WhatCounts>[] = [
  {},
  { kind: ["game"] },
  { broken: "lose" },
  { panel: [id(0), id(1)], variants: "out" },
  { from: "2026-02-20", to: "2026-04-01", broken: "leave_out" },
  { without: [id(3), id(7)], tag: ["tag"] },
];

const timed = <T>(work: () => T): { ms: number; result: T } => {
  const startedAt = performance.now();
  const result = work();
  return { ms: performance.now() - startedAt, result };
};

const basis = drawBasis();
const prepared = timed(() => prepareBasis(basis));
const first = timed(() => countBasis(prepared.result, EVERYTHING));
const count = (choice: Partial<WhatCounts>) => timed(() => countBasis(prepared.result, { ...EVERYTHING, ...choice }));
const standingsMs = Array.from({ length: ROUNDS }, () =>
  CHOICES.map((choice) => {
    const { ms, result } = count(choice);
    if (!result.standings.rows.some(({ halfWidth }) => halfWidth !== null)) throw new Error("There is no interval");
    return ms;
  }),
).flat();
const byPromptMs = CHOICES.map((choice) => timed(() => finish(count(choice).result.ratePrompts())).ms);
const round = (ms: number) => Math.round(ms * 10) / 10;
console.log(
  JSON.stringify({
    bench: "standings",
    ...{ entrants: ENTRANTS, prompts: PROMPTS, voters: VOTERS, ballots: BALLOTS, choices: CHOICES.length },
    prepareMs: round(prepared.ms),
    firstMs: round(first.ms),
    standingsMs: round(median(standingsMs)!),
    longestMs: round(Math.max(...standingsMs)),
    byPromptMs: round(median(byPromptMs)!),
  }),
);
