import { describe, expect, it } from "vitest";
import { describeError, toTourneyError, TourneyError } from "./errors.js";

const failure = (code: string) => Object.assign(new Error("write failed"), { code });

describe("toTourneyError", () => {
  it("tells a full disk, however deep it is wrapped", () => {
    const error = toTourneyError(new Error("outer", { cause: new Error("inner", { cause: failure("ENOSPC") }) }));
    expect(error.code).toBe("DISK_FULL");
    expect(toTourneyError(Object.assign(new Error("query failed"), { original: failure("53100") })).code).toBe(
      "DISK_FULL",
    );
    expect(describeError(error)).toMatch(/disk is full[\s\S]*Why:[\s\S]*What to do: Free some space/);
  });
  it("leaves ours alone and wraps everything else with its cause", () => {
    const own = new TourneyError("NOT_FOUND", { message: "a", reason: "b", remedy: "c" });
    expect(toTourneyError(own)).toBe(own);
    expect(toTourneyError("text")).toMatchObject({ code: "INTERNAL", reason: "text", cause: "text" });
  });
});
