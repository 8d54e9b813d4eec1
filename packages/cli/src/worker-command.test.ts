import { describe, expect, it } from "vitest";
import { work } from "./worker-command.js";

describe("tourney worker", () => {
  it("says what it can do when it is told nothing", async () => {
    await expect(work({})).rejects.toMatchObject({ message: "There is nothing to work on." });
  });
  it.each(["two", "-1", "1.5", "9999"])("refuses %s jobs at a time", async (render) => {
    await expect(work({ render })).rejects.toMatchObject({
      code: "INVALID_INPUT",
      remedy: expect.stringContaining("--render 2") as string,
    });
  });
});
