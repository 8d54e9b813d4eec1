/**
 * A square matrix of numbers, row by row. Factoring and inverting are written out here because the general packages take ten to
 * fifty times as long for the hundred or so parameters of a fit, which is most of a fit's time.
 */
export class SquareMatrix {
  constructor(
    readonly size: number,
    readonly data: Float64Array = new Float64Array(size * size),
  ) {}

  get(i: number, j: number): number {
    return this.data[i * this.size + j]!;
  }

  add(i: number, j: number, value: number): void {
    this.data[i * this.size + j]! += value;
  }

  clone(): SquareMatrix {
    return new SquareMatrix(this.size, this.data.slice());
  }

  /** This matrix times another of the same size. */
  times(other: SquareMatrix): SquareMatrix {
    const { size, data } = this;
    const product = new SquareMatrix(size);
    for (let i = 0; i < size; i++) {
      const row = product.data.subarray(i * size, (i + 1) * size);
      for (let k = 0; k < size; k++) {
        const factor = data[i * size + k]!;
        if (factor === 0) continue;
        const from = k * size;
        for (let j = 0; j < size; j++) row[j]! += factor * other.data[from + j]!;
      }
    }
    return product;
  }

  /** a·this + b·other. */
  combine(a: number, other: SquareMatrix, b: number): SquareMatrix {
    return new SquareMatrix(
      this.size,
      this.data.map((value, at) => a * value + b * other.data[at]!),
    );
  }

  /** x'·this·y. */
  bilinear(x: Float64Array, y: Float64Array): number {
    let sum = 0;
    for (let i = 0; i < this.size; i++) {
      if (x[i] === 0) continue;
      let inner = 0;
      for (let j = 0; j < this.size; j++) inner += this.data[i * this.size + j]! * y[j]!;
      sum += x[i]! * inner;
    }
    return sum;
  }
}

/**
 * The lower factor L of a symmetric positive definite matrix, A = L·L' (Cholesky 1910, published 1924), or null when it is
 * not positive definite to working precision.
 */
export function factor({ size, data }: SquareMatrix): SquareMatrix | null {
  const lower = new SquareMatrix(size);
  const l = lower.data;
  for (let i = 0; i < size; i++) {
    const rowI = i * size;
    for (let j = 0; j <= i; j++) {
      const rowJ = j * size;
      let sum = data[rowI + j]!;
      for (let k = 0; k < j; k++) sum -= l[rowI + k]! * l[rowJ + k]!;
      l[rowI + j] = i === j ? Math.sqrt(sum) : sum / l[rowJ + j]!;
    }
    // A pivot that is no number, or nothing but rounding.
    if (!(l[rowI + i]! > 1e-7 * Math.sqrt(Math.abs(data[rowI + i]!)))) return null;
  }
  return lower;
}

/** Solves L·L'·x = b. */
export function solveFactored({ size, data: l }: SquareMatrix, b: Float64Array): Float64Array {
  const x = b.slice();
  for (let i = 0; i < size; i++) {
    let sum = x[i]!;
    for (let k = 0; k < i; k++) sum -= l[i * size + k]! * x[k]!;
    x[i] = sum / l[i * size + i]!;
  }
  for (let i = size - 1; i >= 0; i--) {
    let sum = x[i]!;
    for (let k = i + 1; k < size; k++) sum -= l[k * size + i]! * x[k]!;
    x[i] = sum / l[i * size + i]!;
  }
  return x;
}

/** The inverse of L·L', symmetric to the last bit. */
export function invertFactored(lower: SquareMatrix): SquareMatrix {
  const { size } = lower;
  const inverse = new SquareMatrix(size);
  const unit = new Float64Array(size);
  for (let j = 0; j < size; j++) {
    unit.fill(0);
    unit[j] = 1;
    const column = solveFactored(lower, unit);
    for (let i = j; i < size; i++) {
      inverse.data[i * size + j] = column[i]!;
      inverse.data[j * size + i] = column[i]!;
    }
  }
  return inverse;
}
