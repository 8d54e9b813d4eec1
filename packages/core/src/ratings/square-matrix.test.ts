import { inverse, Matrix } from "ml-matrix";
import { describe, expect, it } from "vitest";
import { createRandom } from "../random.js";
import { factor, invertFactored, solveFactored, SquareMatrix } from "./square-matrix.js";

const random = createRandom(3);
const size = 7;
const half = Matrix.from1DArray(
  size,
  size,
  Array.from({ length: size * size }, () => random() - 0.5),
);
const positive = half.mmul(half.transpose()).add(Matrix.eye(size, size, 0.1));
const own = new SquareMatrix(size, Float64Array.from(positive.to1DArray()));

describe("a square matrix", () => {
  it("is factored, solved and inverted as by a general package", () => {
    const factored = factor(own)!;
    const expected = inverse(positive);
    invertFactored(factored).data.forEach((value, at) => expect(value).toBeCloseTo(expected.to1DArray()[at]!, 9));
    const b = Float64Array.from({ length: size }, (_, i) => i - 2);
    const x = solveFactored(factored, b);
    const back = positive.mmul(Matrix.columnVector(Array.from(x))).to1DArray();
    b.forEach((value, i) => expect(back[i]).toBeCloseTo(value, 9));
  });
  it("is not factored when it is singular, indefinite or no number", () => {
    expect(factor(new SquareMatrix(2, Float64Array.of(1, 1, 1, 1)))).toBeNull();
    expect(factor(new SquareMatrix(2, Float64Array.of(1, 2, 2, 1)))).toBeNull();
    expect(factor(new SquareMatrix(1, Float64Array.of(Number.NaN)))).toBeNull();
  });
  it("multiplies, combines, and measures in two directions", () => {
    const product = own.times(own);
    positive
      .mmul(positive)
      .to1DArray()
      .forEach((value, at) => expect(product.data[at]).toBeCloseTo(value, 9));
    expect(own.combine(2, own, -1).data).toEqual(own.data);
    const [x, y] = [new Float64Array(size), new Float64Array(size)];
    x[1] = 2;
    y[4] = 3;
    expect(own.bilinear(x, y)).toBeCloseTo(6 * own.get(1, 4), 12);
  });
});
