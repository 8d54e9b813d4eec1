import { screen, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { describe, expect, it } from "vitest";
import { STANDINGS, WALL } from "../../../test-support/fixtures.js";
import { renderScreen, stubServer } from "../../../test-support/render-screen.js";
import { HeadToHead } from "./HeadToHead.js";

const show = () => {
  stubServer({ [`GET /api/editions/${STANDINGS.edition.id}/wall`]: WALL });
  renderScreen(<HeadToHead standings={STANDINGS} ratings={undefined} />, {
    path: "/standings",
    address: "/standings",
  });
};
const cellOf = (own: string, other: string) =>
  screen.getByRole("button", { name: new RegExp(`: ${own} against ${other}:.*Compare them$`) });

describe("head to head", () => {
  it("a cell opens what its ballots are, and closes it by a second click", async () => {
    show();
    const [first, turned] = [cellOf("Gorse", "Heath"), cellOf("Heath", "Gorse")];
    await userEvent.click(first);
    expect(first.getAttribute("aria-expanded")).toBe("true");
    const dialog = screen.getByRole("dialog");
    expect(dialog.textContent).toMatch(/^Gorse against Heath: /);
    const link = within(dialog).getByRole("link", { name: /one by one$/ });
    expect(new URL(link.getAttribute("href")!, "http://here").searchParams.get("of")).toBe(
      STANDINGS.rows[0]!.version.id,
    );
    await userEvent.click(first);
    expect(screen.queryByRole("dialog")).toBeNull();
    await userEvent.click(first);
    await userEvent.click(turned);
    expect(screen.getByRole("dialog", { name: "Heath against Gorse" }).textContent).toMatch(/^Heath against Gorse: /);
    expect(first.getAttribute("aria-expanded")).toBe("false");
  });

  it("by the keyboard it opens, and gives the focus back when it is left", async () => {
    show();
    const cell = cellOf("Gorse", "Heath");
    cell.focus();
    await userEvent.keyboard("{Enter}");
    expect(screen.getByRole("dialog").contains(document.activeElement)).toBe(true);
    await userEvent.keyboard("{Escape}");
    expect(screen.queryByRole("dialog")).toBeNull();
    expect(document.activeElement).toBe(cell);
  });
});
