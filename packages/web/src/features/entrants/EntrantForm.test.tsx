import { screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { type Entrant, EntrantInput } from "@tourney/core/contract";
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { ENTRANT } from "../../../test-support/fixtures.js";
import { problem, renderScreen, stubServer } from "../../../test-support/render-screen.js";
import { EntrantForm } from "./EntrantForm.js";
import { toDraft, toEntrantInput } from "./entrant-draft.js";

const show = (answer: unknown = {}) => {
  const requests = stubServer({ "POST /api/entrants": answer, "GET /api/entrants": [] });
  renderScreen(<EntrantForm open onOpenChange={() => undefined} />);
  return { sent: () => requests.filter(({ method }) => method === "POST") };
};
const fill = async (fields: Record<string, string>) => {
  for (const [label, text] of Object.entries(fields))
    await userEvent.type(screen.getByRole("textbox", { name: label }), text);
};
const GOOD = {
  Name: "Gorse 2",
  "Base URL": "http://localhost:9105/v1",
  "Model id": "gorse-2",
  Temperature: "0.7",
  "Input price": "3",
  "Output price": "15",
};

describe("the entrant form", () => {
  it("sends what is filled in, and leaves out what is not", async () => {
    const requests = show();
    await fill(GOOD);
    await userEvent.click(screen.getByRole("button", { name: "Add" }));
    await waitFor(() => expect(requests.sent()).toHaveLength(1));
    expect(requests.sent()[0]!.body).toMatchObject({
      key: "gorse-2",
      name: "Gorse 2",
      endpoint: { protocol: "chat-completions", baseUrl: "http://localhost:9105/v1", concurrency: 2 },
      settings: { temperature: 0.7 },
      prices: { input: 3, output: 15, currency: "USD" },
    });
    expect(requests.sent()[0]!.body).not.toHaveProperty("settings.topP");
  });

  it("says beside the field what is wrong, sends nothing and keeps the text", async () => {
    const requests = show();
    await fill({ ...GOOD, Temperature: "warm", "Key variable": "sk-123" });
    await userEvent.click(screen.getByRole("button", { name: "Add" }));
    const variable = screen.getByRole("textbox", { name: "Key variable" });
    expect(variable.getAttribute("aria-invalid")).toBe("true");
    expect(screen.getByText(/give the name of an environment variable/)).toBeTruthy();
    expect(screen.getByRole("textbox", { name: "Temperature" }).getAttribute("aria-invalid")).toBe("true");
    expect(screen.getByRole<HTMLInputElement>("textbox", { name: "Name" }).value).toBe("Gorse 2");
    expect(requests.sent()).toEqual([]);
  });

  it("shows what the server refuses", async () => {
    show(problem(409, 'The name "Gorse 2" is taken.'));
    await fill(GOOD);
    await userEvent.click(screen.getByRole("button", { name: "Add" }));
    expect((await screen.findByRole("alert")).textContent).toContain("is taken");
  });

  it("drops nothing: a price with one member filled in says what is missing", async () => {
    const requests = show();
    await fill({
      Name: "Gorse 2",
      "Base URL": "http://localhost:9105/v1",
      "Model id": "gorse-2",
      "Price a request": "0.1",
    });
    await userEvent.click(screen.getByRole("button", { name: "Add" }));
    expect(screen.getByRole("textbox", { name: "Input price" }).getAttribute("aria-invalid")).toBe("true");
    expect(requests.sent()).toEqual([]);
  });
});

describe("saving an entrant that nobody changed", () => {
  const text = (least: number, most: number) =>
    fc
      .string({ unit: "grapheme-ascii", minLength: least, maxLength: most })
      .filter((value) => value.trim() === value && value.length >= least);
  const price = fc.record(
    {
      input: fc.integer({ min: 0, max: 100 }),
      output: fc.double({ min: 0, max: 1000, noNaN: true }),
      cachedInput: fc.integer({ min: 0, max: 9 }),
      reasoning: fc.integer({ min: 0, max: 9 }),
      perRequest: fc.integer({ min: 0, max: 9 }),
      currency: fc.constantFrom("USD", "EUR"),
      usdRate: fc.double({ min: 0.5, max: 2, noNaN: true }),
      validFrom: fc.constantFrom("2026-01-01", "2026-02-01"),
      validUntil: fc.constantFrom("2026-03-31", "2026-12-31"),
    },
    { requiredKeys: ["input", "output", "currency", "usdRate"] },
  );
  const entrant = fc.record(
    {
      key: fc.constantFrom("gorse", "gorse-2"),
      name: text(1, 20),
      maker: text(0, 20),
      aliases: fc.array(fc.constantFrom("Gorse, the 2nd", "gorse-two", "Ginster"), { maxLength: 3 }),
      predecessor: fc.constant("heath"),
      model: text(1, 20),
      endpoint: fc.oneof(
        fc.constant({ protocol: "by-hand" }),
        fc.record(
          {
            protocol: fc.constantFrom("chat-completions", "messages"),
            baseUrl: fc.constant("http://localhost:9105/v1"),
            keyVariable: fc.constant("GORSE_KEY"),
            concurrency: fc.integer({ min: 1, max: 256 }),
            requestsPerMinute: fc.integer({ min: 1, max: 900 }),
            tokensPerMinute: fc.integer({ min: 1, max: 900 }),
          },
          { requiredKeys: ["protocol", "baseUrl", "concurrency"] },
        ),
      ),
      settings: fc.record(
        {
          temperature: fc.double({ min: 0, max: 2, noNaN: true }),
          maxTokens: fc.integer({ min: 1, max: 1000 }),
          reasoningEffort: fc.constantFrom("none", "high"),
          systemPrompt: fc.constant("Be brief.\nBe kind."),
          extra: fc.constant({ top_k: 40, stop: ["a", "b"] }),
          timeLimits: fc.constant({ totalSeconds: 77 }),
        },
        { requiredKeys: [] },
      ),
      prices: fc.oneof(price, fc.array(price, { minLength: 1, maxLength: 3 })),
    },
    { requiredKeys: ["key", "name", "model", "endpoint"] },
  );

  it("changes nothing of it, whatever its prices, names and settings are", () => {
    fc.assert(
      fc.property(entrant, (given) => {
        const input = EntrantInput.parse(given);
        const known = { ...ENTRANT, ...input, predecessor: input.predecessor, prices: input.prices } as Entrant;
        const context = {
          protocol: input.endpoint.protocol,
          key: input.key,
          hadPriceList: Array.isArray(input.prices),
        };
        expect(EntrantInput.parse(toEntrantInput(toDraft(known), context))).toEqual(input);
      }),
    );
  });

  it("sends all of a dated price list back, also through the form", async () => {
    const prices = [
      { input: 1, output: 2, currency: "EUR", usdRate: 1.1, validUntil: "2026-05-31" },
      { input: 3, output: 4, currency: "USD", validFrom: "2026-06-01" },
    ];
    const requests = stubServer({ [`PUT /api/entrants/${ENTRANT.id}`]: ENTRANT, "GET /api/entrants": [ENTRANT] });
    renderScreen(
      <EntrantForm open onOpenChange={() => undefined} entrant={{ ...ENTRANT, prices, aliases: ["Gorse, the 2nd"] }} />,
    );
    await userEvent.type(screen.getByRole("textbox", { name: "Maker" }), " and Sons");
    await userEvent.click(screen.getByRole("button", { name: "Save" }));
    await waitFor(() => expect(requests.some(({ method }) => method === "PUT")).toBe(true));
    expect(requests.find(({ method }) => method === "PUT")!.body).toMatchObject({
      maker: "Somebody and Sons",
      aliases: ["Gorse, the 2nd"],
      prices,
    });
  });
});
