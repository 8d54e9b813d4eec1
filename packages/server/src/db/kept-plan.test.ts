import { expect, it } from "vitest";
import { type Connection, keepPlan, nameKeptPlans } from "./kept-plan.js";

const listen = () => {
  const sent: unknown[][] = [];
  const connection: Connection = {
    query: (...given) => {
      sent.push(given);
      return "answer";
    },
  };
  nameKeptPlans(connection);
  return { sent, connection };
};

it("names what is to be prepared, by its text, and passes on what is bound", () => {
  const { sent, connection } = listen();
  const [one, other] = [keepPlan(" SELECT $1::int "), keepPlan("SELECT $1::text")];
  const done = () => undefined;
  expect(connection.query(one, [1], done)).toBe("answer");
  connection.query(one, [2], done);
  connection.query(other, ["a"], done);
  const [first, second, third] = sent as [{ name: string; text: string }, unknown[], unknown][];
  expect(first![0].text).toBe(one);
  expect(first![0].name).toMatch(/^.{1,63}$/);
  expect(first!.slice(1)).toEqual([[1], done]);
  expect(second![0].name).toBe(first![0].name);
  expect(second![1]).toEqual([2]);
  expect(third![0].name).not.toBe(first![0].name);
});

it("leaves all others as they are", () => {
  const { sent, connection } = listen();
  const given = [["SELECT 1"], ["SELECT $1::int", [1]], [{ text: keepPlan("SELECT 1") }], ["BEGIN; /* kept plan */ "]];
  for (const [statement, ...rest] of given) connection.query(statement, ...rest);
  expect(sent).toEqual(given);
});
