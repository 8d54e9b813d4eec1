import { EVERYTHING, type StandingsBasis } from "@tourney/core/contract";
import { splitBasis } from "@tourney/core/standings";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { EDITION, STANDINGS } from "../../../../test-support/fixtures.js";
import { Counter } from "./counter.js";

const ADDRESS = "/api/editions/1/standings-basis";
const PAGES = EVERYTHING.pages;
const ID = "00000000-0000-4000-8000-000000000077";

/** A basis of so many ballots of one voter, each cast a second after the one before, between two entrants of whom the first wins. */
function makeBasis(ballots: number): StandingsBasis {
  const all = <T>(value: T) => Array.from({ length: ballots }, () => value);
  return {
    edition: EDITION,
    prompts: [{ id: ID, key: "p", title: "P", kind: "game", tags: [], isVariant: false }],
    competitors: STANDINGS.rows.slice(0, 2),
    panels: [{ id: ID, title: "Friends", edition: 1, brokenRule: "pair", undeliveredRule: "lose" }],
    voters: [{ id: ID, name: "Una", panel: 0, sample: true }],
    cells: {
      ...{ prompt: [], competitor: [], pages: [], none: [], owed: [], clean: [], tried: [], costed: [] },
      ...{ costUsd: [], totalsMs: [], tokens: [], tokened: [], timedTokens: [], timedMs: [] },
    },
    ballots: {
      ...{ prompt: all(0), voter: all(0), left: all(0), right: all(1), lean: all(-1), marks: all(3) },
      at: Array.from({ length: ballots }, (_, second) => second),
    },
    ...{ pages: PAGES, otherPages: [], formerVersions: 0, setAside: 0, readAt: "2026-01-01T00:00:00.000Z" },
  };
}

/** Names of the length that names of parts have: by how many ballots are in it, and which is the first. */
const nameOf = ({ at }: { at: number[] }) => `${at[0]}_${at.length}_`.padEnd(43, "x");

let basis: StandingsBasis;
const listParts = () => [...splitBasis(basis, 2).parts].map((part) => part.list());
let asked: string[];
/** What is done before a part is answered. */
let beforePart: () => void;

beforeEach(() => {
  [basis, asked, beforePart] = [makeBasis(5), [], () => undefined];
  vi.stubGlobal("fetch", (address: string) => {
    asked.push(address);
    const answer = (body: object, status = 200) => Promise.resolve(new Response(JSON.stringify(body), { status }));
    if (!address.includes("/parts/")) {
      const { rest } = splitBasis(basis, 2);
      return answer({ ...rest, parts: listParts().map(nameOf) });
    }
    beforePart();
    const part = listParts().find((one) => address.endsWith(`/parts/${nameOf(one)}`));
    const gone = { type: "about:blank", title: "", status: 404, code: "NOT_FOUND", detail: "Gone.", remedy: "Again." };
    return part === undefined ? answer({ ...gone, requestId: "1", issues: [] }, 404) : answer(part);
  });
});
afterEach(() => vi.unstubAllGlobals());

const partsAsked = () => asked.filter((address) => address.includes("/parts/")).length;

describe("the counter", () => {
  it("reads ballots part by part, and after that only the parts that are new", async () => {
    const counter = new Counter();
    expect(await counter.load(ADDRESS, PAGES)).toMatchObject({ choices: { ballots: 5 } });
    expect(asked[0]).toBe(`${ADDRESS}?pages=${PAGES}`);
    expect(partsAsked()).toBe(3);
    basis = makeBasis(6);
    asked = [];
    expect(await counter.load(ADDRESS, PAGES)).toMatchObject({ choices: { ballots: 6 } });
    expect(partsAsked()).toBe(1);
    expect(counter.count(EVERYTHING)!.ballots).toBe(6);
  });

  it("asks for the names again where a part has changed meanwhile", async () => {
    beforePart = () => (basis = makeBasis(6));
    expect(await new Counter().load(ADDRESS, PAGES)).toMatchObject({ choices: { ballots: 6 } });
  });

  it("says so where the parts are never there, and holds what it held", async () => {
    const counter = new Counter();
    await counter.load(ADDRESS, PAGES);
    // The last part has one ballot where its name is told, and two when it is asked for.
    let ballots = 7;
    basis = makeBasis(ballots);
    beforePart = () => (basis = makeBasis((ballots += 2)));
    expect(await counter.load(ADDRESS, PAGES)).toMatchObject({ failure: { code: "NOT_FOUND", detail: "Gone." } });
    expect(counter.count(EVERYTHING)!.ballots).toBe(5);
  });

  it("fails, and holds what it held, where an answer is not what it should be", async () => {
    const counter = new Counter();
    await counter.load(ADDRESS, PAGES);
    basis = { ...makeBasis(6), voters: "all" } as unknown as StandingsBasis;
    expect(await counter.load(ADDRESS, PAGES)).toMatchObject({ failure: null });
    expect(counter.count(EVERYTHING)!.ballots).toBe(5);
  });

  it("says nothing of its own where the server is away", async () => {
    vi.stubGlobal("fetch", () => Promise.reject(new TypeError("away")));
    expect(await new Counter().load(ADDRESS, PAGES)).toMatchObject({ failure: null });
  });
});
