import { act, screen } from "@testing-library/react";
import { expect, it } from "vitest";
import { COURSE, EDITION } from "../../../test-support/fixtures.js";
import { renderScreen, stubServer } from "../../../test-support/render-screen.js";
import { CourseBar } from "./CourseBar.js";

const show = () => renderScreen(<CourseBar />, { path: "/wall" });

it("says that there is no suite only once the server has said so", async () => {
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

it("keeps its figures when the address comes to name the edition they are of, and drops them when it names another", async () => {
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
