import { screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { describe, expect, it } from "vitest";
import { problem, renderScreen, stubServer } from "../../../test-support/render-screen.js";
import { EntrantForm } from "./EntrantForm.js";

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
      prices: { input: 3, output: 0 },
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
});
