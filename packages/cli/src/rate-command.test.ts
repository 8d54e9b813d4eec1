import { mkdtempSync, rmSync, truncateSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { rate } from "./rate-command.js";

let dir: string;
let printed: string[];
let warned: string[];
beforeEach(() => {
  dir = mkdtempSync(join(tmpdir(), "tourney-rate-"));
  [printed, warned] = [[], []];
  vi.spyOn(console, "log").mockImplementation((line: string) => void printed.push(line));
  vi.spyOn(console, "error").mockImplementation((line: string) => void warned.push(line));
});
afterEach(() => {
  vi.restoreAllMocks();
  rmSync(dir, { recursive: true, force: true });
});
const put = (name: string, text: string) => {
  writeFileSync(join(dir, name), text);
  return join(dir, name);
};
const HEAD = "voter,prompt,kind,left,right,lean,left_works,right_works,at\n";

describe("tourney rate", () => {
  it("prints what a JSON file comes to, and warns on the error output", async () => {
    const file = {
      type: "elo",
      input: { entrants: ["Avens", "Bugle"], K: 5, sequence: [[0, 1, 1]] },
      options: { kFactor: 20, k: 1 },
    };
    await rate(put("elo.input", JSON.stringify(file)), { json: true });
    expect(JSON.parse(printed.join(""))).toEqual({ final: [1510, 1490], history: [[1510, 1490]] });
    expect(warned).toEqual(["The option k is not known to elo and was ignored."]);
  });

  it("prints the standings of a table, quotes and a byte order mark taken as such", async () => {
    const lines = ["una", "max"].flatMap((voter) =>
      ["p1", "p2"].map((p) => `${voter},${p},game,"Avens, Large",Bugle,-2,true,false,2026-01-01`),
    );
    const path = put("ballots.csv", `\uFEFF${HEAD}${lines.join("\r\n")}\n`);
    await rate(path, {});
    expect(printed.find((line) => line.includes("Avens, Large"))).toMatch(
      /^1–2 {3}Avens, Large +1[5-9]\d\d +± \d+ +tied +4 +100 %$/,
    );
    expect(printed.join("\n")).toContain("4 ballots, 2 voters, 2 prompts.");
    printed.length = 0;
    await rate(path, { json: true });
    expect(JSON.parse(printed[0]!)).toMatchObject({
      ballots: 4,
      standings: [{ entrant: "Avens, Large" }, { entrant: "Bugle", worksShare: 0 }],
    });
  });

  it("reads tables that spreadsheets separate by semicolons or tabs", async () => {
    const lines = ["una", "max"].flatMap((voter) => ["p1", "p2"].map((p) => `${voter},${p},game,A "x",B,-2,1,1,`));
    for (const [name, delimiter] of [
      ["semicolons", ";"],
      ["tabs", "\t"],
    ] as const) {
      printed.length = 0;
      await rate(
        put(`${name}.csv`, `${HEAD}${lines.join("\n")}\n`.replaceAll(",", delimiter).replaceAll('A "x"', "A")),
        {},
      );
      expect(printed.join("\n")).toContain("4 ballots, 2 voters, 2 prompts.");
    }
  });

  it("prints groups that never met apart, and says that they cannot be compared", async () => {
    const rows = ["una", "max"].flatMap((voter) =>
      ["p1", "p2"].flatMap((p) => [`${voter},${p},game,A,B,-2,1,1,`, `${voter},${p},game,C,D,1,1,1,`]),
    );
    await rate(put("groups.csv", `${HEAD}${rows.join("\n")}\n`), {});
    const text = printed.join("\n");
    expect(text).toContain("2 groups of entrants that never met");
    expect(text.split("Entrant").length - 1).toBe(2);
  });

  it("tells every line that is wrong, and where a file is no UTF-8", async () => {
    const wrong = `${HEAD}u,p,game,A,B,9,1,1,\nu,p,game,A,B,1,1,1,\nu,p,game,A,A,1,1,1,\n`;
    await expect(rate(put("wrong.csv", wrong), {})).rejects.toThrow(/2 lines[\s\S]*Line 2[\s\S]*Line 4/);
    const path = put("latin.csv", "");
    writeFileSync(path, Buffer.from(`${HEAD}Zo\xeb,p,game,A,B,1,1,1,\n`, "latin1"));
    await expect(rate(path, {})).rejects.toThrow(/not UTF-8 text: line 2, after “Zo”, has byte 0xEB/);
  });

  it("does not let a name steer the terminal", async () => {
    await rate(put("b.csv", `${HEAD}una,p1,game,\u001b[2JAvens,Bugle,0,1,1,\n`), {});
    expect(printed.join("\n")).not.toContain("\u001b");
  });

  it("explains files that are not there, empty, too large or not right, and prints nothing", async () => {
    await expect(rate(join(dir, "none.csv"), {})).rejects.toThrow("cannot be read");
    await expect(rate(dir, {})).rejects.toThrow("cannot be read");
    await expect(rate(put("empty.csv", ""), {})).rejects.toThrow("is empty");
    await expect(rate(put("head.csv", HEAD), {})).rejects.toThrow("has no ballots");
    await expect(rate(put("kind.csv", `${HEAD}u,p,game,A,B,0,1,1,\n`), { kind: "app" })).rejects.toThrow(
      "no ballots of the kind “app”",
    );
    await expect(rate(put("other.csv", "a,b\n1,2\n"), {})).rejects.toThrow("has no column");
    await expect(rate(put("quote.csv", `${HEAD}u,p,game,"A,B,0,1,1,\n`), {})).rejects.toThrow("is not a table");
    await expect(rate(put("nan.json", '{"type":"fit","input":{"n":NaN}}'), {})).rejects.toThrow("is not JSON");
    const large = put("large.csv", HEAD);
    truncateSync(large, 2_000_000_000);
    await expect(rate(large, {})).rejects.toThrow("has 2000 MB");
    expect(printed).toEqual([]);
  });
});
