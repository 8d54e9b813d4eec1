import { EVERYTHING, type ReportLink } from "@tourney/core/contract";
import { screen, waitFor, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { describe, expect, it } from "vitest";
import { EDITION, id } from "../../../test-support/fixtures.js";
import { problem, renderScreen, stubServer } from "../../../test-support/render-screen.js";
import { ReportSection } from "./ReportSection.js";

const LINKS = `/api/editions/${EDITION.id}/report-links`;
const COUNTS = { ...EVERYTHING, kind: ["game" as const] };
const link = (n: number, more: Partial<ReportLink> = {}): ReportLink => ({
  ...{ id: id(n), url: `http://localhost/reports/${"x".repeat(24)}${n}`, createdAt: "2026-11-26T00:00:00.000Z" },
  ...{ withdrawnAt: null, counts: COUNTS, editionId: EDITION.id },
  ...more,
});

function show(links: ReportLink[], more: object = {}) {
  const requests = stubServer({ [`GET ${LINKS}`]: links, ...more });
  renderScreen(<ReportSection editionId={EDITION.id} counts={COUNTS} />, { path: "/standings", address: "/standings" });
  return { bodyOf: (method: string) => requests.find((one) => one.method === method)?.body };
}

describe("the report", () => {
  it("is a file and a link by what is chosen to count", async () => {
    const { bodyOf } = show([], { [`POST ${LINKS}`]: { status: 201, body: link(1) } });
    const file = screen.getByRole("link", { name: "HTML file" });
    expect(file.getAttribute("href")).toBe(`/api/editions/${EDITION.id}/report.html?kind=game`);
    await userEvent.click(screen.getByRole("button", { name: "Link for readers" }));
    await waitFor(() => expect(bodyOf("POST")).toEqual({ counts: COUNTS }));
  });

  it("lists the links that open something, and withdraws one with a way back", async () => {
    const { bodyOf } = show([link(1), link(2, { withdrawnAt: "2026-11-26T01:00:00.000Z" })], {
      [`PUT /api/report-links/${id(1)}`]: link(1, { withdrawnAt: "2026-11-26T02:00:00.000Z" }),
    });
    const list = await screen.findByRole("list", { name: "Links for readers" });
    expect(within(list).getAllByRole("listitem")).toHaveLength(1);
    await userEvent.click(screen.getByRole("button", { name: "Withdraw" }));
    await waitFor(() => expect(bodyOf("PUT")).toEqual({ withdrawn: true }));
    expect(await screen.findByText("The link opens nothing any more.")).toBeTruthy();
    expect(screen.getByRole("button", { name: "Undo" })).toBeTruthy();
  });

  it("says why a link cannot be made", async () => {
    show([], { [`POST ${LINKS}`]: problem(404, "There is no such edition.") });
    await userEvent.click(screen.getByRole("button", { name: "Link for readers" }));
    expect(await screen.findByText("There is no such edition.")).toBeTruthy();
  });
});
