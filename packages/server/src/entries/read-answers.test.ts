import { describe, expect, it } from "vitest";
import { shareBody, zipOf } from "../../test-support/attacks/index.js";
import { readAnswersFile } from "./read-answers.js";
import { tellFirst } from "./tell-first.js";

describe("answers in a zip file", () => {
  it("are found by folder and name, with their take; what is no answer is said", async () => {
    const bytes = await zipOf({
      "set/sweep/marram-large.md": "one",
      "set/sweep/marram-large.2.html": "two",
      "readme.md": "x",
      "set/sweep/notes.pdf": "y",
    });
    const { answers, refused } = await readAnswersFile(bytes, "set.zip");
    expect(answers.map(({ promptKey, entrantKey, take, text }) => [promptKey, entrantKey, take, text])).toEqual([
      ["sweep", "marram-large", null, "one"],
      ["sweep", "marram-large", 2, "two"],
    ]);
    expect(refused.map(({ source }) => source)).toEqual(["readme.md", "set/sweep/notes.pdf"]);
  });

  it("are not unpacked where its files share one body", async () => {
    const one = await zipOf({ "sweep/thrift-00.md": "a".repeat(50_000) });
    const shared = shareBody(one, 250);
    expect(shared.length).toBeLessThan(40_000);
    await expect(readAnswersFile(shared, "shared.zip")).rejects.toMatchObject({
      code: "INVALID_FILE",
      reason: expect.stringContaining("lie over one another") as unknown,
    });
    // The same directory once is read.
    expect((await readAnswersFile(shareBody(one, 1), "one.zip")).answers).toHaveLength(1);
  });

  it("that are packed as no answer is are refused, and the others taken", async () => {
    const bytes = await zipOf({ "sweep/thrift-2.md": "a".repeat(3_000_000), "sweep/marram-large.md": "one" });
    const { answers, refused } = await readAnswersFile(bytes, "set.zip");
    expect(answers.map(({ text }) => text)).toEqual(["one"]);
    expect(refused).toMatchObject([{ source: "sweep/thrift-2.md", why: expect.stringContaining("200th") as unknown }]);
  });

  it("that is none gets a clear error", async () => {
    await expect(readAnswersFile(Buffer.from("no zip"), "a.zip")).rejects.toMatchObject({ code: "INVALID_FILE" });
  });
});

describe("answers in a JSONL file", () => {
  it("are one a line; a bad line leaves the rest standing", async () => {
    const text = [
      '{"prompt": "sweep", "entrant": "thrift-2", "text": "a"}',
      "not json",
      '{"prompt": "sweep"}',
      "",
      '{"promptKey": "bowline", "entrantKey": "thrift-2", "take": 3, "answer": "b"}',
      '{"prompt": "x", "entrant": "y", "take": 0, "text": "z"}',
    ].join("\n");
    const { answers, refused } = await readAnswersFile(Buffer.from(text), "a.jsonl");
    expect(answers.map(({ source, promptKey, take }) => [source, promptKey, take])).toEqual([
      ["a.jsonl, line 1", "sweep", null],
      ["a.jsonl, line 5", "bowline", 3],
    ]);
    expect(refused.map(({ source }) => source)).toEqual(["a.jsonl, line 2", "a.jsonl, line 3", "a.jsonl, line 6"]);
  });
});

describe("lines that are no answers", () => {
  it("are told one by one as long as somebody would read them, and then counted", async () => {
    const { refused } = await readAnswersFile(Buffer.from("{\n".repeat(1000)), "a.jsonl");
    expect(refused).toHaveLength(1000);
    const told = tellFirst(refused);
    expect([told.length, told[199]!.source, told[200]!.source]).toEqual([201, "a.jsonl, line 200", "800 more"]);
    expect(tellFirst(refused.slice(0, 200))).toHaveLength(200);
  });
});
