import { describe, expect, it } from "vitest";
import * as z from "zod";
import type { Stamp } from "./changes.js";
import { Kept, type KeptOptions } from "./kept.js";
import { KeptAnswers, type KeptCall, toTagged } from "./kept-answers.js";

/** Keeps answers under a stamp that the test moves, and counts how often each was read. */
function keep({ tookMs = 0, ...options }: KeptOptions & { tookMs?: number } = {}) {
  const state: { stamp: Stamp | null } = { stamp: { own: 0, told: 0 } };
  const reminders: number[] = [];
  const failures: unknown[] = [];
  const kept = new KeptAnswers(
    {
      stamp: () => Promise.resolve(state.stamp && { ...state.stamp }),
      remind: (afterMs) => void reminders.push(afterMs),
      report: (error) => void failures.push(error),
    },
    options,
  );
  const reads: string[] = [];
  const get = async (key: string, text = key) => {
    const found = await kept.getText(key, async () => {
      reads.push(text);
      await new Promise((resolve) => setTimeout(resolve, tookMs));
      return text;
    });
    return found.getText();
  };
  return { state, kept, reads, get, reminders, failures };
}

describe("answers that are kept", () => {
  it("are read once while nothing changes, and each by its address", async () => {
    const { get, reads } = keep();
    expect(await get("a")).toBe("a");
    expect(await get("a", "anew")).toBe("a");
    expect(await get("b")).toBe("b");
    expect(reads).toEqual(["a", "b"]);
  });

  it("are read again after a change by anybody", async () => {
    const { state, get } = keep();
    await get("a", "first");
    state.stamp = { own: 1, told: 0 };
    expect(await get("a", "second")).toBe("second");
    state.stamp = { own: 1, told: 1 };
    expect(await get("a", "third")).toBe("third");
  });

  it("are read once for all who ask at the same time", async () => {
    const { get, reads } = keep({ tookMs: 20 });
    expect(await Promise.all([get("a"), get("a", "x"), get("a", "y")])).toEqual(["a", "a", "a"]);
    expect(reads).toEqual(["a"]);
  });

  it("rest as long as what they are says", async () => {
    const stamp = { own: 0, told: 0 };
    const kept = new Kept<number>({ stamp: () => Promise.resolve({ ...stamp }) });
    const read = async (key: string, value: number) =>
      kept.get(
        key,
        () => Promise.resolve(value),
        (_, is) => is * 60_000,
      );
    expect([await read("few", 0), await read("many", 1)]).toEqual([0, 1]);
    stamp.told = 1;
    expect([await read("few", 2), await read("many", 2)]).toEqual([2, 1]);
  });

  it("are told to be read again where an old one was given after a change, when its rest is over", async () => {
    const { state, get, reminders } = keep({ rests: 3, tookMs: 250 });
    await get("a", "first");
    expect(await get("a", "second")).toBe("first");
    expect(reminders).toEqual([]);
    state.stamp = { own: 0, told: 1 };
    expect(await get("a", "third")).toBe("first");
    expect(reminders).toHaveLength(1);
    await new Promise((resolve) => setTimeout(resolve, reminders[0]));
    expect(await get("a", "fourth")).toBe("fourth");
  });

  it("are not what was read while something changed", async () => {
    const { state, kept, get } = keep();
    await kept.getText("a", () => {
      state.stamp = { own: 0, told: 1 };
      return Promise.resolve("before");
    });
    expect(await get("a", "after")).toBe("after");
  });

  it("rest where they were slow to read, but never against this server's own changes", async () => {
    const { state, get } = keep({ rests: 50, tookMs: 250 });
    await get("a", "first");
    state.stamp = { own: 0, told: 1 };
    expect(await get("a", "second")).toBe("first");
    state.stamp = { own: 1, told: 1 };
    expect(await get("a", "third")).toBe("third");
  });

  it("rest after less where that is said", async () => {
    const state = { told: 0 };
    const kept = new Kept<number>(
      { stamp: () => Promise.resolve({ own: 0, told: state.told }) },
      { rests: 100, quickMs: 5 },
    );
    let reads = 0;
    const get = () =>
      kept.get("a", async () => {
        reads++;
        await new Promise((resolve) => setTimeout(resolve, 20));
        return reads;
      });
    await get();
    state.told++;
    expect(await get()).toBe(1);
  });

  it("rest for as long as their operation says when one has been read, however long that took", async () => {
    const { kept, state, reads } = keep({ rests: 50 });
    const operation = { id: "getReport", params: z.object({ of: z.string() }), query: z.object({}) };
    const answer = kept.offer(operation, ({ params }) => {
      const text = `${reads.length}`;
      reads.push(text);
      return Promise.resolve(`${text} ${JSON.stringify(params)}`);
    });
    let restMs: number | null = 60_000;
    kept.pace(operation, ({ params }) => (params.of === "all" ? restMs : null));
    const get = async (of: string) => (await (await answer({ params: { of }, query: {} })).getText())[0];
    expect([await get("all"), await get("other")]).toEqual(["0", "1"]);
    state.stamp = { own: 0, told: 1 };
    // The other was quick.
    expect([await get("all"), await get("other")]).toEqual(["0", "2"]);
    restMs = 0;
    state.stamp = { own: 1, told: 1 };
    expect(await get("all")).toBe("3");
    state.stamp = { own: 1, told: 2 };
    expect(await get("all")).toBe("4");
  });

  it("give the last text while a slow one is read again, and tell pages when it has been read", async () => {
    const { state, get, reads, reminders } = keep({ rests: 0.001, tookMs: 1050 });
    await get("a", "first");
    state.stamp = { own: 0, told: 1 };
    await new Promise((resolve) => setTimeout(resolve, 10));
    expect(await get("a", "second")).toBe("first");
    state.stamp = { own: 0, told: 2 };
    expect(await get("a", "x")).toBe("first");
    expect(reminders).toEqual([]);
    await new Promise((resolve) => setTimeout(resolve, 1100));
    expect(reminders).toEqual([0]);
    state.stamp = { own: 0, told: 1 };
    expect(await get("a", "third")).toBe("second");
    expect(reads).toEqual(["first", "second"]);
    // A change of one's own is never missing from what follows it, even while others' are read.
    state.stamp = { own: 0, told: 2 };
    await new Promise((resolve) => setTimeout(resolve, 10));
    expect(await get("a", "fourth")).toBe("second");
    state.stamp = { own: 1, told: 2 };
    expect(await get("a", "fifth")).toBe("fifth");
  });

  it("give the last text in place of one that took less, where that is said", async () => {
    const asUsual = keep({ rests: 0.001, tookMs: 60 });
    const sooner = keep({ rests: 0.001, tookMs: 60, slowMs: 50 });
    const getAfterChange = async ({ state, get }: typeof asUsual) => {
      await get("a", "first");
      state.stamp = { own: 0, told: 1 };
      return get("a", "second");
    };
    expect(await getAfterChange(asUsual)).toBe("second");
    expect(await getAfterChange(sooner)).toBe("first");
    await expect.poll(() => sooner.reminders).toEqual([0]);
    expect(await sooner.get("a", "third")).toBe("second");
  });

  it("are read after the last change for whoever keeps a pace of its own; others get the last one meanwhile", async () => {
    const { state, kept, get, reads } = keep({ rests: 50, tookMs: 1050 });
    await get("a", "first");
    const readFresh = (text: string) =>
      kept.getFresh("a", async () => {
        reads.push(text);
        await new Promise((resolve) => setTimeout(resolve, 50));
        return toTagged(text);
      });
    expect(await (await readFresh("unchanged")).getText()).toBe("first");
    state.stamp = { own: 0, told: 1 };
    const second = readFresh("second");
    await new Promise((resolve) => setTimeout(resolve, 10));
    expect(await get("a", "x")).toBe("first");
    // Something has changed again meanwhile.
    state.stamp = { own: 0, told: 2 };
    const third = readFresh("third");
    await new Promise((resolve) => setTimeout(resolve, 10));
    expect(await get("a", "x")).toBe("first");
    expect(await Promise.all([second, third].map(async (one) => (await one).getText()))).toEqual(["second", "third"]);
    expect(await get("a", "x")).toBe("third");
    expect(reads).toEqual(["first", "second", "third"]);
  });

  it("are read every time while nothing can be told, and when reading fails", async () => {
    const { state, kept, get, reads } = keep();
    state.stamp = null;
    await get("a", "1");
    await get("a", "2");
    expect(reads).toEqual(["1", "2"]);
    state.stamp = { own: 0, told: 0 };
    await expect(kept.getText("a", () => Promise.reject(new Error("away")))).rejects.toThrow("away");
    expect(await get("a", "3")).toBe("3");
  });

  it("report a reading that fails while the last text is given in its place, and whoever asks next gets the error", async () => {
    const { state, kept, get, failures } = keep({ rests: 0.001, tookMs: 1050 });
    await get("a", "first");
    state.stamp = { own: 0, told: 1 };
    await new Promise((resolve) => setTimeout(resolve, 10));
    const fail = () => Promise.reject(new Error("away"));
    expect(await (await kept.getText("a", fail)).getText()).toBe("first");
    await expect.poll(() => failures.map(String)).toEqual(["Error: away"]);
    await expect(kept.getText("a", fail)).rejects.toThrow("away");
    // That one was waited for: it is for whoever asked to tell of it.
    expect(failures).toHaveLength(1);
  });

  it("have a tag that tells them apart, and are few", async () => {
    const { kept, get, reads } = keep();
    const [a, b] = [
      await kept.getText("a", () => Promise.resolve("one")),
      await kept.getText("b", () => Promise.resolve("two")),
    ];
    expect(a.tag).not.toBe(b.tag);
    for (let i = 0; i < 20; i++) await get(`key ${i}`);
    await get("key 0");
    expect(reads.filter((text) => text === "key 0")).toHaveLength(2);
  });

  it("are those of an operation, which can be read before anybody asks", async () => {
    const { kept } = keep();
    const operation = { id: "getReport", query: z.object({ take: z.coerce.number().default(1) }) };
    const read: KeptCall[] = [];
    const answer = kept.offer(operation, (call) => {
      read.push(call);
      return Promise.resolve(JSON.stringify(call));
    });
    const asIs = { params: { editionId: "a" }, query: { take: 1 } };
    await kept.readFresh(operation, asIs.params);
    expect(await (await answer(asIs)).getText()).toBe(JSON.stringify(asIs));
    expect(read).toEqual([asIs]);
    await answer({ ...asIs, query: { take: 2 } });
    await answer({ ...asIs, params: { editionId: "b" } });
    expect(read).toHaveLength(3);
    expect(await (await kept.readFresh(operation, { editionId: "b" })).getText()).toBe(
      JSON.stringify({ ...asIs, params: { editionId: "b" } }),
    );
    expect(read).toHaveLength(3);
    await expect(kept.readFresh({ ...operation, id: "getOther" }, asIs.params)).rejects.toThrow("getOther");
  });
});
