import { once } from "node:events";
import { createServer } from "node:http";
import type { AddressInfo } from "node:net";
import { API } from "@tourney/core/contract";
import express, { Router } from "express";
import { afterAll, beforeAll, expect, it } from "vitest";
import { noteChanges } from "./middleware.js";

let noted = 0;
const app = express();
const server = createServer(app);
let origin: string;

beforeAll(async () => {
  app.use(noteChanges({ noteOwn: () => noted++ }));
  const router = Router();
  for (const { method, path } of Object.values(API)) {
    router[method](path, (_request, response) => void response.json({ noted }));
  }
  app.use(router);
  server.listen(0, "127.0.0.1");
  await once(server, "listening");
  origin = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
});
afterAll(() => server.close());

/** How many changes were noted by the time the answer is there. */
async function ask({ method, path }: { method: string; path: string }): Promise<number> {
  const before = noted;
  await (await fetch(origin + path.replaceAll(/:\w+/g, "x"), { method: method.toUpperCase() })).text();
  return noted - before;
}

it("a lead's change is noted before its answer is there; reading and voting are not", async () => {
  expect(await ask(API.voidBallot)).toBe(1);
  expect(await ask(API.changePanel)).toBe(1);
  expect(await ask(API.restoreBallot)).toBe(1);
  expect(await ask({ method: "post", path: "/api/nothing/of/this/name" })).toBe(1);
  expect(await ask(API.getStandings)).toBe(0);
  expect(await ask(API.castBallot)).toBe(0);
});

it("signing in, filling in a sheet and what else is read each time are not noted", async () => {
  expect(await ask(API.signIn)).toBe(0);
  expect(await ask(API.saveSheet)).toBe(0);
  expect(await ask(API.removeSheet)).toBe(0);
  expect(await ask(API.planRun)).toBe(0);
  // Of another method at the same path, or one beside it, it is not known.
  expect(await ask({ method: "patch", path: API.saveSheet.path })).toBe(1);
  expect(await ask(API.markAnswer)).toBe(1);
});
