import type { RatingsOverTime } from "@tourney/core/contract";
import { screen, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { describe, expect, it } from "vitest";
import { STANDINGS } from "../../../test-support/fixtures.js";
import { renderScreen, stubServer } from "../../../test-support/render-screen.js";
import { OverTime } from "./OverTime.js";

const versionIds = STANDINGS.rows.map(({ version }) => version.id);
const step = (ballots: number, rating: number): RatingsOverTime["steps"][number] => ({
  ...{ ballots, at: "2026-11-26T10:00:00.000Z" },
  ratings: versionIds.map((_, index) => ({
    rating: index === 0 ? rating : null,
    halfWidth: index === 0 ? 41.2 : null,
  })),
});

describe("ratings over time", () => {
  it("are counted when they are asked for, and stand in a table as well", async () => {
    const requests = stubServer({
      [`GET /api/editions/${STANDINGS.edition.id}/ratings-over-time`]: {
        versionIds,
        steps: [step(40, 1480), step(1200, 1530.6)],
      },
    });
    renderScreen(<OverTime standings={STANDINGS} />, { path: "/standings", address: "/standings" });
    expect(requests).toHaveLength(0);
    await userEvent.click(screen.getByRole("button", { name: "show" }));
    expect(await screen.findByRole("img", { name: /Ratings after more and more ballots/ })).toBeTruthy();
    await userEvent.click(screen.getByRole("button", { name: "as a table" }));
    const last = (await screen.findByRole("rowheader", { name: "1,200" })).closest("tr")!;
    expect(within(last).getByText("1531 ± 41")).toBeTruthy();
    expect(within(last).getAllByText("—").length).toBe(STANDINGS.rows.length - 1);
  });
});
