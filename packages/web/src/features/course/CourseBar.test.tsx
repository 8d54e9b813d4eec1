import type { Course } from "@tourney/core/contract";
import { act, screen } from "@testing-library/react";
import { expect, it } from "vitest";
import { EDITION } from "../../../test-support/fixtures.js";
import { renderScreen, stubServer } from "../../../test-support/render-screen.js";
import { CourseBar } from "./CourseBar.js";

const COURSE: Course = {
  title: EDITION.suiteTitle,
  sample: false,
  edition: EDITION,
  entrants: 8,
  cells: { total: 16, answered: 16, failed: 0, open: 0, costUsd: 0.2 },
  needLook: 3,
  ballots: 0,
  voters: 0,
  leaders: [],
  next: "wall",
};
const show = () => renderScreen(<CourseBar />, { path: "/wall" });

it("says nothing while it is read, and that there is no suite once that is known", async () => {
  let answer = (_course: unknown): void => undefined;
  stubServer({
    "GET /api/editions": [],
    "GET /api/course": new Promise((resolve) => {
      answer = resolve;
    }),
  });
  show();
  expect(screen.queryByText("no suite yet")).toBeNull();
  answer({ ...COURSE, title: null, edition: null });
  expect(await screen.findByText("no suite yet")).toBeTruthy();
});

it("goes on showing what it shows while the address comes to name its edition, and nothing of it under another", async () => {
  const never = new Promise(() => undefined);
  stubServer({
    "GET /api/editions": [EDITION],
    "GET /api/course": COURSE,
    [`GET /api/course?edition=${EDITION.id}`]: never,
    "GET /api/course?edition=another": never,
  });
  const { router } = show();
  expect(await screen.findByText("3 need a look")).toBeTruthy();
  await act(() => router.navigate(`/wall?edition=${EDITION.id}`));
  expect(screen.getByText(EDITION.suiteTitle)).toBeTruthy();
  expect(screen.getByText("3 need a look")).toBeTruthy();
  await act(() => router.navigate("/wall?edition=another"));
  expect(screen.queryByText("3 need a look")).toBeNull();
});
