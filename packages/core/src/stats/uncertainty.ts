import { EigenvalueDecomposition, Matrix } from "ml-matrix";
import { differentiateOutcome } from "./cumulative-logit.js";
import { boundWeights, type FittedModel, type RatingFit } from "./fit-ratings.js";

/** Ballots as columns of equal length; indices are 0-based, outcomes 1..K. */
export interface BallotColumns {
  voter: ArrayLike<number>;
  prompt: ArrayLike<number>;
  left: ArrayLike<number>;
  right: ArrayLike<number>;
  outcome: ArrayLike<number>;
}

/** Covariances of all parameters of a fit under each view of what varies. Null where there are fewer than two clusters. */
export interface Covariances {
  naive: Matrix;
  voter: Matrix | null;
  prompt: Matrix | null;
  twoWay: Matrix | null;
  clusters: { voters: number; prompts: number; intersections: number };
}

/**
 * How uncertain the ratings are: from the model alone, and robust to ballots that go together because they share a voter,
 * a prompt, or either. Cluster sandwich: Liang & Zeger 1986, with G/(G−1); two-way: Cameron, Gelbach & Miller 2011,
 * its theta block made positive semi-definite by setting negative eigenvalues to 0.
 */
export function estimateCovariances(fit: RatingFit, ballots: BallotColumns): Covariances {
  const { model } = fit;
  const promptCount = largest(ballots.prompt) + 1;
  const cells = Array.from(ballots.voter, (voter, b) => voter * promptCount + ballots.prompt[b]!);
  const voter = sandwich(model, ballots, ballots.voter);
  const prompt = sandwich(model, ballots, ballots.prompt);
  const cell = sandwich(model, ballots, cells);
  const twoWay =
    voter.covariance && prompt.covariance && cell.covariance
      ? repairThetaBlock(Matrix.sub(Matrix.add(voter.covariance, prompt.covariance), cell.covariance), model)
      : null;
  return {
    naive: model.covariance,
    voter: voter.covariance,
    prompt: prompt.covariance,
    twoWay,
    clusters: { voters: voter.clusters, prompts: prompt.clusters, intersections: cell.clusters },
  };
}

function largest(column: ArrayLike<number>): number {
  let most = -1;
  for (let i = 0; i < column.length; i++) most = Math.max(most, column[i]!);
  return most;
}

function sandwich(
  model: FittedModel,
  ballots: BallotColumns,
  cluster: ArrayLike<number>,
): { covariance: Matrix | null; clusters: number } {
  const size = model.x.length;
  const sums = new Map<number, Float64Array>();
  for (let b = 0; b < ballots.outcome.length; b++) {
    const key = cluster[b]!;
    let sum = sums.get(key);
    if (!sum) sums.set(key, (sum = new Float64Array(size)));
    addScore(sum, model, ballots, b);
  }
  const clusters = sums.size;
  if (clusters < 2 || size === 0) return { covariance: null, clusters };
  const stacked = new Matrix([...sums.values()].map((sum) => Array.from(sum)));
  const meat = stacked
    .transpose()
    .mmul(stacked)
    .mul(clusters / (clusters - 1));
  return { covariance: model.covariance.mmul(meat).mmul(model.covariance), clusters };
}

/** Adds the gradient of one ballot's log-probability, unpenalised, by all parameters. */
function addScore(sum: Float64Array, model: FittedModel, ballots: BallotColumns, b: number): void {
  const { scale, slot, x, deltaSlot, firstCutSlot } = model;
  const K = scale.reducedK;
  if (K <= 1) return;
  const outcome = scale.toReduced[ballots.outcome[b]!]!;
  const pair = { left: slot[ballots.left[b]!]!, right: slot[ballots.right[b]!]! };
  const eta = x[pair.left]! - x[pair.right]! + (deltaSlot === null ? 0 : x[deltaSlot]!);
  const d = differentiateOutcome(outcome, K, eta, x.subarray(firstCutSlot));
  for (const [at, weight] of boundWeights(outcome, K, pair, model)) sum[at]! += d.byUpper * weight;
  for (const [at, weight] of boundWeights(outcome - 1, K, pair, model)) sum[at]! += d.byLower * weight;
}

function repairThetaBlock(covariance: Matrix, model: FittedModel): Matrix {
  const count = model.slotComponent.length;
  const block = covariance.subMatrix(0, count - 1, 0, count - 1);
  const { eigenvectorMatrix, realEigenvalues } = new EigenvalueDecomposition(block, { assumeSymmetric: true });
  const kept = Matrix.diag(realEigenvalues.map((value) => Math.max(0, value)));
  const repaired = eigenvectorMatrix.mmul(kept).mmul(eigenvectorMatrix.transpose());
  return covariance.clone().setSubMatrix(repaired, 0, 0);
}

/** Standard error in logits of theta_i (relative to its component's mean), or of theta_i − theta_j; null without ballots. */
export function standardError(
  covariance: Matrix,
  model: FittedModel,
  i: number,
  j: number | null = null,
): number | null {
  const a = model.slot[i]!;
  if (a === -1) return null;
  if (j === null) return Math.sqrt(Math.max(0, covariance.get(a, a)));
  const b = model.slot[j]!;
  if (b === -1 || model.slotComponent[a] !== model.slotComponent[b]) return null;
  return Math.sqrt(Math.max(0, covariance.get(a, a) + covariance.get(b, b) - 2 * covariance.get(a, b)));
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
  const errors = [naive, voter, prompt, twoWay].map((covariance) => standardError(covariance, model, i, j));
  return errors.some((error) => error === null) ? null : Math.max(...(errors as number[]));
}
