import { EVERYTHING } from "@tourney/core/contract";
import { describe, expect, it } from "vitest";
import * as z from "zod";
import { sendStream } from "../../test-support/fake-endpoint.js";
import { ANSWER, PAGE, RECORDING, suiteYaml } from "../../test-support/scenario.js";
import { withRuns } from "../../test-support/with-runs.js";

const { edition, enter, finish, server, start } = withRuns();

/** Tells the server what a recording found, as the render worker does. */
async function reportRecordings(errors: string[]): Promise<void> {
  const renders = await server().db.select(z.object({ id: z.uuid() }), "SELECT id FROM renders WHERE state = 'queued'");
  await server().db.execute("DELETE FROM graphile_worker._private_jobs");
  for (const { id } of renders) {
    const findings = errors.map((message) => ({
      rule: "exception" as const,
      version: 1,
      severity: "error" as const,
      message,
      atMs: 1,
      evidence: "index.html:3",
      followsFrom: null,
    }));
    await server().services.addJob(
      "render-finished",
      { renderId: id, recording: { ...RECORDING, findings }, error: null },
      { key: id },
    );
  }
  await server().runJobs();
}

describe("mending", () => {
  it("feeds an entry's own errors back in the suite's words, up to the run's rounds, and stops when it is clean", async () => {
    const bodies: { messages: { role: string; content: string }[] }[] = [];
    const { entrantId } = await enter((response, _attempt, request) => {
      const chunks: Buffer[] = [];
      request.on("data", (chunk: Buffer) => chunks.push(chunk));
      request.on("end", () => bodies.push(JSON.parse(Buffer.concat(chunks).toString()) as (typeof bodies)[number]));
      sendStream(response, ANSWER);
    });
    const { id } = await start(entrantId, { options: { mendRounds: 2 } });
    await finish(id);
    await reportRecordings(["TypeError: x is undefined", "TypeError: x is undefined"]);
    expect(bodies).toHaveLength(2);
    expect(bodies[1]!.messages.map(({ role }) => role)).toEqual(["user", "assistant", "user"]);
    expect(bodies[1]!.messages[2]!.content).toContain("- TypeError: x is undefined (index.html:3)\n\nCorrect this");
    await reportRecordings([]);
    expect(bodies).toHaveLength(2);
    const wall = await server().services.wall.getWall(edition().id);
    const first = wall.cells.find(({ entryId }) => entryId !== null)!;
    const { rounds, round: own } = await server().services.entries.getDetail(first.entryId!);
    // The wall shows the first shot; the mended one is kept apart.
    expect(own).toBe(0);
    expect(rounds.map((round) => [round.round, round.errors, round.followUp?.kind])).toEqual([
      [0, 2, undefined],
      [1, 0, "mend"],
    ]);
    const { standings } = server().services;
    const came = { places: 1, firstClean: [0, 1, 0, 0], mended: 1, corrected: 0 };
    expect(await standings.getMending(edition().id)).toMatchObject([came]);
    expect(await standings.getMending(edition().id, { ...EVERYTHING, kind: ["app"] })).toEqual([]);
  });

  it("sends a lead's correction alike to all, and takes what a person changed beside the rest", async () => {
    const { entrantId } = await enter((response) => sendStream(response, ANSWER));
    const { entrantId: other } = await enter((response) => sendStream(response, ANSWER));
    const run = await start(entrantId, { entrantIds: [entrantId, other], acceptedWhy: "On purpose." });
    await finish(run.id);
    expect(
      await server().services.followUpService.sendCorrection(edition().promptIds[0]!, {
        text: "Make the water blue.",
        take: 1,
      }),
    ).toEqual({ sent: 2 });
    await server().runJobs();
    const [corrections] = await server().services.runs.list(edition().id);
    expect(corrections).toMatchObject({ purpose: "correction", counts: { total: 2, answered: 2 } });
    const wall = await server().services.wall.getWall(edition().id);
    const { entryId } = wall.cells.find((cell) => cell.entryId !== null)!;
    const edited = await server().services.entries.edit(entryId!, {
      files: [{ path: "index.html", text: PAGE.replace("A page", "My page") }],
    });
    const detail = await server().services.entries.getDetail(edited.entryId);
    expect(detail.handMended).toMatchObject({
      from: entryId,
      diff: expect.stringContaining("+<html><body><h1>My page") as unknown,
    });
    expect(detail.rounds.map(({ round, handMended }) => [round, handMended])).toEqual([
      [0, false],
      [0, true],
      [1, false],
    ]);
    await expect(server().services.entries.edit(entryId!, { files: [{ path: "../x", text: "" }] })).rejects.toThrow(
      "has no file",
    );
  });
});

describe("a prompt with a second turn", () => {
  it("sends it after the first, with what was answered, and shows the last", async () => {
    const yaml = suiteYaml("staged")
      .replace("text: Build staged.,", "text: Build staged., turns: [{ text: Now animate it. }],")
      .replace("tourney-suite/1", "tourney-suite/2")
      .replace("A suite", "Staged");
    const { edition: staged } = await server().services.suites.importSuite(yaml);
    const sent: string[] = [];
    const { entrantId } = await enter((response, attempt, request) => {
      request.on("data", (chunk: Buffer) => sent.push(chunk.toString()));
      sendStream(response, ANSWER.replace("A page", `Turn ${attempt}`));
    });
    const run = await server().services.runs.start({
      editionId: staged.id,
      promptIds: staged.prompts.map(({ id }) => id),
      entrantIds: [entrantId],
    });
    expect(run.counts).toMatchObject({ total: 2, queued: 1, waiting: 1 });
    expect((await finish(run.id)).counts).toMatchObject({ answered: 2 });
    expect(sent.at(-1)).toContain("Now animate it.");
    expect(sent.at(-1)).toContain("Turn 1");
    const wall = await server().services.wall.getWall(staged.id);
    const entry = await server().services.entries.getDetail(
      wall.cells.find(({ entryId }) => entryId !== null)!.entryId!,
    );
    expect(entry.fileTexts[0]!.text).toContain("Turn 2");
  });
});
