import { spawnSync } from "node:child_process";
import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import {
  countBallots,
  estimateCovariances,
  fitRatings,
  outcomeProbabilities,
  sortBallots,
} from "@tourney/core/ratings";
import { createRandom, drawNormal } from "@tourney/core/random";
import { median } from "@tourney/core/stats";

/**
 * Measures what rating costs on this machine and prints one JSON line: processor seconds, the median of several runs in one process as in
 * a server, and of the first, as on the command line; and the peak memory. Beside it, where python3-sklearn is installed: a logistic regression on the same million ballots and
 * the bootstrap that people use for its intervals, timed over a few rounds and multiplied up.
 */
const OPTIONS = { K: 5, ridge: 0.1, side: true, ridgeSide: 0.1 };
const ENTRANTS = 100;
const VOTERS = 2000;
const PROMPTS = 300;

/** Ballots of a made-up world with strengths from −1 to 1 logit. */
function drawBallots(count: number) {
  const random = createRandom(7);
  const strength = Array.from({ length: ENTRANTS }, () => 0.6 * drawNormal(random));
  const columns = {
    voter: new Int32Array(count),
    prompt: new Int32Array(count),
    left: new Int32Array(count),
    right: new Int32Array(count),
    outcome: new Int32Array(count),
  };
  // Cumulative shares of the outcomes of every pair, so that drawing ten million takes seconds.
  const shares = Array.from({ length: ENTRANTS * ENTRANTS }, (_, pair) => {
    const eta = strength[Math.floor(pair / ENTRANTS)]! - strength[pair % ENTRANTS]! + 0.1;
    let sum = 0;
    return outcomeProbabilities(5, eta, [0.4, 1.5]).map((share) => (sum += share));
  });
  for (let b = 0; b < count; b++) {
    const left = Math.floor(random() * ENTRANTS);
    const right = (left + 1 + Math.floor(random() * (ENTRANTS - 1))) % ENTRANTS;
    const u = random();
    const own = shares[left * ENTRANTS + right]!;
    let outcome = 1;
    while (outcome < 5 && u >= own[outcome - 1]!) outcome++;
    columns.voter[b] = Math.floor(random() * VOTERS);
    columns.prompt[b] = Math.floor(random() * PROMPTS);
    columns.left[b] = left;
    columns.right[b] = right;
    columns.outcome[b] = outcome;
  }
  return columns;
}

const REPEATS = 7;

/** Processor seconds of this process for some work: the first time, and the median of further ones. */
function timed<T>(name: string, work: () => T): { figures: Record<string, number>; result: T } {
  const once = () => {
    const before = process.cpuUsage();
    const result = work();
    const { user, system } = process.cpuUsage(before);
    return { seconds: (user + system) / 1e6, result };
  };
  const first = once();
  const further = Array.from({ length: REPEATS }, () => once().seconds);
  return { figures: { [name]: median(further)!, [`${name}First`]: first.seconds }, result: first.result };
}

const PARTS: Record<string, () => Record<string, number>> = {
  "count-fit-errors": () => {
    const ballots = drawBallots(1_000_000);
    const { figures, result } = timed("countFitErrorsCpuS", () =>
      fitRatings(ENTRANTS, countBallots(ENTRANTS, 5, ballots), OPTIONS),
    );
    if (!(result.model.covariance.get(0, 0) > 0)) throw new Error("There is no error");
    return figures;
  },
  "two-way": () => {
    const ballots = drawBallots(1_000_000);
    const { figures, result } = timed("withTwoWayCpuS", () => {
      const fit = fitRatings(ENTRANTS, countBallots(ENTRANTS, 5, ballots), OPTIONS);
      return estimateCovariances(fit, sortBallots(ballots));
    });
    if (result.twoWay === null) throw new Error("There is no two-way error");
    return {
      ...figures,
      twoWayPeakMb: process.resourceUsage().maxRSS / 1000,
      cells: result.clusters.intersections,
    };
  },
  "counts-1m": () => {
    const counts = countBallots(ENTRANTS, 5, drawBallots(1_000_000));
    return timed("fitOfCounts1mCpuS", () => fitRatings(ENTRANTS, counts, OPTIONS)).figures;
  },
  "counts-10m": () => {
    const counts = countBallots(ENTRANTS, 5, drawBallots(10_000_000));
    return timed("fitOfCounts10mCpuS", () => fitRatings(ENTRANTS, counts, OPTIONS)).figures;
  },
  regression: () => {
    if (spawnSync("/usr/bin/python3", ["-c", "import sklearn"]).status !== 0) return {};
    const folder = mkdtempSync(join(tmpdir(), "tourney-bench-"));
    const { left, right, outcome } = drawBallots(1_000_000);
    for (const [name, column] of Object.entries({ left, right, outcome })) writeFileSync(join(folder, name), column);
    const { stdout, stderr } = spawnSync("/usr/bin/python3", ["-c", REGRESSION, folder], { encoding: "utf8" });
    rmSync(folder, { recursive: true });
    if (stdout === "") throw new Error(stderr);
    return JSON.parse(stdout) as Record<string, number>;
  },
};

/** An even ballot counts as half a win of either, as such scripts do; three of the 200 rounds are timed. */
const REGRESSION = `
import sys, json, time, numpy as np
from scipy import sparse
from sklearn.linear_model import LogisticRegression
folder = sys.argv[1]
left, right, outcome = (np.fromfile(f"{folder}/{name}", dtype=np.int32) for name in ("left", "right", "outcome"))
def fit(l, r, k):
    l, r, k = np.concatenate([l, l[k == 3]]), np.concatenate([r, r[k == 3]]), np.concatenate([np.where(k == 3, 1, k), np.full((k == 3).sum(), 5)])
    n = len(l); rows = np.arange(n)
    X = sparse.csr_matrix((np.concatenate([np.ones(n), -np.ones(n)]), (np.concatenate([rows, rows]), np.concatenate([l, r]))), shape=(n, 100))
    LogisticRegression(fit_intercept=False, C=10.0, max_iter=200).fit(X, k < 3)
started = time.process_time(); fit(left, right, outcome); once = time.process_time() - started
rng = np.random.default_rng(1); started = time.process_time()
for _ in range(3):
    at = rng.integers(0, len(left), len(left)); fit(left[at], right[at], outcome[at])
rounds = (time.process_time() - started) / 3
print(json.dumps({"regressionCpuS": once, "regressionWith200RoundsCpuS": once + 200 * rounds}))
`;

const part = process.argv[2];
if (part !== undefined) {
  console.log(JSON.stringify(PARTS[part]!()));
} else {
  const results = Object.keys(PARTS).map((name) => {
    const { stdout, stderr, status } = spawnSync(process.execPath, [...process.execArgv, import.meta.filename, name], {
      encoding: "utf8",
    });
    if (status !== 0) throw new Error(stderr);
    return JSON.parse(stdout) as Record<string, number>;
  });
  const rounded = Object.entries(Object.assign({}, ...results) as Record<string, number>).map(
    ([name, value]) => [name, Math.round(value * 1000) / 1000] as const,
  );
  console.log(JSON.stringify({ entrants: ENTRANTS, voters: VOTERS, prompts: PROMPTS, ...Object.fromEntries(rounded) }));
}
