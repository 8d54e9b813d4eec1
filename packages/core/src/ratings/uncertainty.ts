import { EigenvalueDecomposition, Matrix } from "ml-matrix";
import type { BallotColumns } from "./ballots.js";
import { type Meat, sumTwoWays } from "./clusters.js";
import type { FittedModel, RatingFit } from "./fit-ratings.js";
import { MOST_CELLS, ScoreTable } from "./score-table.js";
import { factor, SquareMatrix } from "./square-matrix.js";

/** Covariances of all parameters of a fit under each view of what varies. Null where there are fewer than two clusters. */
export interface Covariances {
  naive: SquareMatrix;
  voter: SquareMatrix | null;
  prompt: SquareMatrix | null;
  twoWay: SquareMatrix | null;
  clusters: { voters: number; prompts: number; intersections: number };
}

/**
 * How uncertain the ratings are: from the model alone, and robust to ballots that go together because they share a voter,
 * a prompt, or either. Cluster sandwich: Liang & Zeger 1986, with G/(G−1), scores unpenalised and not centred; two-way: Cameron,
 * Gelbach & Miller 2011, its theta block made positive semi-definite by setting negative eigenvalues to 0.
 *
 * @param sorted the ballots of the fit, as `sortBallots` gives them.
 */
export function estimateCovariances(fit: RatingFit, sorted: BallotColumns): Covariances {
  const { model, theta } = fit;
  // One score for all ballots that are alike, or where that table would be too large one for each.
  const isShared = theta.length ** 2 * model.scale.K <= MOST_CELLS;
  const table = new ScoreTable(model, theta.length, isShared ? null : sorted);
  return combine(model, sumTwoWays({ model, table }, sorted));
}

function combine(model: FittedModel, by: { voter: Meat; prompt: Meat; cell: Meat }): Covariances {
  const voter = sandwich(model, by.voter);
  const prompt = sandwich(model, by.prompt);
  const cell = sandwich(model, by.cell);
  const twoWay =
    voter && prompt && cell ? repairThetaBlock(voter.combine(1, prompt, 1).combine(1, cell, -1), model) : null;
  return {
    naive: model.covariance,
    voter,
    prompt,
    twoWay,
    clusters: { voters: by.voter.count, prompts: by.prompt.count, intersections: by.cell.count },
  };
}

/** H⁻¹ · G/(G−1) · meat · H⁻¹, or null for fewer than two clusters. */
function sandwich({ x, covariance }: FittedModel, { meat, count }: Meat): SquareMatrix | null {
  if (count < 2 || x.length === 0) return null;
  const correction = count / (count - 1);
  for (let i = 0; i < meat.data.length; i++) meat.data[i]! *= correction;
  return covariance.times(meat).times(covariance);
}

function repairThetaBlock(covariance: SquareMatrix, model: FittedModel): SquareMatrix {
  const count = model.slotComponent.length;
  if (isPositive(covariance, model)) return covariance;
  const block = new Matrix(
    Array.from({ length: count }, (_, i) =>
      // Symmetric but for rounding, which the decomposition must not see.
      Array.from({ length: count }, (__, j) => (covariance.get(i, j) + covariance.get(j, i)) / 2),
    ),
  );
  const { eigenvectorMatrix, realEigenvalues } = new EigenvalueDecomposition(block, { assumeSymmetric: true });
  if (realEigenvalues.every((value) => value >= 0)) return covariance;
  const result = covariance.clone();
  // What the negative ones add is taken away again, which is less work than putting the others together.
  realEigenvalues.forEach((value, at) => {
    if (value >= 0) return;
    const vector = Float64Array.from(eigenvectorMatrix.getColumn(at));
    for (let i = 0; i < count; i++) {
      const share = value * vector[i]!;
      const row = i * result.size;
      for (let j = 0; j < count; j++) result.data[row + j]! -= share * vector[j]!;
    }
  });
  return result;
}

/**
 * Whether the theta block has no negative eigenvalue, where that can be told by factoring, which takes a fiftieth of the time of finding them. Ratings of one component
 * have the sum 0, so that their covariances are singular in that direction alone: it is filled up first.
 */
function isPositive(covariance: SquareMatrix, { slotComponent }: FittedModel): boolean {
  const count = slotComponent.length;
  const block = new SquareMatrix(count);
  let trace = 0;
  for (let i = 0; i < count; i++) trace += covariance.get(i, i);
  const fill = trace / count ** 2;
  for (let i = 0; i < count; i++)
    for (let j = 0; j < count; j++)
      block.data[i * count + j] =
        (covariance.get(i, j) + covariance.get(j, i)) / 2 + (slotComponent[i] === slotComponent[j] ? fill : 0);
  return factor(block) !== null;
}

const rootOf = (variance: number): number | null => (Number.isNaN(variance) ? null : Math.sqrt(Math.max(0, variance)));

/** The standard error of the parameter in a slot, in logits; null where nothing determines it. */
export const slotError = (covariance: SquareMatrix, slot: number): number | null => rootOf(covariance.get(slot, slot));

/** Standard error in logits of theta_i (relative to its component's mean), or of theta_i − theta_j; null without ballots. */
export function standardError(
  covariance: SquareMatrix,
  model: FittedModel,
  i: number,
  j: number | null = null,
): number | null {
  const a = model.slot[i]!;
  if (a === -1) return null;
  if (j === null) return slotError(covariance, a);
  const b = model.slot[j]!;
  if (b === -1 || model.slotComponent[a] !== model.slotComponent[b]) return null;
  return rootOf(covariance.get(a, a) + covariance.get(b, b) - covariance.get(a, b) - covariance.get(b, a));
}

/**
 * The standard error that the product stands behind: the largest of the four, or null when voters or prompts are too few
 * for a robust one. The naive figure alone would be too small by far: more ballots do not help, more voters and prompts do.
 */
export function widestStandardError(
  covariances: Covariances,
  model: FittedModel,
  i: number,
  j: number | null = null,
): number | null {
  const { naive, voter, prompt, twoWay } = covariances;
  if (voter === null || prompt === null || twoWay === null) return null;
  const own = standardError(naive, model, i, j);
  const byVoter = standardError(voter, model, i, j);
  const byPrompt = standardError(prompt, model, i, j);
  const byBoth = standardError(twoWay, model, i, j);
  // Written out: it is asked for every pair of entrants.
  return own === null || byVoter === null || byPrompt === null || byBoth === null
    ? null
    : Math.max(own, byVoter, byPrompt, byBoth);
}
