import { createServer } from "node:net";
import { describe, expect, it } from "vitest";
import { readReach } from "./reach.js";

describe("how it is to be reached", () => {
  it("is as always when nothing is said", async () => {
    expect(await readReach({}, {})).toEqual({ ports: { app: null, exhibit: null }, settings: {} });
  });

  it("comes from flags, else from the environment", async () => {
    const env = { TOURNEY_PUBLIC_URL: "https://other.example", TOURNEY_PORT: "4999" };
    expect(await readReach({ publicUrl: "https://tourney.example/", exhibitPort: "4998" }, env)).toEqual({
      ports: { app: 4999, exhibit: 4998 },
      settings: { TOURNEY_PUBLIC_URL: "https://tourney.example" },
    });
  });

  it.each([
    [{ port: "0" }, /--port 0/],
    [{ exhibitPort: "many" }, /--exhibit-port many/],
    [{ port: "4997", exhibitPort: "4997" }, /--port and --exhibit-port 4997/],
    [{ listen: "everywhere" }, /--listen everywhere/],
    [{ listen: "0.0.0.0" }, /--listen 0.0.0.0 alone/],
    [{ publicUrl: "tourney.example" }, /--public-url/],
    [{ publicUrl: "https://tourney.example/app" }, /--public-url/],
    [{ stagesUrl: "https://a.*.example" }, /--stages-url/],
  ])("is refused where it cannot be: %j", async (flags, message) => {
    await expect(readReach(flags, {})).rejects.toMatchObject({
      code: "INVALID_INPUT",
      message: expect.stringMatching(message) as string,
    });
  });

  it("is refused on a port that another program holds", async () => {
    const other = createServer();
    await new Promise<void>((resolve) => other.listen(0, "127.0.0.1", resolve));
    const { port } = other.address() as { port: number };
    await expect(readReach({ port: String(port) }, {})).rejects.toMatchObject({
      message: `Port ${port} cannot be used.`,
    });
    other.close();
  });
});
