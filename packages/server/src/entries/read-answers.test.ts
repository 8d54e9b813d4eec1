import { describe, expect, it } from "vitest";
import { ZipFile } from "yazl";
import { readAnswersFile } from "./read-answers.js";

function zipOf(files: Record<string, string>): Promise<Buffer> {
  const zip = new ZipFile();
  for (const [name, text] of Object.entries(files)) zip.addBuffer(Buffer.from(text), name);
  zip.end();
  return new Promise((resolve) => {
    const chunks: Buffer[] = [];
    zip.outputStream.on("data", (chunk: Buffer) => chunks.push(chunk));
    zip.outputStream.on("end", () => resolve(Buffer.concat(chunks)));
  });
}

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
