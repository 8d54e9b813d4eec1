import { execFileSync } from "node:child_process";
import { chmodSync, chownSync, readFileSync, rmSync, statSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { type DatabaseAddress, ensureDatabase, resolveConnection, toClientConfig } from "@tourney/store";
import pg from "pg";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { type Cluster, startCluster } from "./cluster.js";
import { choosePort, openInstance } from "./instance.js";
import { startStack } from "./supervisor.js";

const PASSWORD = "for tests, with a % and an @";
const instance = openInstance("another");
const plain = openInstance("another-plain");
const app = openInstance("another-app");
let cluster: Cluster;
let address: DatabaseAddress;

/** A key and a certificate that signs itself, made out to one host's name. */
function makeCertificate(folder: string): { key: string; certificate: string } {
  const [key, certificate] = [join(folder, "server.key"), join(folder, "server.crt")];
  execFileSync(
    "openssl",
    ["req", "-x509", "-newkey", "rsa:2048", "-nodes", "-days", "2", "-subj", "/CN=localhost"].concat([
      "-addext",
      "subjectAltName=DNS:localhost",
      "-keyout",
      key,
      "-out",
      certificate,
    ]),
    { stdio: "ignore" },
  );
  const { uid, gid } = statSync(folder);
  for (const file of [key, certificate]) {
    chownSync(file, uid, gid);
    chmodSync(file, 0o600);
  }
  return { key, certificate };
}

/** A second PostgreSQL as somebody else would have set it up: on a TCP port, with a password, encrypted connections only. */
beforeAll(async () => {
  const options = { password: PASSWORD, isThrowaway: true };
  const first = await startCluster(instance, options);
  await first.stop();
  const folder = first.address.host;
  const { key, certificate } = makeCertificate(folder);
  const admitted = join(folder, "encrypted-only.conf");
  writeFileSync(admitted, "local all all scram-sha-256\nhostssl all all all scram-sha-256\n");
  chmodSync(admitted, 0o644);
  const port = await choosePort(5544);
  cluster = await startCluster(instance, {
    ...options,
    settings: {
      listen_addresses: "127.0.0.1",
      port: String(port),
      ssl: "on",
      ssl_cert_file: certificate,
      ssl_key_file: key,
      hba_file: admitted,
    },
  });
  const trusted = join(instance.dir, "trusted.crt");
  writeFileSync(trusted, readFileSync(certificate));
  address = {
    ...cluster.address,
    host: "localhost",
    port,
    name: "rating-work",
    sslMode: "verify-full",
    sslRootCert: trusted,
  };
});
afterAll(async () => {
  await cluster.stop();
  const folders = [cluster.address.host, instance.dir, plain.dir, app.dir];
  for (const folder of folders) rmSync(folder, { recursive: true, force: true });
});

async function ask<T extends pg.QueryResultRow>(sql: string): Promise<T[]> {
  const client = new pg.Client(toClientConfig(await resolveConnection(address)));
  await client.connect();
  try {
    return (await client.query<T>(sql)).rows;
  } finally {
    await client.end();
  }
}

describe("a PostgreSQL that is already there", () => {
  it("is refused clearly, and left alone, when something about it is wrong", async () => {
    const cases: [Partial<DatabaseAddress>, { message: RegExp; remedy: RegExp }][] = [
      [{ password: "hunter2" }, { message: /does not take the password of tourney/, remedy: /TOURNEY_DB_PASSWORD/ }],
      [{ user: "nobody" }, { message: /does not take the password of nobody/, remedy: /Nothing was changed/ }],
      [{ sslMode: "disable" }, { message: /does not admit tourney/, remedy: /sslmode=require/ }],
      [{ sslRootCert: null }, { message: /certificate of .* is not accepted/, remedy: /sslrootcert/ }],
      [{ host: "127.0.0.1" }, { message: /certificate of .* is not accepted/, remedy: /by the name/ }],
      [{ sslRootCert: "/no/such.pem" }, { message: /\/no\/such.pem cannot be read/, remedy: /is there/ }],
      [{ port: 1 }, { message: /does not answer/, remedy: /host and port/ }],
    ];
    for (const [wrong, expected] of cases) {
      const error: unknown = await ensureDatabase({ ...address, ...wrong }).catch((thrown: unknown) => thrown);
      expect(error, JSON.stringify(wrong)).toMatchObject({
        message: expect.stringMatching(expected.message) as string,
        remedy: expect.stringMatching(expected.remedy) as string,
      });
      expect(JSON.stringify(error)).not.toContain("hunter2");
    }
    await expect(resolveConnection(address)).rejects.toThrow("There is no database rating-work at localhost");
  });

  it.each([
    ["allow", { host: "127.0.0.1", sslRootCert: null }],
    ["prefer", { host: "127.0.0.1", sslRootCert: null }],
    ["require", { host: "127.0.0.1", sslRootCert: null }],
    ["verify-ca", { host: "127.0.0.1" }],
    ["verify-full", {}],
  ] as const)("is spoken to under sslmode=%s, encrypted", async (sslMode, more) => {
    const connection = await resolveConnection({ ...address, name: "postgres", sslMode, ...more });
    expect(connection.ssl).not.toBe(false);
  });

  it("without TLS is refused where TLS is wanted, and used where it may be left out", async () => {
    const own = await startCluster(plain, {
      password: PASSWORD,
      isThrowaway: true,
      settings: { listen_addresses: "127.0.0.1", port: String(await choosePort(5644)) },
    });
    try {
      const there = { ...own.address, host: "127.0.0.1" };
      expect(await resolveConnection({ ...there, sslMode: "prefer" })).toMatchObject({ ssl: false });
      await expect(resolveConnection({ ...there, sslMode: "require" })).rejects.toThrow("does not speak TLS");
    } finally {
      await own.stop();
      rmSync(own.address.host, { recursive: true, force: true });
    }
  });

  it("carries a whole Tourney: the database is made, every connection is encrypted, and it runs on when Tourney stops", async () => {
    const stack = await startStack({
      instance: app,
      ports: { app: await choosePort(4750), exhibit: await choosePort(4760), standIn: null },
      database: address,
    });
    try {
      expect((await fetch(`${stack.appUrl}/api/openapi.json`)).status).toBe(200);
      const used = await ask<{ user: string; encrypted: boolean }>(
        `SELECT usename AS user, bool_and(ssl) AS encrypted FROM pg_stat_ssl JOIN pg_stat_activity USING (pid)
         WHERE datname = 'rating-work' AND pid <> pg_backend_pid() GROUP BY usename ORDER BY 1`,
      );
      expect(used).toEqual([
        { user: "rating-work_render", encrypted: true },
        { user: "tourney", encrypted: true },
      ]);
      expect(await ask("SELECT kind FROM workers ORDER BY kind")).toEqual([{ kind: "render" }, { kind: "server" }]);
    } finally {
      await stack.stop();
    }
    expect(await ask("SELECT count(*)::int AS n FROM migrations")).not.toEqual([{ n: 0 }]);
  });
});
