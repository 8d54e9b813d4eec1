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
    const into = product.data;
    const from = other.data;
    const inFours = size - (size % 4);
    for (let i = 0; i < size; i++) {
      const row = i * size;
      // Four rows at a time, so that each sum is loaded and stored a quarter as often.
      for (let k = 0; k < inFours; k += 4) {
        const start = k * size;
        const a = data[row + k]!;
        const b = data[row + k + 1]!;
        const c = data[row + k + 2]!;
        const d = data[row + k + 3]!;
        for (let j = 0; j < size; j++) {
          const at = start + j;
          into[row + j]! += a * from[at]! + b * from[at + size]! + c * from[at + 2 * size]! + d * from[at + 3 * size]!;
        }
      }
      for (let k = inFours; k < size; k++) {
        const factor = data[row + k]!;
        for (let j = 0; j < size; j++) into[row + j]! += factor * from[k * size + j]!;
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

  /** Adds to each entry the one that lies mirrored to it, in place: A + A'. */
  addTransposed(): void {
    const { size, data } = this;
    for (let i = 0; i < size; i++) {
      for (let j = 0; j <= i; j++) {
        const both = data[i * size + j]! + data[j * size + i]!;
        data[i * size + j] = both;
        data[j * size + i] = both;
      }
    }
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
 * The upper factor U of a symmetric positive definite matrix, A = U'·U (Cholesky 1910, published 1924), or null when it is
 * not positive definite to working precision. Every inner loop here and below goes along rows, as the numbers lie.
 */
export function factor({ size, data }: SquareMatrix): SquareMatrix | null {
  const upper = new SquareMatrix(size, data.slice());
  const u = upper.data;
  for (let k = 0; k < size; k++) {
    const rowK = k * size;
    const pivot = Math.sqrt(u[rowK + k]!);
    // A pivot that is no number, or nothing but rounding.
    if (!(pivot > 1e-7 * Math.sqrt(Math.abs(data[rowK + k]!)))) return null;
    for (let j = k; j < size; j++) u[rowK + j]! /= pivot;
    for (let i = k + 1; i < size; i++) {
      const rowI = i * size;
      const share = u[rowK + i]!;
      u[rowI + k] = 0;
      for (let j = i; j < size; j++) u[rowI + j]! -= share * u[rowK + j]!;
    }
  }
  return upper;
}

/** Solves U'·U·x = b. */
export function solveFactored({ size, data: u }: SquareMatrix, b: Float64Array): Float64Array {
  const x = b.slice();
  for (let k = 0; k < size; k++) {
    const own = x[k]! / u[k * size + k]!;
    x[k] = own;
    for (let i = k + 1; i < size; i++) x[i]! -= own * u[k * size + i]!;
  }
  for (let i = size - 1; i >= 0; i--) {
    let sum = x[i]!;
    for (let k = i + 1; k < size; k++) sum -= u[i * size + k]! * x[k]!;
    x[i] = sum / u[i * size + i]!;
  }
  return x;
}

/** The inverse of U'·U, symmetric to the last bit: U⁻¹·(U⁻¹)', of whose rows only what is right of the diagonal is not 0. */
export function invertFactored({ size, data: u }: SquareMatrix): SquareMatrix {
  const w = new Float64Array(size * size);
  for (let i = 0; i < size; i++) {
    const rowI = i * size;
    w[rowI + i] = 1;
    for (let k = i; k < size; k++) {
      const own = w[rowI + k]! / u[k * size + k]!;
      w[rowI + k] = own;
      for (let j = k + 1; j < size; j++) w[rowI + j]! -= own * u[k * size + j]!;
    }
  }
  const inverse = new SquareMatrix(size);
  for (let i = 0; i < size; i++) {
    for (let j = 0; j <= i; j++) {
      let sum = 0;
      for (let k = i; k < size; k++) sum += w[i * size + k]! * w[j * size + k]!;
      inverse.data[i * size + j] = sum;
      inverse.data[j * size + i] = sum;
    }
  }
  return inverse;
}
