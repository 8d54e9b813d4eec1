import { describe, expect, it } from "vitest";
import { WALL } from "../../../test-support/fixtures.js";
import { findItems, listItems } from "./find-items.js";
import { listKeys } from "./screen-keys.js";

describe("the palette", () => {
  const items = listItems(WALL);
  const labels = (typed: string, most = 20) => findItems(items, typed, most).map(({ label }) => label);

  it("has the screens before anything is typed, with and without a wall", () => {
    expect(labels("", 3)).toEqual(["Suite", "Entrants", "Runs"]);
    expect(findItems(listItems(undefined), "wall", 5).map(({ to }) => to)).toEqual(["/wall"]);
  });

  it("finds an entry by the beginnings of its prompt's and its entrant's words", () => {
    const [prompt, entrant] = [WALL.prompts[0]!.title, WALL.entrants[0]!.name];
    const typed = `${entrant.slice(0, 3)} ${prompt.slice(0, 3)}`.toLowerCase();
    expect(labels(typed)).toContain(`${prompt}, ${entrant}`);
    expect(labels("nothing-like-this")).toEqual([]);
  });

  it("puts first what begins with what was typed, and no more than are wanted", () => {
    expect(labels("ju")[0]).toMatch(/^Judge/);
    expect(labels("", 2)).toHaveLength(2);
  });
});

describe("the keys of a screen", () => {
  it("are its own first, then those that hold everywhere", () => {
    expect(listKeys("/compare").map(({ title }) => title)).toEqual(["Compare", "Everywhere"]);
    expect(listKeys("/entries/1").map(({ title }) => title)).toEqual(["Entry and score sheet", "Everywhere"]);
    expect(listKeys("/runs").map(({ title }) => title)).toEqual(["Everywhere"]);
  });
});
