import { render } from "@testing-library/react";
import type { ReactElement } from "react";
import { Provider } from "react-redux";
import { createMemoryRouter, RouterProvider } from "react-router";
import { Toaster } from "sonner";
import { vi } from "vitest";
import { createStore } from "../src/app/store.js";

/** What the stubbed server answers: by method and path, a body, or a status with a body. */
export type Answers = Record<string, unknown>;

export const problem = (status: number, detail: string, issues: { path: string; message: string }[] = []) => ({
  status,
  body: {
    type: "tourney:x",
    title: "Error",
    status,
    code: "CONFLICT",
    detail,
    remedy: "Do something else.",
    requestId: "r-1",
    issues,
  },
});

const isWithStatus = (answer: unknown): answer is { status: number; body: unknown } =>
  typeof answer === "object" && answer !== null && "status" in answer && "body" in answer;

/** Stubs `fetch`; returns the requests it got. Answers may be changed while the test runs. */
export function stubServer(answers: Answers): { method: string; path: string; body: unknown }[] {
  const requests: { method: string; path: string; body: unknown }[] = [];
  vi.stubGlobal("fetch", async (request: Request) => {
    const url = new URL(request.url);
    const path = url.pathname + url.search;
    const text = await request.clone().text();
    requests.push({ method: request.method, path, body: text === "" ? undefined : JSON.parse(text) });
    const answer = await answers[`${request.method} ${path}`];
    if (answer === undefined) throw new TypeError("Failed to fetch");
    const { status, body } = isWithStatus(answer) ? answer : { status: 200, body: answer };
    return new Response(JSON.stringify(body), { status, headers: { "Content-Type": "application/json" } });
  });
  return requests;
}

/** Shows a screen at an address, through a store and a router of its own. */
export function renderScreen(
  element: ReactElement,
  { path = "/", address = path }: { path?: string; address?: string } = {},
) {
  const router = createMemoryRouter(
    [
      { path, element },
      { path: "*", element: <p>Another page</p> },
    ],
    { initialEntries: [address] },
  );
  return {
    router,
    ...render(
      <Provider store={createStore()}>
        <RouterProvider router={router} />
        <Toaster />
      </Provider>,
    ),
  };
}
