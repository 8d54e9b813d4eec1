import type { BallotLine, BallotList } from "@tourney/core/contract";
import { screen, waitFor, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { describe, expect, it } from "vitest";
import { WALL } from "../../../test-support/fixtures.js";
import { type Answers, problem, renderScreen, stubServer } from "../../../test-support/render-screen.js";
import { BallotTable } from "./BallotTable.js";

const EDITION = WALL.edition.id;
const idOf = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, "0")}`;
const ENTRANTS = [
  { id: idOf(1), name: "Samphire 3", glyph: 0, versionId: idOf(11) },
  { id: idOf(2), name: "Thrift 2", glyph: 1, versionId: idOf(12) },
];

const ballot = (n: number, more: Partial<BallotLine> = {}): BallotLine => ({
  id: idOf(100 + n),
  castAt: "2026-11-26T00:00:00.000Z",
  ordinal: n,
  voterId: idOf(50),
  voterName: "Una",
  panelTitle: "Friends",
  sample: false,
  promptTitle: "Lock Keeper",
  leftEntryId: idOf(21),
  rightEntryId: idOf(22),
  leftEntrantId: idOf(1),
  rightEntrantId: idOf(2),
  lean: -1,
  leftWorks: true,
  rightWorks: false,
  reasons: ["controls"],
  note: "",
  dwellMs: 12_000,
  isAutomatic: false,
  isRepeat: false,
  contest: "entrants",
  leftForm: "",
  rightForm: "",
  seenWith: { width: 1280, height: 800, pointer: "mouse", frameRate: 60 },
  askedBecause: "these two had met 0 times",
  voided: null,
  ...more,
});
const listOf = (ballots: BallotLine[], more: Partial<BallotList> = {}): BallotList => ({
  ballots,
  total: ballots.length,
  before: null,
  ...more,
});

function show(answers: Answers, address = "/voting") {
  const requests = stubServer(answers);
  renderScreen(
    <BallotTable
      editionId={EDITION}
      panels={[]}
      entrants={ENTRANTS}
      prompts={[{ id: idOf(31), title: "Lock Keeper" }]}
    />,
    { path: "/voting", address },
  );
  return { answers, requests };
}
const ALL = `GET /api/editions/${EDITION}/ballots?only=all`;

describe("the ballots one by one", () => {
  it("say what the voter chose, why, and of what", async () => {
    show({ [ALL]: listOf([ballot(1, { note: "The gate sticks." })]) });
    const row = (await screen.findByText("Lock Keeper")).closest("tr")!;
    for (const text of ["Una", "left", "controls", "The gate sticks.", "12 s"]) expect(row.textContent).toContain(text);
    expect(within(row).getByRole("link", { name: "Samphire 3" }).getAttribute("href")).toBe(`/entries/${idOf(21)}`);
    expect(within(row).getAllByText("✕ doesn’t work")).toHaveLength(1);
    expect(within(row).getByTitle("1280×800, mouse, 60 frames a second").textContent).toBe("12 s");
    expect(row.textContent).toContain("asked because: these two had met 0 times");
    const both = within(row).getByRole("link", { name: "left" });
    expect(both.getAttribute("href")).toBe(`/compare?entries=${idOf(21)},${idOf(22)}`);
  });

  it("are those that a figure is made of, where one was followed here, and all of them again", async () => {
    const address = `/voting?of=${idOf(11)}&against=${idOf(12)}&on=${idOf(31)}`;
    const narrowed = `GET /api/editions/${EDITION}/ballots?ofId=${idOf(11)}&againstId=${idOf(12)}&promptId=${idOf(31)}&only=all`;
    show({ [narrowed]: listOf([ballot(1)]), [ALL]: listOf([ballot(1), ballot(2)]) }, address);
    expect(await screen.findByText("Only those of Samphire 3 against Thrift 2 on Lock Keeper")).toBeTruthy();
    expect(await screen.findByText("1 ballot")).toBeTruthy();
    await userEvent.click(screen.getByRole("button", { name: "All" }));
    expect(await screen.findByText("2 ballots")).toBeTruthy();
    expect(screen.queryByText(/^Only those/)).toBeNull();
  });

  it("can be voided with a reason, and only with one", async () => {
    const VOID = `PUT /api/ballots/${idOf(101)}/void`;
    const voided = ballot(1, { voided: { at: "2026-11-26T00:01:00.000Z", by: "lead", why: "a slip" } });
    const { answers, requests } = show({ [ALL]: listOf([ballot(1)]), [VOID]: voided });
    await userEvent.click(await screen.findByRole("button", { name: "Void …" }));
    expect(screen.getByRole("button", { name: "Void" }).hasAttribute("disabled")).toBe(true);
    await userEvent.keyboard("a slip");
    answers[ALL] = listOf([voided]);
    await userEvent.keyboard("{Enter}");
    expect(await screen.findByText(/Voided .*: a slip/)).toBeTruthy();
    expect(requests.find(({ method }) => method === "PUT")!.body).toEqual({ why: "a slip" });
    expect(screen.getByRole("button", { name: "Let count again" })).toBeTruthy();
  });

  it("that the voter took back stay taken back, and a refusal is told", async () => {
    const taken = ballot(1, { voided: { at: "2026-11-26T00:01:00.000Z", by: "voter", why: "taken back" } });
    const own = ballot(2, { voided: { at: "2026-11-26T00:01:00.000Z", by: "lead", why: "a slip" } });
    show({
      [ALL]: listOf([taken, own]),
      [`DELETE /api/ballots/${idOf(102)}/void`]: problem(409, "This ballot has changed meanwhile."),
    });
    const again = await screen.findAllByRole("button", { name: "Let count again" });
    expect(again).toHaveLength(1);
    await userEvent.click(again[0]!);
    expect((await screen.findByRole("alert")).textContent).toContain("changed meanwhile");
  });

  it("come by pages, and by what is chosen, which the address keeps", async () => {
    const before = `2026-11-26T00:00:00.000000Z_${idOf(101)}`;
    show({
      [ALL]: listOf([ballot(1)], { total: 2, before }),
      [`${ALL}&before=${encodeURIComponent(before)}`]: listOf([ballot(2, { promptTitle: "Lamp Watch" })], { total: 2 }),
      [`GET /api/editions/${EDITION}/ballots?only=voided`]: listOf([]),
    });
    await userEvent.click(await screen.findByRole("button", { name: "Show older ones" }));
    expect(await screen.findByText("Lamp Watch")).toBeTruthy();
    expect(screen.getByText("Lock Keeper")).toBeTruthy();
    await userEvent.selectOptions(screen.getByRole("combobox", { name: "which" }), "voided");
    await waitFor(() => expect(screen.getByText("No ballot has been taken back or voided.")).toBeTruthy());
  });
});
