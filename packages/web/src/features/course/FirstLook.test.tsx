import { screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { beforeEach, describe, expect, it } from "vitest";
import { COURSE } from "../../../test-support/fixtures.js";
import { renderScreen, stubServer } from "../../../test-support/render-screen.js";
import { FirstLook, wantFirstLook } from "./FirstLook.js";

const show = (sample = true) => {
  stubServer({ "GET /api/course": { ...COURSE, sample } });
  return renderScreen(<FirstLook />, { path: "*", address: "/wall" });
};
const place = async () =>
  (await screen.findByRole("dialog", { name: "First look" })).querySelector("strong")?.textContent;

beforeEach(() => {
  window.localStorage.clear();
  wantFirstLook();
});

describe("the first look", () => {
  it("leads over four screens by the keyboard alone, and does not come back", async () => {
    const user = userEvent.setup();
    const { router, unmount } = show();
    expect(await place()).toBe("Wall");
    const seen: string[] = [];
    for (let step = 0; step < 3; step++) {
      await user.keyboard("{Enter}");
      seen.push(`${await place()} ${router.state.location.pathname}`);
    }
    // No entry is recorded yet, so the second step stays on the wall.
    expect(seen).toEqual(["Entry /wall", "Booth /voting", "Standings /standings"]);
    await user.keyboard("{Enter}");
    await waitFor(() => expect(screen.queryByRole("dialog")).toBeNull());
    unmount();
    wantFirstLook();
    show();
    await new Promise((resolve) => setTimeout(resolve, 50));
    expect(screen.queryByRole("dialog")).toBeNull();
  });

  it("is ended by Escape", async () => {
    show();
    await place();
    await userEvent.keyboard("{Escape}");
    await waitFor(() => expect(screen.queryByRole("dialog")).toBeNull());
  });

  it("is not laid over anything that did not ask for it", async () => {
    window.localStorage.clear();
    show();
    await new Promise((resolve) => setTimeout(resolve, 50));
    expect(screen.queryByRole("dialog")).toBeNull();
  });

  it("is for sample data only", async () => {
    show(false);
    await new Promise((resolve) => setTimeout(resolve, 50));
    expect(screen.queryByRole("dialog")).toBeNull();
  });
});
