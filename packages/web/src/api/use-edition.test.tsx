import { screen, waitFor } from "@testing-library/react";
import { expect, it } from "vitest";
import { EDITION } from "../../test-support/fixtures.js";
import { renderScreen, stubServer } from "../../test-support/render-screen.js";
import { useAddressedEdition, useEdition } from "./use-edition.js";

const NEXT = { ...EDITION, id: "00000000-0000-4000-8000-000000000002", number: 2 };

function Probe() {
  useAddressedEdition();
  const { edition } = useEdition();
  return <p>{edition === undefined ? "not known" : `edition ${edition?.number ?? "none"}`}</p>;
}

const show = (address: string, answers: Record<string, unknown>) => {
  const requests = stubServer(answers);
  return { requests, ...renderScreen(<Probe />, { path: "/suite", address }) };
};

it("names the newest edition in an address that names none", async () => {
  const { router } = show("/suite", { "GET /api/editions": [NEXT, EDITION] });
  await screen.findByText("edition 2");
  await waitFor(() => expect(router.state.location.search).toBe(`?edition=${NEXT.id}`));
});

it("keeps an edition in the address that was frozen after the list was read", async () => {
  const answers: Record<string, unknown> = { "GET /api/editions": [EDITION] };
  const { router } = show(`/suite?edition=${EDITION.id}`, answers);
  await screen.findByText("edition 1");
  answers["GET /api/editions"] = [NEXT, EDITION];
  await router.navigate(`/suite?edition=${NEXT.id}`);
  await screen.findByText("edition 2");
  expect(router.state.location.search).toBe(`?edition=${NEXT.id}`);
});

it("replaces an edition that is gone, having looked for it once", async () => {
  const { router, requests } = show("/suite?edition=gone", { "GET /api/editions": [NEXT, EDITION] });
  await waitFor(() => expect(router.state.location.search).toBe(`?edition=${NEXT.id}`));
  expect(requests).toHaveLength(2);
  await screen.findByText("edition 2");
});
