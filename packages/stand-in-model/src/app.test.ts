import { createServer, type Server } from "node:http";
import type { AddressInfo } from "node:net";
import { extractArtifact } from "@tourney/core/extraction";
import { afterEach, describe, expect, it } from "vitest";
import { createStandIn, type StandInOptions } from "./app.js";
import { composeAnswer } from "./compose-answer.js";
import { loadExhibits } from "./exhibits.js";
import { GRADES, MODELS } from "./models.js";

const servers: Server[] = [];
afterEach(() => {
  for (const server of servers.splice(0)) {
    server.closeAllConnections();
    server.close();
  }
});

async function start(options: Partial<StandInOptions> = {}) {
  const server = createServer(createStandIn({ seed: 1, speed: Infinity, key: null, faults: false, ...options }));
  servers.push(server);
  await new Promise<void>((resolve) => server.listen(0, "127.0.0.1", resolve));
  const base = `http://127.0.0.1:${(server.address() as AddressInfo).port}/v1`;
  const chat = (body: unknown, headers: Record<string, string> = {}) =>
    fetch(`${base}/chat/completions`, {
      method: "POST",
      headers: { "Content-Type": "application/json", ...headers },
      body: JSON.stringify(body),
    });
  return { base, chat };
}

interface Completion {
  model: string;
  choices: { message: { content: string }; finish_reason: string }[];
  usage: { prompt_tokens: number; completion_tokens: number; total_tokens: number };
}
const ASK = {
  model: "samphire-3",
  messages: [
    { role: "user", content: "Build a small game called Lock Keeper for a gallery screen in a museum, please." },
  ],
};
const whole = async (response: Response) => (await response.json()) as Completion;

describe("the stand-in endpoint", () => {
  it("answers whole, with usage and a finish reason", async () => {
    const { chat } = await start();
    const { model, choices, usage } = await whole(await chat(ASK));
    expect(model).toBe("samphire-3");
    expect(choices[0]!.finish_reason).toBe("stop");
    expect(choices[0]!.message.content).toContain("<title>Lock Keeper</title>");
    expect(usage.total_tokens).toBe(usage.prompt_tokens + usage.completion_tokens);
  });

  it("streams the same text in chunks, ended by the usage and [DONE]", async () => {
    const text = (await whole(await (await start()).chat(ASK))).choices[0]!.message.content;
    const response = await (await start()).chat({ ...ASK, stream: true, stream_options: { include_usage: true } });
    expect(response.headers.get("content-type")).toContain("text/event-stream");
    const events = (await response.text())
      .trim()
      .split("\n\n")
      .map((event) => event.replace(/^data: /, ""));
    expect(events.at(-1)).toBe("[DONE]");
    const chunks = events.slice(0, -1).map(
      (event) =>
        JSON.parse(event) as {
          choices: { delta: { content?: string }; finish_reason: string | null }[];
          usage?: object;
        },
    );
    expect(chunks.map(({ choices }) => choices[0]?.delta.content ?? "").join("")).toBe(text);
    expect(chunks.at(-2)!.choices[0]!.finish_reason).toBe("stop");
    expect(chunks.at(-1)!.usage).toBeDefined();
  });

  it("stops at the token limit and says so", async () => {
    const { choices, usage } = await whole(await (await start()).chat({ ...ASK, max_tokens: 50 }));
    expect([choices[0]!.finish_reason, usage.completion_tokens]).toEqual(["length", 50]);
  });

  it.each([
    ["an unknown model", { ...ASK, model: "nobody" }, 404],
    ["no messages", { ...ASK, messages: [] }, 400],
    ["a limit below one", { ...ASK, max_tokens: 0 }, 400],
  ])("refuses %s with an error body", async (_what, body, status) => {
    const response = await (await start()).chat(body);
    expect(response.status).toBe(status);
    expect(((await response.json()) as { error: { message: string } }).error.message).not.toBe("");
  });

  it("lists its models, and asks for the key when it has one", async () => {
    const { base } = await start({ key: "k" });
    expect((await fetch(`${base}/models`)).status).toBe(401);
    const response = await fetch(`${base}/models`, { headers: { Authorization: "Bearer k" } });
    expect(((await response.json()) as { data: { id: string }[] }).data.map(({ id }) => id)).toEqual(
      MODELS.map(({ id }) => id),
    );
  });

  it("is busy now and then, once for a request, with a time to come back", async () => {
    let busy = 0;
    for (let seed = 0; seed < 24; seed++) {
      const { chat } = await start({ seed, faults: true });
      const first = await chat({ ...ASK, model: "eelgrass-1" });
      if (first.status !== 429) continue;
      busy++;
      expect(first.headers.get("retry-after")).toBe("1");
      expect((await chat({ ...ASK, model: "eelgrass-1" })).status).toBe(200);
    }
    expect(busy).toBeGreaterThan(1);
    expect(busy).toBeLessThan(18);
  });
});

describe("composeAnswer", () => {
  const exhibits = loadExhibits();
  const ask = (seed: number, model = MODELS[0]!, sample = 0) =>
    composeAnswer({ seed, model, text: ASK.messages[0]!.content, sample }, exhibits);

  it("is the same for one seed, and another for other seeds, models and samples", () => {
    expect(ask(3)).toBe(ask(3));
    expect(new Set([1, 2, 3, 4, 5, 6].map((seed) => ask(seed))).size).toBeGreaterThan(2);
    expect(new Set([0, 1, 2, 3, 4, 5].map((sample) => ask(3, MODELS[0], sample))).size).toBeGreaterThan(1);
  });

  it("gives an artifact that can be taken out, by every model for every prompt and seed", () => {
    for (const model of MODELS) {
      for (const text of [
        "Build Lock Keeper",
        "Draw Sweep, with a Fresnel lens",
        "Draw a puffin",
        "Build Ferry Board",
        "Build a clock",
      ]) {
        for (let seed = 0; seed < 12; seed++) {
          const answer = composeAnswer({ seed, model, text: text.padEnd(80, "."), sample: 0 }, exhibits);
          expect(extractArtifact(answer, { stopReason: "stop" }).verdict).toBe("ok");
          expect(answer).not.toContain("{{");
        }
      }
    }
  });

  it("has a page of every grade, each its own", () => {
    for (const [name, grades] of exhibits) {
      expect(new Set(GRADES.map((grade) => grades[grade].page)).size, name).toBe(4);
    }
  });

  it("lets a strong model write better pages than a weak one", () => {
    const lengths = (index: number) =>
      Array.from({ length: 40 }, (_, seed) => ask(seed, MODELS[index]).length).reduce((sum, length) => sum + length, 0);
    expect(lengths(0)).toBeGreaterThan(2 * lengths(3));
  });
});
