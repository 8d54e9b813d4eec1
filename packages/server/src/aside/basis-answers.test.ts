import { gzipSync } from "node:zlib";
import { expect, it } from "vitest";
import { BasisAnswers } from "./basis-answers.js";

const CALL = { params: { editionId: "00000000-0000-4000-8000-000000000001" }, query: { pages: "first" as const } };

it("asks for the parts that are new, and gives those that it holds as they were", async () => {
  const asked: (readonly string[])[] = [];
  const bases = [["one"], ["one", "two"], ["two"]];
  const changes = { stamp: () => Promise.resolve({ own: asked.length, told: 0 }) };
  const answers = new BasisAnswers(
    (_call, held) => {
      const names = bases[asked.length]!;
      asked.push(held);
      const parts = names.map((name) => [name, held.includes(name) ? null : gzipSync(`of ${name}`)] as const);
      return Promise.resolve({ text: names.join(), parts });
    },
    changes,
    0,
  );
  for (const names of ["one", "one,two", "two"]) expect(await (await answers.getHead(CALL)).getText()).toBe(names);
  expect(asked).toEqual([[], ["one"], ["one", "two"]]);
  expect(await answers.getPart("two").getText()).toBe("of two");
  // Whoever is fetching the parts of the basis before is not sent back.
  expect(await answers.getPart("one").getText()).toBe("of one");
  expect(() => answers.getPart("three")).toThrow("not held any more");
});
