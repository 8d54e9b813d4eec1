import { renderRoleOf } from "@tourney/store";
import pg from "pg";
import { pino } from "pino";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import * as z from "zod";
import { suiteYaml } from "../../test-support/scenario.js";
import { RENDER_ROLE_PASSWORD, startTestServer, type TestServer } from "../../test-support/test-server.js";
import { createMigrator, migrate, requireSchema } from "./migrate.js";

let server: TestServer;
beforeAll(async () => {
  server = await startTestServer();
});
afterAll(() => server.close());

describe("the schema", () => {
  it("never lets a frozen edition or its prompts change, whoever asks", async () => {
    const { edition } = await server.services.suites.importSuite(suiteYaml("one"));
    await expect(server.db.execute("UPDATE editions SET number = 7 WHERE id = $1", [edition.id])).rejects.toThrow(
      "A frozen edition never changes",
    );
    await expect(server.db.execute("DELETE FROM prompts WHERE edition_id = $1", [edition.id])).rejects.toThrow(
      "A frozen edition never changes",
    );
  });

  it("lets the render worker's role use the queue and read nothing else", async () => {
    const { options } = server.pool;
    const user = renderRoleOf(options.database!);
    const client = new pg.Client({ ...options, user, password: RENDER_ROLE_PASSWORD });
    await client.connect();
    try {
      await expect(client.query("SELECT * FROM public.entrants")).rejects.toThrow("permission denied");
      await expect(client.query("SELECT * FROM public.sessions")).rejects.toThrow("permission denied");
      await client.query("SELECT graphile_worker.add_job('render-finished', '{}')");
      const { rows } = await client.query("SELECT task_identifier FROM graphile_worker.jobs");
      expect(rows).toEqual([{ task_identifier: "render-finished" }]);
      await client.query("DELETE FROM graphile_worker._private_jobs");
    } finally {
      await client.end();
    }
  });

  it("is left alone when a newer version has changed it, and that is told", async () => {
    const { sequelize } = server.db;
    const log = pino({ level: "silent" });
    await server.db.execute("INSERT INTO migrations (name) VALUES ('209901010000-from-later')");
    try {
      const attempts = [
        () => migrate({ sequelize, pool: server.pool, log }, null),
        () => requireSchema(sequelize, log),
      ];
      for (const attempt of attempts)
        await expect(attempt()).rejects.toMatchObject({
          code: "SETUP_FAILED",
          message: expect.stringContaining("changed by a newer Tourney") as string,
          reason: expect.stringContaining("209901010000-from-later") as string,
        });
    } finally {
      await server.db.execute("DELETE FROM migrations WHERE name = '209901010000-from-later'");
    }
    await expect(requireSchema(sequelize, log)).resolves.toBeUndefined();
  });

  it("goes down and up again", async () => {
    const migrator = createMigrator(server.db.sequelize, pino({ level: "silent" }));
    const tables = () =>
      server.db.select(
        z.object({ name: z.string() }),
        "SELECT tablename AS name FROM pg_tables WHERE schemaname = 'public'",
      );
    const before = await tables();
    await migrator.down({ to: 0 });
    expect((await tables()).map(({ name }) => name)).toEqual(["migrations"]);
    await migrator.up();
    expect(new Set((await tables()).map(({ name }) => name))).toEqual(new Set(before.map(({ name }) => name)));
  });
});
