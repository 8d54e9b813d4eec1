import { describe, expect, it } from "vitest";
import { chooseLoad } from "./stress-test.js";

let id = 0;
const control = (role: string, name: string, isDisabled = false) => ({
  role,
  name,
  isDisabled,
  nodeId: ++id,
  address: null,
});
const chosen = (...named: ReturnType<typeof control>[]) => chooseLoad(named)?.name ?? null;

describe("chooseLoad", () => {
  it("prefers a range that speaks of how much there is, then what adds, then any range", () => {
    const [speed, count] = [control("slider", "Speed"), control("spinbutton", "Number of herring")];
    const add = control("button", "Add a herring");
    expect(chosen(speed, add, count)).toBe("Number of herring");
    expect(chosen(speed, add)).toBe("Add a herring");
    expect(chosen(speed, control("button", "Start"))).toBe("Speed");
  });
  it("finds nothing where nothing sets how much there is, or it is shut", () => {
    expect(chosen(control("button", "Start"), control("textbox", "Number"))).toBeNull();
    expect(chosen(control("slider", "Number of gulls", true), control("button", "+ Gull", true))).toBeNull();
  });
});
