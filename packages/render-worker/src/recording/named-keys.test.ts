import { describe, expect, it } from "vitest";
import { findNamedKeys } from "./named-keys.js";

describe("the keys that a page's text names", () => {
  it("are those it compares with, by name, place or number", () => {
    expect(
      findNamedKeys([`if (e.key === "ArrowLeft") go(); if (e.code == 'KeyW') up(); if (e.key === ' ') fire()`]),
    ).toEqual(["Space", "ArrowLeft", "w"]);
    expect(findNamedKeys(["switch (event.keyCode) { case 37: left(); break; case 82: again() }"])).toEqual([
      "ArrowLeft",
      "r",
    ]);
    expect(
      findNamedKeys([`const keys = { ArrowUp: 1 }; keys["ArrowUp"]; switch (e.key) { case "p": pause() }`]),
    ).toEqual(["ArrowUp", "p"]);
  });
  it("are not any letters and numbers that stand in it", () => {
    expect(findNamedKeys([`const name = "a"; if (x === 37) y(); list["b"] = 40`])).toEqual([]);
  });
});
