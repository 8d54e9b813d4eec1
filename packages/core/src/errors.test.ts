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
  it.each([
    failure("57P03"),
    Object.assign(new Error("query failed"), { original: failure("57P01") }),
    new Error("Connection terminated unexpectedly"),
    Object.assign(new Error("connect ENOENT"), { name: "SequelizeConnectionError" }),
  ])("tells a database that is away: %s", (thrown) => {
    expect(toTourneyError(thrown).code).toBe("DATABASE_UNAVAILABLE");
  });
  it("does not take a wrong statement, or a refused socket of another kind, for it", () => {
    expect(toTourneyError(failure("42P01")).code).toBe("INTERNAL");
    expect(toTourneyError(failure("ECONNREFUSED")).code).toBe("INTERNAL");
  });
  it("names a file that may not be written as the cause", () => {
    expect(toTourneyError(failure("EACCES"))).toMatchObject({
      code: "INTERNAL",
      message: expect.stringContaining("EACCES") as string,
    });
  });
  it("leaves ours alone and wraps everything else with its cause", () => {
    const own = new TourneyError("NOT_FOUND", { message: "a", reason: "b", remedy: "c" });
    expect(toTourneyError(own)).toBe(own);
    expect(toTourneyError("text")).toMatchObject({ code: "INTERNAL", reason: "text", cause: "text" });
  });
});
