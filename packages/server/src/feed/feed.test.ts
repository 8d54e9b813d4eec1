import { EventEmitter } from "node:events";
import type { Response } from "express";
import type { Pool } from "pg";
import { pino } from "pino";
import { afterEach, beforeEach, expect, it, vi } from "vitest";
import { Feed } from "./feed.js";

const TOOK_MS = 300;
const REST_MS = 4800;

/** A database that tells what the test says, and a page that looks at one subject, which takes a while to be read. */
async function open(restOf = () => REST_MS) {
  const client = Object.assign(new EventEmitter(), { query: () => Promise.resolve(), release: () => undefined });
  const pool = { connect: () => Promise.resolve(client) } as unknown as Pool;
  const begunAt: number[] = [];
  const feed = new Feed({
    ...{ pool, log: pino({ level: "silent" }), channel: "moves", event: "moved" },
    read: async () => {
      begunAt.push(Date.now());
      const n = begunAt.length;
      await new Promise((resolve) => setTimeout(resolve, TOOK_MS));
      return JSON.stringify({ n });
    },
    intervalMs: 400,
    restOf,
  });
  const sent: string[] = [];
  const page = Object.assign(new EventEmitter(), {
    write: (text: string) => sent.push(text),
    writableLength: 0,
    end: () => undefined,
  });
  feed.subscribe("subject", page as unknown as Response);
  await vi.advanceTimersByTimeAsync(0);
  const move = () => client.emit("notification", { payload: "subject" });
  return { feed, begunAt, sent, move };
}

beforeEach(() => void vi.useFakeTimers());
afterEach(() => void vi.useRealTimers());

it("what moves while it is read is read again, after the rest that reading it earned", async () => {
  const { feed, begunAt, sent, move } = await open();
  const startedAt = Date.now();
  await vi.advanceTimersByTimeAsync(100);
  move();
  await vi.advanceTimersByTimeAsync(TOOK_MS + REST_MS - 200);
  expect(begunAt).toEqual([startedAt]);
  await vi.advanceTimersByTimeAsync(200 + TOOK_MS);
  expect(begunAt).toEqual([startedAt, startedAt + TOOK_MS + REST_MS]);
  expect(sent.map((text) => /"n":(\d)/.exec(text)![1])).toEqual(["1", "2"]);
  // Nothing has moved since.
  await vi.advanceTimersByTimeAsync(60_000);
  expect(begunAt).toHaveLength(2);
  feed.close();
});

it("asks how long it rests each time when it has been read", async () => {
  const rests = [1500, 8000];
  const { feed, begunAt, move } = await open(() => rests[begunAt.length - 1] ?? 0);
  const startedAt = Date.now();
  await vi.advanceTimersByTimeAsync(TOOK_MS + 1);
  move();
  await vi.advanceTimersByTimeAsync(1500 + TOOK_MS);
  move();
  await vi.advanceTimersByTimeAsync(20_000);
  const second = startedAt + TOOK_MS + 1500;
  expect(begunAt).toEqual([startedAt, second, second + TOOK_MS + 8000]);
  feed.close();
});

it("all that moves while it rests is read once", async () => {
  const { feed, begunAt, move } = await open();
  await vi.advanceTimersByTimeAsync(TOOK_MS + 10);
  for (let i = 0; i < 5; i++) {
    move();
    await vi.advanceTimersByTimeAsync(300);
  }
  await vi.advanceTimersByTimeAsync(20_000);
  expect(begunAt).toHaveLength(2);
  feed.close();
});
