import { afterAll, beforeAll, expect, it } from "vitest";
import * as z from "zod";
import { startTestServer, type TestServer } from "../../test-support/test-server.js";
import { keepPlan } from "./kept-plan.js";

const Row = z.object({ n: z.int() });
const Prepared = z.object({ statement: z.string(), generic: z.coerce.number(), custom: z.coerce.number() });
const PREPARED = `SELECT statement, generic_plans AS generic, custom_plans AS custom FROM pg_prepared_statements WHERE statement LIKE '%AS n%'`;
let server: TestServer;
beforeAll(async () => {
  server = await startTestServer();
});
afterAll(() => server.close());

it("is planned five times on a connection and then no more; the rest is planned each time", async () => {
  const kept = keepPlan("SELECT $1::int + length(key) AS n FROM suites WHERE id = $2 UNION ALL SELECT $1");
  const other = "SELECT $1::int AS n";
  await server.db.transact(async (transaction) => {
    for (let n = 1; n <= 8; n++) {
      const bind = [n, "00000000-0000-4000-8000-000000000000"];
      expect(await server.db.select(Row, kept, bind, transaction)).toEqual([{ n }]);
      expect(await server.db.select(Row, other, [n], transaction)).toEqual([{ n }]);
    }
    expect(await server.db.select(Prepared, PREPARED, [], transaction)).toEqual([
      { statement: kept, generic: 3, custom: 5 },
    ]);
  });
});

it("is prepared once it can be, where at first it could not", async () => {
  const kept = keepPlan("SELECT 10 / $1::int AS n");
  await server.db.transact(async (transaction) => {
    await server.db.execute("SAVEPOINT before", [], transaction);
    await expect(server.db.select(Row, "SELECT 10 / $1::int AS n", [0], transaction)).rejects.toThrow("zero");
    await expect(server.db.select(Row, kept, [5], transaction)).rejects.toThrow("aborted");
    await server.db.execute("ROLLBACK TO before", [], transaction);
    expect(await server.db.select(Row, kept, [5], transaction)).toEqual([{ n: 2 }]);
  });
});
