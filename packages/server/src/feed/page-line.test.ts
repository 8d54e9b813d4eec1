import { createServer } from "node:http";
import { once } from "node:events";
import { connect, type AddressInfo } from "node:net";
import express, { type Response } from "express";
import { expect, it } from "vitest";
import { openLine, sendEvent } from "./page-line.js";

it("ends the line of a page that does not read, before it holds much", async () => {
  let page: Response | undefined;
  const app = express();
  app.get("/", (_request, response) => {
    openLine(response);
    page = response;
  });
  const server = createServer(app).listen(0, "127.0.0.1");
  await once(server, "listening");
  const socket = connect((server.address() as AddressInfo).port, "127.0.0.1").on("error", () => undefined);
  socket.pause();
  socket.write("GET / HTTP/1.1\r\nHost: localhost\r\n\r\n");
  await expect.poll(() => page !== undefined).toBe(true);
  const data = "x".repeat(100_000);
  let most = 0;
  for (let i = 0; i < 500 && !page!.destroyed; i++) {
    sendEvent(page!, "standings", data);
    most = Math.max(most, page!.writableLength);
    if (i % 10 === 0) await new Promise((resolve) => setImmediate(resolve));
  }
  expect(page!.destroyed).toBe(true);
  expect(most).toBeLessThan(5_000_000);
  socket.destroy();
  server.close();
});
