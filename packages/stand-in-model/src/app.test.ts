import { createServer, type Server } from "node:http";
import type { AddressInfo } from "node:net";
import { extractArtifact } from "@tourney/core/extraction";
import { afterEach, describe, expect, it } from "vitest";
import { createStandIn, type StandInOptions } from "./app.js";
import { composeAnswer } from "./compose-answer.js";
import { loadExhibits } from "./exhibits.js";
import { applyScenario, MODELS } from "./models.js";

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

describe("a conversation", () => {
  const model = (quirks: object) => applyScenario({ models: { "samphire-3": { quirks } } });
  const say = async (chat: Awaited<ReturnType<typeof start>>["chat"], ...contents: string[]) => {
    const messages = contents.map((content, i) => ({ role: i % 2 === 0 ? "user" : "assistant", content }));
    return (await whole(await chat({ model: "samphire-3", messages }))).choices[0]!;
  };
  const ask = ASK.messages[0]!.content;

  it("goes on where an answer was cut, to the same whole", async () => {
    const full = (await say((await start()).chat, ask)).message.content;
    const { chat } = await start({ faults: true, models: model({ stopsAtLimit: 1 }) });
    const first = await say(chat, ask);
    expect(first.finish_reason).toBe("length");
    const rest = await say(chat, ask, first.message.content, "Continue exactly where it stopped.");
    expect(first.message.content + rest.message.content).toBe(full);
  });

  it("gives a better page when errors are fed back", async () => {
    const models = applyScenario({ models: { "samphire-3": { talent: [0, 0, 1, 0] } } });
    const { chat } = await start({ models });
    const first = (await say(chat, ask)).message.content;
    const mended = (await say(chat, ask, first, "It reported:\n\n- TypeError: x\n\nCorrect this.")).message.content;
    expect(mended).toContain("corrected version");
    expect(mended.length).toBeGreaterThan(first.length);
  });

  it("refuses at first, reports another name, uses a framework, or signs its page, as its scenario says", async () => {
    const answer = async (quirks: object) =>
      whole(await (await start({ faults: true, models: model(quirks) })).chat(ASK));
    expect(
      extractArtifact((await answer({ refuses: 1 })).choices[0]!.message.content, { stopReason: "stop" }).verdict,
    ).toBe("refusal");
    expect((await answer({ reportsOtherModel: 1 })).model).toBe("samphire-mini");
    expect(
      extractArtifact((await answer({ usesFramework: 1 })).choices[0]!.message.content, { stopReason: "stop" }).kind,
    ).toBe("component");
    expect((await answer({ namesItself: 1 })).choices[0]!.message.content).toContain("made by Samphire 3");
  });

  it("breaks off once, and answers when asked again", async () => {
    const { chat } = await start({ faults: true, models: model({ resets: 1 }) });
    await expect(chat({ ...ASK, stream: true }).then((response) => response.text())).rejects.toThrow();
    expect((await whole(await chat(ASK))).choices[0]!.finish_reason).toBe("stop");
  });

  it("says what is wrong with a scenario", () => {
    expect(() => applyScenario({ models: { "samphire-3": { tokensPerSecond: 0 } } })).toThrow("tokensPerSecond");
    expect(() => applyScenario({ models: { x: { talents: [] } } })).toThrow("talents");
  });
});

describe("the messages protocol", () => {
  const body = { model: "samphire-3", max_tokens: 9000, messages: ASK.messages };
  const post = async (extra: object = {}, options: Partial<StandInOptions> = {}) => {
    const { base } = await start(options);
    return fetch(`${base}/messages`, {
      method: "POST",
      headers: { "Content-Type": "application/json", "x-api-key": "k" },
      body: JSON.stringify({ ...body, ...extra }),
    });
  };
  it("answers whole and as a stream with the same text", async () => {
    const answer = (await (await post()).json()) as {
      content: { text: string }[];
      stop_reason: string;
      usage: { output_tokens: number };
    };
    expect(answer.stop_reason).toBe("end_turn");
    const events = (await (await post({ stream: true })).text())
      .trim()
      .split("\n\n")
      .map((event) => JSON.parse(/data: (.*)/.exec(event)![1]!) as { type: string; delta?: { text?: string } });
    expect([...new Set(events.map(({ type }) => type))]).toEqual([
      "message_start",
      "content_block_start",
      "content_block_delta",
      "content_block_stop",
      "message_delta",
      "message_stop",
    ]);
    expect(events.map(({ delta }) => delta?.text ?? "").join("")).toBe(answer.content[0]!.text);
  });
  it("stops at its limit, and words errors its own way", async () => {
    expect(((await (await post({ max_tokens: 20 })).json()) as { stop_reason: string }).stop_reason).toBe("max_tokens");
    const refused = await post({}, { key: "another" });
    expect([refused.status, ((await refused.json()) as { type: string }).type]).toEqual([401, "error"]);
  });
});

describe("composeAnswer", () => {
  const exhibits = loadExhibits();
  const ENDED = { stopReason: "stop" };
  const modelOf = (id: string) => MODELS.find((model) => model.id === id)!;
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
        "Build Lamp Watch",
        "Build Herring Drift",
        "Draw Bowline",
        "Draw Tide Pool",
        "Draw a lightship",
        "Draw Signal Flags",
        "Build Wreck Log",
        "Build Tide Table",
      ]) {
        for (let seed = 0; seed < 12; seed++) {
          const answer = composeAnswer({ seed, model, text: text.padEnd(80, "."), sample: 0 }, exhibits);
          expect(extractArtifact(answer, { stopReason: "stop" }).verdict).toBe("ok");
          expect(answer).not.toContain("{{");
        }
      }
    }
    // More than a thousand answers are taken apart, on a machine that may do other work.
  }, 60_000);

  it("has a page by every model for every prompt of the scenario, none like another", () => {
    for (const [name, { byModel }] of exhibits) {
      if (name === "other") continue;
      const pages = MODELS.map(({ id }) => byModel.get(id)?.page);
      expect(pages, name).not.toContain(undefined);
      expect(new Set(pages).size, name).toBe(MODELS.length);
      for (const page of byModel.keys())
        expect(
          MODELS.map(({ id }) => id),
          page,
        ).toContain(page.split(".")[0]);
    }
  });

  it("answers a wording without its hint with another page where the model is weak, and with the same where it is not", () => {
    const hinted = "Build a small game called Lock Keeper. Left and Right steer the boat, Space works the gate.";
    const plain = "Build a small game called Lock Keeper. The visitor steers the boat and works the gates by keyboard.";
    const isHelped = (id: string) => {
      const pages = [hinted, plain].map((text) =>
        composeAnswer({ seed: 1, model: modelOf(id), text, sample: 0 }, exhibits),
      );
      return extractArtifact(pages[0]!, ENDED).files[0]!.text !== extractArtifact(pages[1]!, ENDED).files[0]!.text;
    };
    expect(["samphire-2", "marram-small", "thrift-2"].filter(isHelped)).toHaveLength(3);
    expect(["samphire-3", "campion-7", "marram-large"].filter(isHelped)).toEqual([]);
  });

  it("lets a strong model write better pages than a weak one", () => {
    const lengths = (index: number) =>
      Array.from({ length: 40 }, (_, seed) => ask(seed, MODELS[index], 1).length).reduce(
        (sum, length) => sum + length,
        0,
      );
    expect(lengths(0)).toBeGreaterThan(2 * lengths(MODELS.length - 1));
  });
});
