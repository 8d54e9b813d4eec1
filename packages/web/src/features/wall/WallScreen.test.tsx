import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { useLayoutEffect, useState } from "react";
import { describe, expect, it } from "vitest";
import { EDITION, WALL } from "../../../test-support/fixtures.js";
import { problem, renderScreen, stubServer } from "../../../test-support/render-screen.js";
import { knowWall } from "./wall-knowledge.js";
import { readView } from "./wall-view.js";
import { WallGrid } from "./WallGrid.js";
import { WallScreen } from "./WallScreen.js";

const READY = { "GET /api/editions": [EDITION], [`GET /api/editions/${EDITION.id}/wall`]: WALL };
const show = () => renderScreen(<WallScreen />, { path: "/wall" });

describe("the wall", () => {
  it("says what belongs there while there is no suite", async () => {
    stubServer({ "GET /api/editions": [] });
    show();
    expect(await screen.findByRole("heading", { name: "The wall is empty" })).toBeTruthy();
    expect(screen.getByRole("link", { name: "Import a suite" }).getAttribute("href")).toBe("/suite");
    const follows = within(screen.getByRole("list")).getAllByRole("link");
    expect(follows.map((link) => link.textContent)).toEqual(["Wall", "Entry", "Booth", "Standings"]);
  });

  it("says what failed and tries again", async () => {
    const answers: Record<string, unknown> = {
      "GET /api/editions": [EDITION],
      [`GET /api/editions/${EDITION.id}/wall`]: problem(500, "The database is away."),
    };
    stubServer(answers);
    show();
    expect((await screen.findByRole("alert")).textContent).toContain("The database is away.");
    Object.assign(answers, READY);
    await userEvent.click(screen.getByRole("button", { name: "Try again" }));
    expect(await screen.findByRole("grid")).toBeTruthy();
  });

  it("tells every state in words, and findings too", async () => {
    stubServer(READY);
    show();
    expect(await screen.findByRole("gridcell", { name: "Locks, Gorse, recorded, exception" })).toBeTruthy();
    expect(screen.getByRole("gridcell", { name: /Locks, Heath, declined/ })).toBeTruthy();
    expect(screen.getByRole("gridcell", { name: "Lamps, Gorse, failed, 401: Incorrect key" })).toBeTruthy();
    expect(screen.getByRole("gridcell", { name: "Lamps, Heath, not run" })).toBeTruthy();
  });

  it("moves by the arrow keys with one stop in the tab order, and opens by Enter", async () => {
    stubServer(READY);
    const { router } = show();
    const first = await screen.findByRole("gridcell", { name: /Locks, Gorse/ });
    expect(screen.getAllByRole("gridcell").filter(({ tabIndex }) => tabIndex === 0)).toEqual([first]);
    first.focus();
    await userEvent.keyboard("{ArrowRight}{ArrowDown}{ArrowDown}");
    expect(document.activeElement).toBe(screen.getByRole("gridcell", { name: /Lamps, Heath/ }));
    await userEvent.keyboard("{ArrowUp}{ArrowLeft}{Enter}");
    await waitFor(() => expect(router.state.location.pathname).toBe(`/entries/${WALL.cells[0]!.entryId!}`));
  });

  it("moves the focus when a key is pressed before React has run the effects of the last drawing", async () => {
    /** Layout effects run before all other effects of the same drawing. */
    function PressesRight() {
      useLayoutEffect(() => void fireEvent.keyDown(document.activeElement!, { key: "ArrowRight" }), []);
      return null;
    }
    const ignore = () => undefined;
    const given = { view: readView(new URLSearchParams()), known: knowWall(WALL.entrants, [], undefined), marked: [] };
    function Grid() {
      const [isPressing, setPressing] = useState(false);
      return (
        <>
          <WallGrid wall={WALL} {...given} onAnswer={ignore} onMark={ignore} onFan={ignore} />
          <button onClick={() => setPressing(true)}>Redraw</button>
          {isPressing ? <PressesRight /> : null}
        </>
      );
    }
    stubServer(READY);
    renderScreen(<Grid />);
    (await screen.findByRole("gridcell", { name: /Locks, Gorse/ })).focus();
    fireEvent.click(screen.getByRole("button", { name: "Redraw" }));
    expect(document.activeElement).toBe(screen.getByRole("gridcell", { name: /Locks, Heath/ }));
  });

  it("asks for one picture when a cell is gone through, and shows another part of it at each step", async () => {
    const [{ entryId, picture } = { entryId: null, picture: null }] = WALL.cells;
    const sprite = { file: `${"b".repeat(64)}.webp`, columns: 2, frameWidth: 320, frameHeight: 200 };
    const frames = [0, 500, 1000].map((atMs) => ({ atMs, file: picture!, thumbnail: picture! }));
    stubServer({ ...READY, [`GET /api/entries/${entryId}/strip?edition=${EDITION.id}`]: { frames, sprite } });
    show();
    const cell = await screen.findByRole("gridcell", { name: /Locks, Gorse/ });
    const before = cell.querySelectorAll("img").length;
    cell.focus();
    const shown = () => cell.querySelector("svg:has(image)")?.getAttribute("viewBox");
    await userEvent.keyboard("]");
    await waitFor(() => expect(shown()).toBe("0 0 320 200"));
    await userEvent.keyboard("]");
    await waitFor(() => expect(shown()).toBe("320 0 320 200"));
    await userEvent.keyboard("]");
    expect(shown()).toBe("0 200 320 200");
    const pictures = [...cell.querySelectorAll("image")];
    expect(pictures.map((one) => one.getAttribute("href"))).toEqual([`/api/blobs/${sprite.file}`]);
    expect(cell.querySelectorAll("img")).toHaveLength(before);
  });

  it("keeps its filters in the address", async () => {
    stubServer(READY);
    const { router } = show();
    await userEvent.click(await screen.findByRole("button", { name: /Need a look/ }));
    expect(router.state.location.search).toBe("?look=1");
  });

  it("takes in an answer by hand for a cell that has none", async () => {
    const answers = {
      ...READY,
      [`POST /api/editions/${EDITION.id}/answers`]: { entryId: EDITION.id, verdict: "ok", created: true },
    };
    const requests = stubServer(answers);
    show();
    await userEvent.click(await screen.findByRole("gridcell", { name: "Lamps, Heath, not run" }));
    await userEvent.type(await screen.findByRole("textbox", { name: "Answer" }), "the answer");
    await userEvent.click(screen.getByRole("button", { name: "Take it in" }));
    await waitFor(() =>
      expect(requests.find(({ method }) => method === "POST")?.body).toEqual({
        promptKey: "lamps",
        entrantKey: "heath",
        take: 1,
        text: "the answer",
      }),
    );
  });
});
