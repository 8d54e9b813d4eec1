import type { Edition } from "@tourney/core/contract";
import { screen, waitFor, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { describe, expect, it } from "vitest";
import { EDITION, PROMPT, WALL } from "../../../test-support/fixtures.js";
import { problem, renderScreen, stubServer } from "../../../test-support/render-screen.js";
import { SuiteScreen } from "./SuiteScreen.js";

const WHOLE: Edition = {
  ...EDITION,
  prompts: [PROMPT, { ...PROMPT, id: WALL.prompts[1]!.id, key: "lamps", title: "Lamps" }],
};
const SECOND = { ...EDITION, id: "00000000-0000-4000-8000-000000000002", number: 2 };
const READY = {
  "GET /api/editions": [EDITION],
  [`GET /api/editions/${EDITION.id}`]: WHOLE,
  [`GET /api/editions/${EDITION.id}/wall`]: WALL,
};
const show = (answers: Record<string, unknown> = READY) => {
  const requests = stubServer(answers);
  return { requests, ...renderScreen(<SuiteScreen />, { path: "/suite" }) };
};

describe("a suite's page", () => {
  it("shows a prompt as it is sent, driven and judged, and what was built for it", async () => {
    show();
    expect(await screen.findByRole("heading", { name: "Locks" })).toBeTruthy();
    expect(screen.getByText("Build a lock.")).toBeTruthy();
    expect(screen.getByText(/ArrowRight held 1.2 s/)).toBeTruthy();
    expect(screen.getByText("· seen in the motion")).toBeTruthy();
    const built = within(await screen.findByRole("region", { name: "Built for it" }));
    expect(built.getByRole("link", { name: /Gorse/ }).getAttribute("href")).toBe(`/entries/${WALL.cells[0]!.entryId!}`);
    expect(built.queryByRole("link", { name: /Heath/ })).toBeNull();
  });

  it("goes to another prompt, and keeps it in the address", async () => {
    const { router } = show();
    await userEvent.click(await screen.findByRole("button", { name: /^Lamps/ }));
    expect(await screen.findByRole("heading", { name: "Lamps" })).toBeTruthy();
    expect(router.state.location.search).toContain("lamps");
  });

  it("compares two editions, prompt by prompt", async () => {
    const difference = {
      head: [{ field: "description", before: "", after: "Kept by the museum." }],
      added: ["flags"],
      removed: ["knots"],
      reordered: true,
      changed: [
        { key: "locks", title: "Locks", fields: [{ field: "seconds", before: "6", after: "8" }], parts: ["recipe"] },
      ],
      kept: 1,
    };
    show({
      ...READY,
      "GET /api/editions": [EDITION, SECOND],
      [`GET /api/editions/${EDITION.id}/difference?from=${SECOND.id}`]: difference,
    });
    await userEvent.click(await screen.findByRole("button", { name: "Compare…" }));
    const sheet = within(screen.getByRole("dialog"));
    expect(await sheet.findByText("flags")).toBeTruthy();
    expect(sheet.getByText("knots")).toBeTruthy();
    expect(sheet.getByText("The prompts are in a different order.")).toBeTruthy();
    expect(sheet.getByText("seconds recorded")).toBeTruthy();
    expect(sheet.getAllByRole("insertion").map(({ textContent }) => textContent)).toEqual(["Kept by the museum.", "8"]);
    expect(sheet.getAllByRole("deletion").map(({ textContent }) => textContent)).toEqual(["6"]);
  });

  it("duplicates a suite, and says beside the field what is wrong with its key", async () => {
    const answers: Record<string, unknown> = {
      ...READY,
      [`POST /api/editions/${EDITION.id}/duplicate`]: problem(409, "The key is taken.", [
        { path: "key", message: "is the key of another suite" },
      ]),
    };
    const { requests } = show(answers);
    await userEvent.click(await screen.findByRole("button", { name: "Duplicate…" }));
    await userEvent.click(screen.getByRole("button", { name: "Duplicate" }));
    expect(await screen.findByText("is the key of another suite")).toBeTruthy();
    answers[`POST /api/editions/${EDITION.id}/duplicate`] = { edition: WHOLE, created: true };
    await userEvent.click(screen.getByRole("button", { name: "Duplicate" }));
    await waitFor(() => expect(screen.queryByRole("dialog")).toBeNull());
    expect(requests.findLast(({ method }) => method === "POST")?.body).toEqual({
      key: "a-suite-copy",
      title: "A suite, copy",
    });
  });

  it("shows the difference before a file is taken, and takes it then", async () => {
    const preview = {
      digest: "b".repeat(64),
      suiteKey: "a-suite",
      suiteTitle: "A suite",
      promptCount: 2,
      nextNumber: 2,
      sameAs: null,
      against: 1,
      difference: { head: [], added: ["flags"], removed: [], reordered: false, changed: [], kept: 1 },
    };
    const { requests } = show({
      ...READY,
      "POST /api/suites/preview": preview,
      "POST /api/suites/import": { edition: WHOLE, created: true },
    });
    await userEvent.click(await screen.findByRole("button", { name: "Import…" }));
    const sheet = within(screen.getByRole("dialog"));
    await userEvent.type(sheet.getByRole("textbox", { name: "The suite file's text" }), "format: tourney-suite/1");
    await userEvent.click(sheet.getByRole("button", { name: "Compare" }));
    expect(await sheet.findByText("flags")).toBeTruthy();
    expect(requests.some(({ path }) => path === "/api/suites/import")).toBe(false);
    await userEvent.click(sheet.getByRole("button", { name: /Freeze|Import|Take/ }));
    await waitFor(() => expect(requests.some(({ path }) => path === "/api/suites/import")).toBe(true));
    // What is frozen is what was shown: its digest goes along.
    expect(requests.find(({ path }) => path === "/api/suites/import")?.body).toMatchObject({ digest: preview.digest });
  });

  it("says what failed", async () => {
    show({ "GET /api/editions": problem(500, "The database is away.") });
    expect((await screen.findByRole("alert")).textContent).toContain("The database is away.");
  });
});
