/** Probabilities below this count as this, so that their inverse is a number. */
const SMALLEST_P = 1e-300;

/**
 * The log-likelihood of the ballots of one pair on one side each, by eta = theta_left − theta_right + delta and by the
 * thresholds a_1..a_m, with its first and second derivatives.
 *
 * This is the hot path of every fit. Outcome k lies between the bounds u_{k−1} and u_k, u_k = c_k + eta, so that in terms of the
 * bounds the Hessian is tridiagonal; eta moves all bounds alike, a_j moves one up and its mirror image down. Everything that is
 * common to neighbouring outcomes is computed once, and nothing is allocated.
 */
export class PairLikelihood {
  /** Number of thresholds a_j. */
  readonly cutCount: number;
  /** The log-likelihood, and its first and second derivative by eta. */
  readonly byEta = new Float64Array(3);
  /** The first derivative by each a_j. */
  readonly cutSlope: Float64Array;
  /** The second derivative by eta and each a_j. */
  readonly mixed: Float64Array;
  /** The second derivative by a_i and a_j, row by row. */
  readonly cutCurvature: Float64Array;
  /** By each bound: first derivative, second derivative, second derivative by it and the next, sum of its row. */
  private readonly slope: Float64Array;
  private readonly diagonal: Float64Array;
  private readonly beside: Float64Array;
  private readonly rowSum: Float64Array;

  constructor(private readonly K: number) {
    this.cutCount = Math.max(0, Math.floor((K - 1) / 2));
    this.cutSlope = new Float64Array(this.cutCount);
    this.mixed = new Float64Array(this.cutCount);
    this.cutCurvature = new Float64Array(this.cutCount * this.cutCount);
    this.slope = new Float64Array(K);
    this.diagonal = new Float64Array(K);
    this.beside = new Float64Array(K);
    this.rowSum = new Float64Array(K);
  }

  /**
   * Computes everything for counts[first + k − 1] ballots of outcome k, k = 1..K.
   *
   * @param a the thresholds a_1..a_m.
   */
  evaluate(eta: number, a: Float64Array, counts: Float64Array, first: number): void {
    const { K, cutCount, byEta, slope, diagonal, beside, rowSum } = this;
    let logLik = 0;
    let sumOfSlopes = 0;
    let sumOfRows = 0;
    // At the bound below outcome k: F, 1 − F and the density; of the outcome before it: how many, and f/P at that bound.
    let below = 0;
    let above = 1;
    let density = 0;
    let timesBefore = 0;
    let ratioBefore = 0;
    let besideBefore = 0;
    for (let k = 1; k <= K; k++) {
      let nextBelow = 1;
      let nextAbove = 0;
      let nextDensity = 0;
      if (k < K) {
        // a_m is the outermost: c_1 = −a_m and c_{K−1} = a_m; an even scale has 0 in the middle.
        const u = 2 * k === K ? eta : 2 * k < K ? eta - a[cutCount - k]! : eta + a[cutCount - K + k]!;
        // The smaller of F(u) and F(−u), which does not cancel.
        const e = Math.exp(u < 0 ? u : -u);
        const share = 1 / (1 + e);
        const near = e * share;
        nextDensity = near * share;
        nextBelow = u < 0 ? near : 1 - near;
        nextAbove = u < 0 ? 1 - near : near;
      }
      const times = counts[first + k - 1]!;
      let asLower = 0;
      let asUpper = 0;
      if (times !== 0) {
        const isUpperTail = above + nextAbove < below + nextBelow;
        const p = isUpperTail ? above - nextAbove : nextBelow - below;
        const P = p > SMALLEST_P ? p : SMALLEST_P;
        logLik += times * Math.log(P);
        // f/P stays near 1 however small both are.
        const inverse = 1 / P;
        asLower = density * inverse;
        asUpper = nextDensity * inverse;
      }
      if (k > 1) {
        const own = timesBefore * ratioBefore - times * asLower;
        const curvature = (above - below) * own - timesBefore * ratioBefore * ratioBefore - times * asLower * asLower;
        const withNext = times * asLower * asUpper;
        slope[k - 1] = own;
        diagonal[k - 1] = curvature;
        beside[k - 1] = withNext;
        rowSum[k - 1] = curvature + withNext + besideBefore;
        sumOfSlopes += own;
        sumOfRows += curvature + withNext + besideBefore;
        besideBefore = withNext;
      }
      below = nextBelow;
      above = nextAbove;
      density = nextDensity;
      timesBefore = times;
      ratioBefore = asUpper;
    }
    byEta[0] = logLik;
    byEta[1] = sumOfSlopes;
    byEta[2] = sumOfRows;
    if (cutCount > 0) this.turnToCuts();
  }

  private turnToCuts(): void {
    const { K, cutCount, cutSlope, mixed, cutCurvature, slope, rowSum, diagonal, beside } = this;
    for (let j = 0; j < cutCount; j++) {
      const low = cutCount - j;
      const high = K - low;
      cutSlope[j] = slope[high]! - slope[low]!;
      mixed[j] = rowSum[high]! - rowSum[low]!;
      const meeting = high === low + 1 ? 2 * beside[low]! : 0;
      cutCurvature[j * cutCount + j] = diagonal[high]! + diagonal[low]! - meeting;
      if (j === 0) continue;
      // The bounds of a_{j−1} lie next to those of a_j, further in; those of all others do not touch them.
      const withInner = beside[low]! + beside[high - 1]!;
      cutCurvature[j * cutCount + j - 1] = withInner;
      cutCurvature[(j - 1) * cutCount + j] = withInner;
    }
  }
}
