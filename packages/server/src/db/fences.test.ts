import { readdirSync, readFileSync } from "node:fs";
import { join, relative } from "node:path";
import { describe, expect, it } from "vitest";

const SOURCE = join(import.meta.dirname, "..");
const files = readdirSync(SOURCE, { recursive: true, encoding: "utf8" })
  .filter((path) => path.endsWith(".ts") && !path.endsWith(".test.ts") && !path.includes("migrations"))
  .map((path) => ({ path: relative(SOURCE, join(SOURCE, path)), text: readFileSync(join(SOURCE, path), "utf8") }));
const having = (pattern: RegExp) => files.filter(({ text }) => pattern.test(text)).map(({ path }) => path);

describe("the fences round the database", () => {
  it("let one pair of modules write the state of a generation", () => {
    expect(
      having(/UPDATE generations\b(?:(?!WHERE)[^`])*\bSET\b(?:(?!WHERE)[^`])*\bstate\s*=|INSERT INTO generations/),
    ).toEqual(["generations/generation-states.sql.ts"]);
    // Through the model, the state is written where its events are.
    expect(having(/Generation\.(?:create|bulkCreate|upsert)\(/)).toEqual([
      "generations/generation-states-repository.ts",
    ]);
    for (const { path, text } of files.filter((file) => file.path !== "generations/generation-states-repository.ts"))
      for (const [update] of text.matchAll(/Generation\.update\([^;]*;/g))
        expect(`${path}: ${update}`).not.toMatch(/\bstate:[^}]*\},?\s*\{\s*where/);
  });

  it("let nothing reach the database but through what makes it storable", () => {
    expect(having(/\.query\(/)).toEqual(["db/connection.ts", "db/migrate.ts", "feed/listener.ts"]);
    expect(having(/new pg\.Pool|new Pool\(/)).toEqual(["jobs/pool.ts"]);
  });

  it("give JSON to the database by one function", () => {
    const writers = files.filter(({ path }) => /repository\.ts$|\.sql\.ts$|^jobs\//.test(path));
    expect(writers.length).toBeGreaterThan(15);
    expect(writers.filter(({ text }) => text.includes("JSON.stringify")).map(({ path }) => path)).toEqual([]);
  });

  it("keep SQL beside repositories, in files of its own", () => {
    const statement = /`\s*(?:WITH\b[^`]*\bAS \(|SELECT\b|INSERT INTO\b|UPDATE\b[^`]*\bSET\b|DELETE FROM\b)/;
    expect(having(statement).filter((path) => !path.endsWith(".sql.ts") && !path.startsWith("db/"))).toEqual([
      // One line each, with everything that makes them up in the file beside.
      "voting/audit-repository.ts",
    ]);
  });
});
