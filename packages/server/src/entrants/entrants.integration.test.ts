import { EntrantInput } from "@tourney/core/contract";
import { describe, expect, it } from "vitest";
import { sendStream } from "../../test-support/fake-endpoint.js";
import { ANSWER, byHand, entrantInput } from "../../test-support/scenario.js";
import { withRuns } from "../../test-support/with-runs.js";
import { InvalidInput } from "../http/invalid-input.js";

const { enter, finish, server, start } = withRuns();
const entrants = () => server().services.entrants;
const URL = "http://127.0.0.1:9/v1";

const fileOf = (...rows: string[]) =>
  `format: tourney-entrants/1\nentrants:\n${rows.map((row) => `  - ${row}\n`).join("")}`;
const row = (key: string, more = "") =>
  `{ key: ${key}, name: Name of ${key}, model: m, endpoint: { protocol: chat-completions, baseUrl: "${URL}" }${more} }`;

describe("an entrant's line", () => {
  it("leads to its predecessors, which must be there and have a beginning", async () => {
    await entrants().add(entrantInput("old", URL));
    const next = await entrants().add(entrantInput("new", URL, { predecessor: "old" }));
    expect(next.predecessor).toBe("old");
    await expect(entrants().add(entrantInput("lone", URL, { predecessor: "nobody" }))).rejects.toThrow(
      'There is no entrant "nobody" to be a predecessor.',
    );
    const old = (await entrants().list()).find(({ key }) => key === "old")!;
    await expect(entrants().replace(old.id, entrantInput("old", URL, { predecessor: "new" }))).rejects.toThrow(
      "old would succeed itself",
    );
  });
});

describe("a file of entrants", () => {
  it("is taken whole or not at all", async () => {
    const before = (await entrants().list()).length;
    await expect(entrants().importEntrants(fileOf(row("fen"), row("moor", ", predecessor: nobody")))).rejects.toThrow(
      "nobody",
    );
    expect(await entrants().list()).toHaveLength(before);
    const first = await entrants().importEntrants(fileOf(row("fen"), row("moor", ", predecessor: fen")));
    expect(first).toMatchObject({ created: 2, changed: 0, unchanged: 0 });
    expect(first.entrants.map(({ key }) => key)).toEqual(["fen", "moor"]);
    const second = await entrants().importEntrants(
      fileOf(row("fen", ", settings: { temperature: 0.2 }"), row("moor", ", predecessor: fen")),
    );
    expect(second).toMatchObject({ created: 0, changed: 1, unchanged: 1 });
  });

  it("is told where it is wrong, each thing with its line and in words", async () => {
    const wrong = fileOf(
      row("marsh", ", prices: { input: cheap, output: 2 }"),
      row("marsh", ", settings: { temprature: 1 }"),
    );
    const error: unknown = await entrants()
      .importEntrants(wrong)
      .catch((thrown: unknown) => thrown);
    expect(error).toBeInstanceOf(InvalidInput);
    expect((error as InvalidInput).issues).toEqual([
      { path: "line 3, entrants.0.prices.input", message: "must be a number, and is text" },
      {
        path: "line 4, entrants.1.settings",
        message: 'has no "temprature": check the spelling, or take it out',
      },
    ]);
  });

  it("keeps prices by date and in another currency", async () => {
    const prices =
      ', prices: [{ input: 1, output: 2, currency: EUR, usdRate: 1.1, validUntil: "2026-05-31" }, { input: 3, output: 4, validFrom: "2026-06-01" }]';
    const { entrants: taken } = await entrants().importEntrants(fileOf(row("heron", prices)));
    expect(taken[0]!.prices).toMatchObject([
      { input: 1, currency: "EUR", usdRate: 1.1 },
      { input: 3, currency: "USD" },
    ]);
  });
});

describe("what an entrant has answered", () => {
  it("keeps it from being removed; retired, it takes part in no further run and can come back", async () => {
    const { entrantId } = await enter((response) => sendStream(response, ANSWER));
    await finish((await start(entrantId)).id);
    await expect(entrants().remove(entrantId)).rejects.toThrow("has 1 generations and cannot be removed");
    expect((await entrants().setRetired(entrantId, true)).retiredAt).not.toBeNull();
    await expect(start(entrantId, {}, 2)).rejects.toThrow("There is nothing to run.");
    await entrants().setRetired(entrantId, false);
    expect((await finish((await start(entrantId, {}, 2)).id)).counts.answered).toBe(1);
  });

  it("keeps the version it was made with, also when the endpoint changes", async () => {
    const { entrantId } = await enter((response) => sendStream(response, ANSWER));
    await finish((await start(entrantId)).id);
    const now = (await entrants().list()).find(({ id }) => id === entrantId)!;
    const input = (more: object) =>
      EntrantInput.parse({
        key: now.key,
        name: now.name,
        endpoint: now.endpoint,
        model: now.model,
        prices: now.prices,
        ...more,
      });
    expect((await entrants().replace(entrantId, input({ name: `${now.name}, renamed` }))).version).toBe(1);
    expect((await entrants().replace(entrantId, input({ model: "another-model" }))).version).toBe(2);
    const versions = await entrants().listVersions(entrantId);
    expect(versions.map(({ number, content }) => [number, content.model])).toEqual([
      [1, "the-model"],
      [2, "another-model"],
    ]);
  });

  it("may be nothing: then it is removed without a trace", async () => {
    const { id } = await entrants().add(byHand("heather"));
    await entrants().remove(id);
    expect((await entrants().list()).some((entrant) => entrant.id === id)).toBe(false);
    await expect(entrants().getRow(id)).rejects.toThrow("There is no entrant");
  });
});
