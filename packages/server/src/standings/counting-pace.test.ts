import { expect, it } from "vitest";
import { restOfCount } from "./counting-pace.js";

const rest = (ballots: number, cpuMs: number) => restOfCount({ counted: { ballots }, cpuMs });

it("few ballots are counted whenever somebody asks, however slow the machine is", () => {
  expect(rest(9999, 5000)).toBe(0);
});

it("many rest in proportion to what counting them took of the processor, but not for longer than pages may wait", () => {
  expect(rest(200_000, 100)).toBe(1400);
  expect(rest(2_000_000, 400)).toBe(5600);
  expect(rest(20_000_000, 4000)).toBe(8000);
});
