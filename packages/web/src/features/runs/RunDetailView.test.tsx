import type { RunDetail } from "@tourney/core/contract";
import { screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { describe, expect, it } from "vitest";
import { formatUsd } from "../../lib/format.js";
import { RUN } from "../../../test-support/fixtures.js";
import { renderScreen, stubServer } from "../../../test-support/render-screen.js";
import { RunDetailView } from "./RunDetailView.js";

function show(more: Partial<RunDetail> = {}) {
  const run: RunDetail = { ...RUN, ...more };
  const path = `/api/runs/${run.id}`;
  const requests = stubServer({
    [`GET ${path}`]: run,
    "GET /api/entrants": [],
    ...Object.fromEntries(["pause", "resume", "cancel", "retry"].map((verb) => [`POST ${path}/${verb}`, run])),
    [`PUT ${path}`]: run,
    [`POST /api/endpoints/${RUN.endpoints[0]!.id}/try`]: { ended: 1 },
  });
  renderScreen(<RunDetailView runId={run.id} />);
  return { sent: () => requests.filter(({ method }) => method !== "GET") };
}

describe("a run's page", () => {
  it("says how far it is, what it cost of its budget, its pace, and what became of its answers", async () => {
    show();
    expect((await screen.findByRole("progressbar", { name: "Answers" })).getAttribute("aria-valuenow")).toBe("6");
    expect(screen.getByText("6 of 10")).toBeTruthy();
    expect(screen.getByText(`${formatUsd(0.5)} of ${formatUsd(2)}`)).toBeTruthy();
    expect(screen.getByText(/remaining, at 3.0 answers a minute/)).toBeTruthy();
    expect(screen.getByRole("list", { name: "Outcomes" }).textContent).toContain("2 request refused");
    expect(screen.getByText("1 answer by another model")).toBeTruthy();
  });

  it("groups failures by cause, and sends just these again", async () => {
    const requests = show();
    const failures = await screen.findByRole("region", { name: "Without an answer" });
    expect(failures.textContent).toContain("401: Incorrect key");
    await userEvent.click(screen.getByRole("button", { name: "Retry these 2" }));
    await waitFor(() => expect(requests.sent()).toHaveLength(1));
    expect(requests.sent()[0]!.body).toEqual({ generationIds: RUN.failures[0]!.generationIds });
  });

  it("can be paused, and says when an endpoint is", async () => {
    const requests = show({
      endpoints: [
        {
          ...RUN.endpoints[0]!,
          paused: [{ model: "gorse-1", until: new Date(Date.now() + 30_000).toISOString(), reason: "503: Down." }],
        },
      ],
    });
    const paused = (await screen.findByText(/gorse-1 at .* is paused/)).closest("li")!;
    expect(paused.textContent).toContain("503: Down. Others go on");
    await userEvent.click(screen.getByRole("button", { name: "Try now" }));
    await waitFor(() => expect(requests.sent()).toHaveLength(1));
    expect(requests.sent()[0]!.path).toBe(`/api/endpoints/${RUN.endpoints[0]!.id}/try`);
    await userEvent.click(screen.getByRole("button", { name: "Pause" }));
    await waitFor(() => expect(requests.sent().at(-1)!.path).toBe(`/api/runs/${RUN.id}/pause`));
  });

  it("takes another budget, and none that is no amount", async () => {
    const requests = show();
    await userEvent.click(await screen.findByRole("button", { name: "Budget…" }));
    const field = screen.getByRole("textbox", { name: "Budget in US dollars" });
    await userEvent.clear(field);
    await userEvent.type(field, "-3");
    expect(screen.getByRole<HTMLButtonElement>("button", { name: "Set" }).disabled).toBe(true);
    await userEvent.clear(field);
    await userEvent.type(field, "5.5");
    await userEvent.click(screen.getByRole("button", { name: "Set" }));
    await waitFor(() => expect(requests.sent()[0]?.body).toEqual({ budgetUsd: 5.5 }));
  });
});
