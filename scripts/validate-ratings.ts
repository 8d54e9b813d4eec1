import { rateFile } from "@tourney/core/rate-file";
import {
  BASE_RATING,
  type BallotColumns,
  countBallots,
  drawOutcome,
  fitRatings,
  POINTS_PER_LOGIT,
  rateBallots,
} from "@tourney/core/ratings";
import { createRandom, drawNormal, type Random } from "@tourney/core/random";
import { mean, range, writeBetween } from "./figures.js";

/**
 * Rates made-up panels whose truth is known and writes into docs/validation.md how often the intervals hold it. All of it comes from
 * fixed seeds: a second run gives the same figures. `--replications N` tries fewer and writes nothing.
 */
interface World {
  name: string;
  entrants: number;
  prompts: number;
  voters: number;
  ballots: number;
  /** Standard deviations in logits: of an entrant between prompts, of an entrant between voters, of the side between voters. */
  promptSpread: number;
  voterSpread: number;
  sideSpread: number;
  replications: number;
}

const BASE: World = {
  name: "40 prompts, 60 voters",
  entrants: 12,
  prompts: 40,
  voters: 60,
  ballots: 6000,
  promptSpread: 0.5,
  voterSpread: 0.4,
  sideSpread: 0.3,
  replications: 300,
};
const WORLDS: World[] = [
  BASE,
  { ...BASE, name: "few prompts: 12", prompts: 12, ballots: 3000 },
  { ...BASE, name: "few voters: 12", voters: 12, ballots: 3000 },
  { ...BASE, name: "few ballots: 600", ballots: 600 },
  { ...BASE, name: "prompts and voters all alike", promptSpread: 0, voterSpread: 0, sideSpread: 0 },
  { ...BASE, name: "ten times the ballots, same prompts", ballots: 60_000, replications: 60 },
];
/** c_1 … c_4 of the model, in logits. */
const CUTS = [0.4, 1.5];
const PRIORS = { ridge: 0.1, side: true, ridgeSide: 0.1 };
const Z = 1.959963984540054;
const KINDS = ["naive", "voter", "prompt", "twoway"] as const;

const strengthOf = ({ entrants }: World) => range(entrants).map((i) => 0.18 * ((entrants - 1) / 2 - i));

/** Effects of each prompt or voter on each entrant. */
const drawEffects = (random: Random, count: number, { entrants }: World, spread: number): Float64Array =>
  Float64Array.from({ length: count * entrants }, () => spread * drawNormal(random));

function drawBallots(world: World, random: Random): BallotColumns {
  const { entrants, prompts, voters, ballots } = world;
  const strength = strengthOf(world);
  const byPrompt = drawEffects(random, prompts, world, world.promptSpread);
  const byVoter = drawEffects(random, voters, world, world.voterSpread);
  const side = Float64Array.from({ length: voters }, () => 0.1 + world.sideSpread * drawNormal(random));
  const columns = {
    voter: new Int32Array(ballots),
    prompt: new Int32Array(ballots),
    left: new Int32Array(ballots),
    right: new Int32Array(ballots),
    outcome: new Int32Array(ballots),
  };
  for (let b = 0; b < ballots; b++) {
    const [voter, prompt, l] = [voters, prompts, entrants].map((count) => Math.floor(random() * count)) as [
      number,
      number,
      number,
    ];
    const r = (l + 1 + Math.floor(random() * (entrants - 1))) % entrants;
    const eta =
      strength[l]! -
      strength[r]! +
      byPrompt[prompt * entrants + l]! -
      byPrompt[prompt * entrants + r]! +
      byVoter[voter * entrants + l]! -
      byVoter[voter * entrants + r]! +
      side[voter]!;
    columns.voter[b] = voter;
    columns.prompt[b] = prompt;
    columns.left[b] = l;
    columns.right[b] = r;
    columns.outcome[b] = drawOutcome(random, 5, eta, CUTS);
  }
  return columns;
}

/** What the model comes to with very many prompts and voters: what the intervals are of. In logits. */
function findLimit(world: World): number[] {
  const many = { ...world, prompts: 20_000, voters: 20_000, ballots: 1_500_000 };
  const counts = countBallots(world.entrants, 5, drawBallots(many, createRandom(987_654)));
  return fitRatings(world.entrants, counts, { K: 5, ...PRIORS }).theta.map((theta) => theta!);
}

interface Report {
  theta: number[];
  se: Record<string, { theta: number[] }>;
  rankIntervals: Record<string, { holm: [number, number][] }>;
}

function validate(world: World, replications: number) {
  const limit = findLimit(world);
  // Entrants are numbered by falling strength.
  const isRight = (ranges: readonly ([number, number] | null)[]) =>
    ranges.every((ranks, i) => ranks![0] <= i + 1 && i + 1 <= ranks![1]);
  const runs = range(replications).map((seed) => {
    const ballots = drawBallots(world, createRandom(1000 + seed));
    const input = { entrants: range(world.entrants).map(String), K: 5, ballots: mapColumns(ballots) };
    const report = rateFile({ type: "fit", input, options: PRIORS }).report as unknown as Report;
    const product = rateBallots(world.entrants, ballots).ratings;
    const off = report.theta.map((theta, i) => Math.abs(theta - limit[i]!));
    const shareOf = (reach: (i: number) => number) => mean(off.map((distance, i) => Number(distance <= reach(i))));
    const covered: Record<string, number> = {
      product: shareOf((i) => product.entrants[i]!.halfWidth! / POINTS_PER_LOGIT),
    };
    const wrong: Record<string, number> = {
      product: Number(!isRight(product.entrants.map(({ rankRange }) => rankRange))),
    };
    for (const kind of KINDS) {
      covered[kind] = shareOf((i) => Z * report.se[kind]!.theta[i]!);
      wrong[kind] = Number(!isRight(report.rankIntervals[kind]!.holm));
    }
    return {
      covered,
      wrong,
      halfWidth: mean(product.entrants.map(({ halfWidth }) => halfWidth!)),
      rmse: Math.sqrt(
        mean(product.entrants.map(({ rating }, i) => (rating! - BASE_RATING - POINTS_PER_LOGIT * limit[i]!) ** 2)),
      ),
    };
  });
  const views = [...KINDS, "product"];
  const products = runs.map(({ covered }) => covered["product"] ?? Number.NaN);
  const deviations = products.map((share) => (share - mean(products)) ** 2);
  return {
    world,
    replications,
    covered: views.map((view) => mean(runs.map(({ covered }) => covered[view]!))),
    /** Of the product's coverage: boards are independent, entrants of one board are not. */
    coverError: Math.sqrt(mean(deviations) / (runs.length - 1)),
    wrong: views.map((view) => mean(runs.map(({ wrong }) => wrong[view]!))),
    halfWidth: mean(runs.map(({ halfWidth }) => halfWidth)),
    rmse: mean(runs.map(({ rmse }) => rmse)),
  };
}

const mapColumns = (ballots: BallotColumns) =>
  Object.fromEntries(Object.entries(ballots).map(([name, column]) => [name, Array.from(column as Int32Array)]));

const percent = (share: number) => `${(100 * share).toFixed(1)} %`;
const tableRow = (cells: readonly string[]) => `| ${cells.join(" | ")} |`;

function describe(results: readonly ReturnType<typeof validate>[]): string {
  const head = ["panel", "boards", "model alone", "by voter", "by prompt", "two-way", "**product**"];
  return [
    "Share of 95 % intervals that hold the rating which very many prompts and voters would give:",
    "",
    tableRow(head),
    tableRow(head.map((_, i) => (i === 0 ? "---" : "---:"))),
    ...results.map(({ world, replications, covered, coverError }) =>
      tableRow([
        world.name,
        String(replications),
        ...covered.slice(0, 4).map(percent),
        `**${percent(covered[4]!)}** ± ${(100 * coverError).toFixed(1)}`,
      ]),
    ),
    "",
    "Share of boards on which some rank range leaves out the true rank (ranges claim to hold all at once on 95 %):",
    "",
    tableRow(head),
    tableRow(head.map((_, i) => (i === 0 ? "---" : "---:"))),
    ...results.map(({ world, replications, wrong }) =>
      tableRow([world.name, String(replications), ...wrong.slice(0, 4).map(percent), `**${percent(wrong[4]!)}**`]),
    ),
    "",
    "How near the ratings come, in rating points:",
    "",
    tableRow(["panel", "root mean square error", "mean half-width of the product's intervals"]),
    tableRow(["---", "---:", "---:"]),
    ...results.map(({ world, rmse, halfWidth }) => tableRow([world.name, rmse.toFixed(1), halfWidth.toFixed(1)])),
  ].join("\n");
}

const at = process.argv.indexOf("--replications");
const fewer = at === -1 ? null : Number(process.argv[at + 1]);
const results = WORLDS.map((world) => validate(world, Math.min(world.replications, fewer ?? Infinity)));
if (fewer === null) writeBetween("coverage", [describe(results)]);
else console.log(describe(results));
