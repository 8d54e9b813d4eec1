import type { StandingsChanges, StandingsSnapshot } from "@tourney/core/contract";
import { EVERYTHING } from "@tourney/core/contract";
import { screen, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { describe, expect, it } from "vitest";
import { STANDINGS } from "../../../test-support/fixtures.js";
import { renderScreen, stubServer } from "../../../test-support/render-screen.js";
import { Since } from "./Since.js";

const idOf = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, "0")}`;
const EDITION = STANDINGS.edition.id;
const [first] = STANDINGS.rows;

const snapshot = (n: number, name: string): StandingsSnapshot => ({
  ...{ id: idOf(n), editionId: EDITION, name, counts: EVERYTHING, methodVersion: "m/1" },
  ...{ inputDigest: "a".repeat(64), ballots: 20, takenAt: `2026-11-0${n}T10:00:00.000Z`, removedAt: null },
});
const MONDAY = snapshot(1, "Monday");
const FRIDAY = snapshot(5, "Friday");
const figures = (rating: number, rank: number) => ({
  ...{ rating, halfWidth: 50, ballots: 10 },
  rankRange: [rank, rank] as [number, number],
});

const CHANGES: StandingsChanges = {
  from: MONDAY,
  to: { ...MONDAY, name: "now", ballots: 21, inputDigest: "b".repeat(64) },
  ...{ isSameMethod: true, isSameChoice: true },
  rows: [{ entrant: first!.entrant, version: first!.version, from: figures(1500.4, 2), to: figures(1530.6, 1) }],
  reasons: [
    { change: "counts now", why: "cast since", ballots: 2 },
    { change: "counts no more", why: "voided: a slip", ballots: 1 },
  ],
  ballots: [
    {
      ...{ ballotId: idOf(9), change: "counts no more", why: "voided: a slip", castAt: MONDAY.takenAt, lean: -2 },
      ...{ voterName: "Una", promptKey: "lock-keeper", leftName: "Gorse", rightName: "Heath" },
      ...{ leftEntryId: idOf(21), rightEntryId: idOf(22) },
    },
  ],
};

function show(changes: Partial<StandingsChanges>, address = `/standings?since=${MONDAY.id}`) {
  stubServer({
    [`GET /api/editions/${EDITION}/snapshots`]: [FRIDAY, MONDAY],
    [`GET /api/snapshots/${MONDAY.id}/changes`]: { ...CHANGES, ...changes },
    [`GET /api/snapshots/${MONDAY.id}/changes?until=${FRIDAY.id}`]: {
      ...CHANGES,
      to: FRIDAY,
      reasons: [],
      ballots: [],
    },
  });
  return renderScreen(<Since editionId={EDITION} />, { path: "/standings", address });
}

describe("what changed since a snapshot", () => {
  it("is told by figures then and now, why ballots count otherwise, and each of those ballots", async () => {
    show({});
    const row = (await screen.findByRole("rowheader")).closest("tr")!;
    for (const text of ["1500 ± 50", "1531 ± 50", "+31"]) expect(row.textContent).toContain(text);
    expect(screen.getByText("20 ballots then").closest("p")!.textContent).toBe("20 ballots then, 21 ballots now. ");
    expect(screen.getByText("cast since").closest("li")!.textContent).toContain("+ 2 ballots");
    const ballots = screen.getByRole("list", { name: "Ballots that changed", hidden: true });
    const link = within(ballots).getByRole("link", { name: "Gorse and Heath", hidden: true });
    expect(link.getAttribute("href")).toBe(`/compare?entries=${idOf(21)},${idOf(22)}`);
  });

  it("says where the method is another, or something else is chosen to count", async () => {
    show({ isSameMethod: false, isSameChoice: false, to: { ...CHANGES.to, methodVersion: "m/2" } });
    expect(await screen.findByText(/The method is another.*m\/1, then m\/2/)).toBeTruthy();
    expect(screen.getByText(/Something else is chosen to count/)).toBeTruthy();
  });

  it("ends at a later snapshot where one is chosen, and is closed", async () => {
    const { router } = show({});
    await userEvent.selectOptions(await screen.findByRole("combobox", { name: /until/ }), "Friday");
    expect(await screen.findByText("No ballot counts otherwise than then.")).toBeTruthy();
    expect(router.state.location.search).toContain(`until=${FRIDAY.id}`);
    await userEvent.click(screen.getByRole("button", { name: "Close" }));
    expect(router.state.location.search).toBe("");
    expect(screen.queryByText(/What changed/)).toBeNull();
  });

  it("is not there unless it is asked for", () => {
    show({}, "/standings");
    expect(screen.queryByRole("region", { name: "What changed" })).toBeNull();
  });
});
