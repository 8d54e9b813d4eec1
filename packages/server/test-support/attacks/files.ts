import { gzipSync } from "node:zlib";
import { ZipFile } from "yazl";
import { buffer } from "node:stream/consumers";
import { HOSTILE_SHAPES } from "../../../core/test-support/hostile-text.js";
import { ask, type Attack, type Target } from "./target.js";

let take = 0;

/** Answers of shapes that are bad for readers: each becomes an entry, or is refused in words. */
export function attackByAnswers(
  { origin, lead, editionId, promptKey, entrantKey }: Target,
  length: number,
  most = Infinity,
): Attack[] {
  const step = Math.max(1, Math.floor(HOSTILE_SHAPES.length / most));
  return HOSTILE_SHAPES.filter((_, index) => index % step === 0).map(({ name, make }) => ({
    name: `an answer of ${length} characters: ${name}`,
    run: async () => {
      const body = JSON.stringify({ promptKey, entrantKey, take: (take++ % 100) + 1, text: make(length) });
      const { status, text } = await ask(origin, `/api/editions/${editionId}/answers`, {
        method: "POST",
        headers: lead,
        body,
      });
      // The takes there are have an answer already: that it is not overwritten is right.
      return status < 300 || status === 409 ? null : `answered ${status}: ${text.slice(0, 200)}`;
    },
  }));
}

/** The same body under many names: a few kilobytes that could be unpacked to any size. */
export function shareBody(zip: Buffer, times: number, letters = "thrift-00"): Buffer {
  const end = zip.lastIndexOf(Buffer.from("PK\x05\x06", "latin1"));
  const [size, start] = [zip.readUInt32LE(end + 12), zip.readUInt32LE(end + 16)];
  const record = zip.subarray(start, start + size);
  const name = record.indexOf(letters);
  const records = Array.from({ length: times }, (_, index) => {
    const copy = Buffer.from(record);
    copy.write(`thrift-${index.toString(36).padStart(2, "0")}`, name, "latin1");
    return copy;
  });
  const tail = Buffer.from(zip.subarray(end));
  tail.writeUInt16LE(times, 8);
  tail.writeUInt16LE(times, 10);
  tail.writeUInt32LE(size * times, 12);
  return Buffer.concat([zip.subarray(0, start), ...records, tail]);
}

export function zipOf(files: Record<string, string>): Promise<Buffer> {
  const zip = new ZipFile();
  for (const [name, text] of Object.entries(files)) zip.addBuffer(Buffer.from(text), name);
  zip.end();
  return buffer(zip.outputStream);
}

/** Whoever sends a file of a hundred thousand faults is not told each. */
const LONGEST_REFUSAL = 100_000;
const MANY = 100_000;
const manyKeys = () => `format: tourney-suite/1\n${Array.from({ length: MANY / 4 }, (_, i) => `k${i}: 1`).join("\n")}`;
const bomb = () =>
  [
    "a: &a [x,x,x,x,x,x,x,x]",
    ...Array.from(
      { length: 12 },
      (_, i) =>
        `b${i}: &b${i} [${Array(8)
          .fill(`*${i === 0 ? "a" : `b${i - 1}`}`)
          .join()}]`,
    ),
  ].join("\n");

/** Files of suites, entrants and answers that are made to stop whoever reads them: each is refused in words. */
export function attackByFiles({ origin, lead, editionId }: Target): Attack[] {
  const refusesYaml = (what: string, make: () => string): Attack => ({
    name: `a suite file of ${what}`,
    run: async () => {
      const { status } = await ask(origin, "/api/suites/import", {
        method: "POST",
        headers: lead,
        body: JSON.stringify({ yaml: make() }),
      });
      return status >= 400 && status < 500 ? null : `answered ${status}`;
    },
  });
  const putFile = (name: string, body: Buffer) =>
    ask(origin, `/api/editions/${editionId}/answers/${name}`, { method: "PUT", headers: lead, body });
  const refusesFile = (what: string, name: string, make: () => Buffer | Promise<Buffer>): Attack => ({
    name: `a file of answers: ${what}`,
    run: async () => {
      const { status, text } = await putFile(name, await make());
      const took = status < 300 && (JSON.parse(text) as { taken: unknown[] }).taken.length > 0;
      if (text.length > LONGEST_REFUSAL) return `answered with ${text.length} characters`;
      return status < 500 && !took ? null : `answered ${status}${took ? " and took it" : ""}`;
    },
  });
  return [
    refusesYaml("many keys", manyKeys),
    refusesYaml("aliases of aliases", bomb),
    refusesYaml("lists in one another", () => "[".repeat(20_000)),
    refusesYaml("maps in one another", () => "{a: ".repeat(20_000)),
    refusesYaml("one long line", () => `a: "${"x".repeat(900_000)}`),
    refusesYaml("tags that no one knows", () => "!!js/function 'x'"),
    refusesFile("bodies that lie over one another", "a.zip", async () =>
      shareBody(await zipOf({ "sweep/thrift-00.md": "a".repeat(50_000) }), 250),
    ),
    refusesFile("packed to nothing", "a.zip", () => zipOf({ "sweep/thrift-2.md": "a".repeat(3_900_000) })),
    refusesFile("names that lead elsewhere", "a.zip", async () => {
      const zip = await zipOf({ "aaaaaaaaaaaaaa.md": "x" });
      return Buffer.from(zip.toString("latin1").replaceAll("aaaaaaaaaaaaaa", "../../../etc/a"), "latin1");
    }),
    refusesFile("half of a zip", "a.zip", async () => (await zipOf({ "sweep/thrift-2.md": "x" })).subarray(0, 40)),
    refusesFile("many that are none", "a.jsonl", () => Buffer.from("{\n".repeat(MANY))),
    refusesFile("one long line", "a.jsonl", () => Buffer.from(`{"prompt":"${"x".repeat(20_000_000)}"}`)),
    refusesFile("lists in one another", "a.jsonl", () => Buffer.from("[".repeat(5_000_000))),
    {
      name: "a body that is packed",
      run: async () => {
        const body = gzipSync(JSON.stringify({ yaml: "a: 1" }));
        const headers = { ...lead, "Content-Encoding": "gzip" };
        const { status } = await ask(origin, "/api/suites/import", { method: "POST", headers, body });
        return status === 400 ? null : `answered ${status}`;
      },
    },
  ];
}
