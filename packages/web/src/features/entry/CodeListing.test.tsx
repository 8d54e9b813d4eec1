import { screen } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { ENTRY } from "../../../test-support/fixtures.js";
import { renderScreen } from "../../../test-support/render-screen.js";
import { CodePlace, readPlace } from "./CodeListing.js";

const entry = { ...ENTRY, fileTexts: [{ path: "index.html", text: "a\nb\nc" }] };

describe("a place in the code", () => {
  it("is read where it names a file of the entry, and only there", () => {
    expect(readPlace("index.html:3", entry)).toEqual({ path: "index.html", line: 3 });
    expect(readPlace("TypeError at index.html:2:14", entry)).toEqual({ path: "index.html", line: 2 });
    expect(readPlace("https://elsewhere.example/lib.js:3", entry)).toBeNull();
    expect(readPlace("button “Plan”", entry)).toBeNull();
  });

  it("is a link to that line, and keeps the rest of the address", () => {
    renderScreen(<CodePlace text="index.html:3" entry={entry} />, {
      path: "/entries/1",
      address: "/entries/1?view=recording",
    });
    const link = screen.getByRole("link", { name: "index.html:3" });
    expect(link.getAttribute("href")).toBe("/entries/1?view=recording&tab=code&place=index.html%3A3");
  });
});
