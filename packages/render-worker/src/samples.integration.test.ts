import { openShelf } from "@tourney/store";
import { describe, expect, it } from "vitest";
import { listSamples, readSampleList, recordSample } from "../test-support/samples.js";

const samples = listSamples();
const list = readSampleList();
const prompts = [...new Set(samples.map(({ prompt }) => prompt))];
/** Libraries of a shelf are not there in every test run. */
const needsLibrary = (files: Record<string, string>) =>
  /https:\/\/(?:cdn|unpkg|cdnjs)/.test(Object.values(files).join());

describe("the samples of the made-up models", () => {
  it("are all in the list, and nothing else is", () => {
    const names = samples.map(({ prompt, page }) => `${prompt}/${page}`).toSorted();
    expect(
      Object.entries(list)
        .flatMap(([prompt, pages]) => Object.keys(pages).map((page) => `${prompt}/${page}`))
        .toSorted(),
    ).toEqual(names);
  });

  // Another model's page for each prompt; `npm run samples` records all of them.
  it.each(
    prompts.map((prompt, i) => {
      const own = samples.filter((sample) => sample.prompt === prompt && !needsLibrary(sample.files));
      return own[(i * 3) % own.length]!;
    }),
  )("$prompt by $page is recorded as the list says", async (sample) => {
    expect(await recordSample(sample, openShelf("/no/such/shelf"))).toEqual(list[sample.prompt]![sample.page]);
  });
});
