import { describe, expect, it } from "vitest";
import * as z from "zod";
import { askWhatChanged } from "./ask-what-changed.js";
import { BAD_ANSWER } from "./tourney-api.js";

const schema = z.object({ n: z.number() });

/** A server with one answer and its tag; keeps what it was asked with. */
function serve(answer: { n: unknown; tag: string }) {
  const asked: (string | undefined)[] = [];
  const ask = ({ headers, validateStatus }: Parameters<Parameters<typeof askWhatChanged>[1]["ask"]>[0]) => {
    const held = (headers as Record<string, string> | undefined)?.["If-None-Match"];
    asked.push(held);
    const status = held === answer.tag ? 304 : 200;
    const response = new Response(null, { status, headers: { ETag: answer.tag } });
    expect(validateStatus!(response, null)).toBe(true);
    return { data: status === 304 ? null : { n: answer.n }, meta: { response } };
  };
  return { answer, asked, get: (url: string) => askWhatChanged({ url }, { ask, schema }) };
}

describe("a large answer that is asked for again", () => {
  it("is the same object while the server has no other", async () => {
    const { answer, asked, get } = serve({ n: 1, tag: "a" });
    const first = await get("wall/same");
    const again = await get("wall/same");
    expect(first.data).toEqual({ n: 1 });
    expect(again.data).toBe(first.data);
    Object.assign(answer, { n: 2, tag: "b" });
    expect((await get("wall/same")).data).toEqual({ n: 2 });
    expect(asked).toEqual([undefined, "a", "a"]);
  });

  it("is held by its address, and only the last few are", async () => {
    const { asked, get } = serve({ n: 1, tag: "a" });
    for (const url of ["wall/1", "wall/2", "wall/3", "wall/4", "wall/5", "wall/1"]) await get(url);
    expect(asked).toEqual(Array.from({ length: 6 }, () => undefined));
    await get("wall/5");
    expect(asked.at(-1)).toBe("a");
  });

  it("is asked by its cursor where the server sends what has changed", async () => {
    const follow = {
      cursorOf: ({ n }: { n: number }) => `cursor ${n}`,
      join: (held: { n: number }, sent: { n: number }) => ({ n: held.n + sent.n }),
    };
    const asked: unknown[] = [];
    const ask = ({ params }: { params?: Record<string, unknown> | undefined }) => {
      asked.push(params);
      return {
        data: { n: 10 ** asked.length },
        meta: { response: new Response(null, { headers: { ETag: String(asked.length) } }) },
      };
    };
    const get = () => askWhatChanged({ url: "wall/followed", params: { take: "2" } }, { ask, schema, follow });
    expect([await get(), await get(), await get()]).toEqual([
      { data: { n: 10 } },
      { data: { n: 110 } },
      { data: { n: 1110 } },
    ]);
    expect(asked).toEqual([{ take: "2" }, { take: "2", since: "cursor 10" }, { take: "2", since: "cursor 110" }]);
  });

  it("is refused when it is of another shape, and an error is handed on", async () => {
    expect((await serve({ n: "one", tag: "a" }).get("wall/wrong")).error).toBe(BAD_ANSWER);
    const error = { ...BAD_ANSWER, code: "OFFLINE" };
    expect((await askWhatChanged({ url: "wall/away" }, { ask: () => ({ error }), schema })).error).toBe(error);
  });
});
