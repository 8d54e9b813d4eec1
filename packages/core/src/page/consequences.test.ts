import { describe, expect, it } from "vitest";
import { tellConsequences } from "./consequences.js";
import type { Found } from "./observed.js";

const exception = (message: string): Found => ({
  rule: "exception",
  severity: "error",
  message,
  atMs: 5,
  evidence: "",
});
const blank: Found = { rule: "blank", severity: "error", message: "Blank for 6 s", atMs: 0, evidence: "" };
const library = { url: "https://cdn.example/knots.js", type: "Script", library: "knots 3.1" };
const host = { url: "https://data.example/boats.json", type: "Fetch", library: null };

describe("what follows from something missing", () => {
  it("is a note and names its cause: exceptions that want it, and what then does not show", () => {
    const told = tellConsequences([exception("ReferenceError: Knots is not defined"), blank], { blocked: [library] });
    expect(told.map(({ severity, followsFrom }) => [severity, followsFrom])).toEqual([
      ["note", "knots 3.1 is not on the shelf"],
      ["note", "knots 3.1 is not on the shelf"],
    ]);
  });
  it.each([
    "TypeError: Cannot read properties of undefined (reading 'Scene')",
    "TypeError: Knots.tie is not a function",
    'TypeError: Failed to resolve module specifier "three". Relative references must start with',
  ])("is %s", (message) => {
    expect(tellConsequences([exception(message)], { blocked: [library] })[0]!.severity).toBe("note");
  });
  it("is an answer that did not come from a host outside", () => {
    const told = tellConsequences([exception("TypeError: Failed to fetch")], { blocked: [host] });
    expect(told[0]!.followsFrom).toBe("data.example is not reached");
  });
  it("is not what the page does wrong by itself", () => {
    const own = exception("RangeError: Maximum call stack size exceeded");
    expect(tellConsequences([own, blank], { blocked: [library] }).map(({ followsFrom }) => followsFrom)).toEqual([
      null,
      null,
    ]);
    expect(tellConsequences([exception("ReferenceError: x is not defined"), blank], { blocked: [] })[1]!.severity).toBe(
      "error",
    );
    expect(tellConsequences([blank], { blocked: [host] })[0]!.severity).toBe("error");
  });
});
