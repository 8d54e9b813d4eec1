import type { ApiToken } from "@tourney/core/contract";
import { screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { describe, expect, it } from "vitest";
import { renderScreen, stubServer } from "../../../test-support/render-screen.js";
import { ScriptsSheet } from "./ScriptsSheet.js";

const TOKEN: ApiToken = {
  id: "00000000-0000-4000-8000-000000000001",
  name: "nightly check",
  scopes: ["read", "run"],
  createdAt: "2026-11-20T10:00:00.000Z",
  lastUsedAt: null,
  revokedAt: null,
};

function show(tokens: ApiToken[]) {
  const requests = stubServer({
    "GET /api/tokens": tokens,
    "POST /api/tokens": { token: "tourney_shown-once", made: TOKEN },
    [`DELETE /api/tokens/${TOKEN.id}`]: { ...TOKEN, revokedAt: "2026-11-21T10:00:00.000Z" },
  });
  renderScreen(<ScriptsSheet open onOpenChange={() => undefined} />);
  return (method: string) => requests.filter((request) => request.method === method);
}

describe("tokens for scripts", () => {
  it("are made with a name and scopes, and shown until the lead is done", async () => {
    const sent = show([]);
    expect(await screen.findByText("No token opens anything yet.")).toBeTruthy();
    const make = screen.getByRole<HTMLButtonElement>("button", { name: "Make a token" });
    expect(make.disabled).toBe(true);
    await userEvent.type(screen.getByRole("textbox", { name: "What it is for" }), "nightly check");
    await userEvent.click(screen.getByRole("checkbox", { name: /^read/ }));
    expect(make.disabled).toBe(true);
    await userEvent.click(screen.getByRole("checkbox", { name: /^run/ }));
    await userEvent.click(make);
    expect(await screen.findByText("tourney_shown-once")).toBeTruthy();
    expect(sent("POST")[0]!.body).toEqual({ name: "nightly check", scopes: ["run"] });
    await userEvent.click(screen.getByRole("button", { name: "Done" }));
    expect(screen.queryByText("tourney_shown-once")).toBeNull();
  });

  it("are revoked only when that is meant", async () => {
    const sent = show([TOKEN, { ...TOKEN, id: TOKEN.id.replace(/1$/, "2"), name: "old", revokedAt: TOKEN.createdAt }]);
    await userEvent.click(await screen.findByRole("button", { name: "Revoke nightly check" }));
    expect(screen.queryByText("old")).toBeNull();
    await userEvent.click(screen.getByRole("button", { name: "Keep it" }));
    expect(sent("DELETE")).toEqual([]);
    await userEvent.click(screen.getByRole("button", { name: "Revoke nightly check" }));
    await userEvent.click(screen.getByRole("button", { name: "Revoke it" }));
    await waitFor(() => expect(sent("DELETE")).toHaveLength(1));
  });
});
