import type { Entrant } from "@tourney/core/contract";
import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { describe, expect, it } from "vitest";
import { ENTRANT } from "../../../test-support/fixtures.js";
import { problem, renderScreen, stubServer } from "../../../test-support/render-screen.js";
import { EntrantsScreen } from "./EntrantsScreen.js";

const other = (n: number, name: string, more: Partial<Entrant> = {}): Entrant => ({
  ...ENTRANT,
  id: `00000000-0000-4000-8000-0000000001${n}0`,
  key: name.toLowerCase(),
  name,
  ...more,
});
const HEATH = other(2, "Heath", { settings: { ...ENTRANT.settings, temperature: 1 }, generations: 0 });
const SEDGE = other(3, "Sedge", { predecessor: "gorse", version: 2 });

function show(entrants: Entrant[], answers: Record<string, unknown> = {}) {
  const requests = stubServer({ "GET /api/entrants": entrants, ...answers });
  renderScreen(<EntrantsScreen />);
  return requests;
}
const rowOf = async (name: string) => within(await screen.findByRole("row", { name: new RegExp(`^${name}`) }));

describe("the entrants", () => {
  it("are introduced where there are none", async () => {
    show([]);
    expect(await screen.findByRole("heading", { name: "No entrants yet" })).toBeTruthy();
    expect(screen.getByRole("button", { name: "Add an entrant" })).toBeTruthy();
  });

  it("stand side by side, what differs from the commonest marked in words", async () => {
    show([ENTRANT, HEATH, SEDGE]);
    expect((await rowOf("Heath")).getByText("(differs)")).toBeTruthy();
    expect((await rowOf("Gorse")).queryByText("(differs)")).toBeNull();
    expect((await rowOf("Sedge")).getByText("succeeds Gorse")).toBeTruthy();
    expect((await rowOf("Sedge")).getByText(/version 2/)).toBeTruthy();
  });

  it("leave out columns that say the same of all", async () => {
    show([ENTRANT, HEATH]);
    await rowOf("Gorse");
    expect(screen.queryByRole("columnheader", { name: "Seed" })).toBeNull();
  });
});

describe("what is done with an entrant", () => {
  it("is retired when it has answers, and removed when it has none", async () => {
    const requests = show([ENTRANT, HEATH], {
      [`POST /api/entrants/${ENTRANT.id}/retirement`]: { ...ENTRANT, retiredAt: ENTRANT.createdAt },
      [`DELETE /api/entrants/${HEATH.id}`]: {},
    });
    await userEvent.click((await rowOf("Gorse")).getByRole("button", { name: "Retire Gorse" }));
    await userEvent.click((await rowOf("Heath")).getByRole("button", { name: "Remove Heath" }));
    const sent = () =>
      requests.filter(({ method }) => method !== "GET").map(({ method, path, body }) => [method, path, body]);
    await waitFor(() => expect(sent()).toHaveLength(2));
    expect(sent()[1]![0]).toBe("DELETE");
  });

  it("can be undone when it was removed: it is entered again as it was", async () => {
    const fen = other(5, "Fen", { settings: { ...ENTRANT.settings, temperature: 0.5 }, generations: 0 });
    const requests = show([fen], {
      [`DELETE /api/entrants/${fen.id}`]: {},
      "POST /api/entrants": { status: 201, body: fen },
    });
    await userEvent.click((await rowOf("Fen")).getByRole("button", { name: "Remove Fen" }));
    const notice = (await screen.findByText(/^Fen is removed/)).closest("li")!;
    fireEvent.click(within(notice).getByRole("button", { name: "Undo" }));
    await waitFor(() => expect(requests.some(({ method }) => method === "POST")).toBe(true));
    const { key, name, model } = fen;
    expect(requests.find(({ method }) => method === "POST")!.body).toMatchObject({
      ...{ key, name, model },
      settings: { temperature: 0.5 },
    });
  });

  it("can come back", async () => {
    show([other(4, "Fen", { retiredAt: ENTRANT.createdAt })]);
    expect((await rowOf("Fen")).getByRole("button", { name: "Bring Fen back" })).toBeTruthy();
    expect((await rowOf("Fen")).getByText(/retired/)).toBeTruthy();
  });

  it("is asked whether it answers: how fast, as whom, and which models there are", async () => {
    show([ENTRANT], {
      [`POST /api/entrants/${ENTRANT.id}/connection-test`]: {
        ok: true,
        latencyMs: 132,
        models: ["gorse-1", "gorse-2"],
        reportedModel: "gorse-0",
        error: null,
      },
    });
    await userEvent.click((await rowOf("Gorse")).getByRole("button", { name: "Test Gorse" }));
    expect(await screen.findByText("✓ first token in 132 ms")).toBeTruthy();
    expect(screen.getByText("Calls itself gorse-0.")).toBeTruthy();
    expect(screen.getByText("2 models listed there")).toBeTruthy();
  });

  it("gives the exact error where it does not answer", async () => {
    show([ENTRANT], {
      [`POST /api/entrants/${ENTRANT.id}/connection-test`]: {
        ok: false,
        latencyMs: 5,
        models: [],
        reportedModel: null,
        error: { what: "401: Incorrect key", why: "The endpoint refused the key.", remedy: "Set GORSE_KEY." },
      },
    });
    await userEvent.click((await rowOf("Gorse")).getByRole("button", { name: "Test Gorse" }));
    const alert = await screen.findByRole("alert");
    expect(alert.textContent).toBe("✕ 401: Incorrect key The endpoint refused the key. Set GORSE_KEY.");
  });

  it("is changed in a form that has what it has, and says that a version follows", async () => {
    const requests = show([ENTRANT], { [`PUT /api/entrants/${ENTRANT.id}`]: { ...ENTRANT, version: 2 } });
    await userEvent.click((await rowOf("Gorse")).getByRole("button", { name: "Change Gorse" }));
    const form = within(screen.getByRole("dialog"));
    expect(form.getByRole<HTMLInputElement>("textbox", { name: "Max tokens" }).value).toBe("16000");
    expect(form.getByText(/Another endpoint, model or setting makes another version/)).toBeTruthy();
    await userEvent.clear(form.getByRole("textbox", { name: "Temperature" }));
    await userEvent.type(form.getByRole("textbox", { name: "Temperature" }), "0.2");
    await userEvent.click(form.getByRole("button", { name: "Save" }));
    const put = () => requests.find(({ method }) => method === "PUT");
    await waitFor(() =>
      expect(put()?.body).toMatchObject({ key: "gorse", settings: { temperature: 0.2, maxTokens: 16_000 } }),
    );
  });

  it("is read in from a file, and one that is far too long is not even opened", async () => {
    show([ENTRANT], { "POST /api/entrants/import": problem(422, "line 3: is missing") });
    await userEvent.click(await screen.findByRole("button", { name: "Import…" }));
    const sheet = within(screen.getByRole("dialog"));
    const long = new File(["x"], "entrants.yaml");
    Object.defineProperty(long, "size", { value: 50_000_000 });
    await userEvent.upload(sheet.getByLabelText("File"), long);
    expect((await sheet.findByRole("alert")).textContent).toContain(
      "entrants.yaml is longer than 2 million characters",
    );
    await userEvent.upload(sheet.getByLabelText("File"), new File(["format: x"], "entrants.yaml"));
    const text = sheet.getByRole<HTMLTextAreaElement>("textbox", { name: "The entrants file's text" });
    await waitFor(() => expect(text.value).toBe("format: x"));
  });
});
