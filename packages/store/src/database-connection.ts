import { readFile } from "node:fs/promises";
import type { ConnectionOptions } from "node:tls";
import { TourneyError } from "@tourney/core/errors";
import pg from "pg";
import { type DatabaseAddress, describeAddress, type SslMode } from "./database-address.js";

/** An address together with how it is spoken to. */
export interface DatabaseConnection extends DatabaseAddress {
  ssl: false | ConnectionOptions;
}

const CONNECT_LIMIT_MS = 15_000;

/** What `pg` is given. */
export const toClientConfig = ({ host, port, name, user, password, ssl }: DatabaseConnection): pg.ClientConfig => ({
  host,
  port,
  database: name,
  user,
  password,
  ssl,
});

type Protection = "none" | "encrypted" | "checked" | "checked with its name";

/** What each word allows, in the order in which it is tried (PostgreSQL's documentation of libpq, "SSL Support"). */
const TRIED: Record<SslMode, readonly Protection[]> = {
  disable: ["none"],
  allow: ["none", "encrypted"],
  prefer: ["encrypted", "none"],
  require: ["encrypted"],
  "verify-ca": ["checked"],
  "verify-full": ["checked with its name"],
};

async function readCertificates({ sslRootCert }: DatabaseAddress): Promise<{ ca?: string }> {
  if (sslRootCert === null || sslRootCert === "system") return {};
  try {
    return { ca: await readFile(sslRootCert, "utf8") };
  } catch (cause) {
    throw new TourneyError("SETUP_FAILED", {
      message: `The certificates in ${sslRootCert} cannot be read.`,
      reason: cause instanceof Error ? cause.message : String(cause),
      remedy: "Give sslrootcert the path of a file in PEM that is there, or leave it out. Nothing was started.",
      cause,
    });
  }
}

async function toTls(protection: Protection, address: DatabaseAddress): Promise<false | ConnectionOptions> {
  if (protection === "none") return false;
  const certificates = await readCertificates(address);
  // As PostgreSQL's own clients do: `require` with certificates at hand checks by them.
  if (protection === "encrypted" && certificates.ca === undefined) return { rejectUnauthorized: false };
  return protection === "checked with its name"
    ? { ...certificates, rejectUnauthorized: true }
    : { ...certificates, rejectUnauthorized: true, checkServerIdentity: () => undefined };
}

const codeOf = (thrown: unknown): string =>
  thrown instanceof Error && "code" in thrown && typeof thrown.code === "string" ? thrown.code : "";

const messageOf = (thrown: unknown): string =>
  // A host with several addresses fails once for each.
  thrown instanceof AggregateError
    ? [...new Set(thrown.errors.map(messageOf))].join("; ")
    : thrown instanceof Error
      ? thrown.message
      : String(thrown);

/** What a lead can do about a connection that was refused. */
function explain(address: DatabaseAddress, thrown: unknown): { message: string; remedy: string } {
  const [code, text, where] = [codeOf(thrown), messageOf(thrown), describeAddress(address)];
  const unchanged = "Nothing was changed.";
  if (code === "28P01")
    return {
      message: `The database ${where} does not take the password of ${address.user}.`,
      remedy: `Correct the password in DATABASE_URL or TOURNEY_DB_PASSWORD and start again. ${unchanged}`,
    };
  if (code === "28000")
    return {
      message: `The database ${where} does not admit ${address.user}.`,
      remedy: `${/no encryption/.test(text) ? "It wants an encrypted connection: say sslmode=require or verify-full." : "Check the user, and what the server's pg_hba.conf admits."} ${unchanged}`,
    };
  if (code === "3D000")
    return {
      message: `There is no database ${where}.`,
      remedy: `Make it with \`createdb\`, or let ${address.user} make databases: then \`./tourney start\` makes it. ${unchanged}`,
    };
  if (/does not support SSL/.test(text))
    return {
      message: `The database ${where} does not speak TLS, and sslmode=${address.sslMode} wants it.`,
      remedy: `Switch TLS on at the server, or say sslmode=prefer where the way there is trusted. ${unchanged}`,
    };
  if (/CERT|SIGNATURE|ERR_TLS|ISSUER|SELF_SIGNED/.test(code))
    return {
      message: `The certificate of ${where} is not accepted under sslmode=${address.sslMode}.`,
      remedy: `Give sslrootcert the file with the certificate that signed it, and the host by the name that it is made out to. ${unchanged}`,
    };
  return {
    message: `The database ${where} does not answer.`,
    remedy: `Check that the server runs and that its host and port are right. ${unchanged}`,
  };
}

/** A refused connection as an error that says what, why and what to do. */
export function describeRefusal(address: DatabaseAddress, cause: unknown): TourneyError {
  return new TourneyError("DATABASE_UNAVAILABLE", {
    ...explain(address, cause),
    reason: `${messageOf(cause) || codeOf(cause) || "It gave no reason"}.`,
    cause,
  });
}

/** Opens one connection, and says how it is spoken to. What was tried first tells why when nothing succeeds. */
async function openClient(address: DatabaseAddress): Promise<{ client: pg.Client; connection: DatabaseConnection }> {
  const tried: unknown[] = [];
  for (const protection of address.host.startsWith("/") ? (["none"] as const) : TRIED[address.sslMode]) {
    const connection = { ...address, ssl: await toTls(protection, address) };
    const client = new pg.Client({ ...toClientConfig(connection), connectionTimeoutMillis: CONNECT_LIMIT_MS });
    client.on("error", () => undefined);
    try {
      await client.connect();
      return { client, connection };
    } catch (error) {
      tried.push(error);
      await client.end().catch(() => undefined);
    }
  }
  // That the server speaks no TLS says little when going without was allowed and failed for another reason.
  throw tried.find((error) => !/does not support SSL/.test(messageOf(error))) ?? tried[0];
}

/**
 * Finds out how a database is spoken to, by connecting once.
 *
 * @throws TourneyError DATABASE_UNAVAILABLE or SETUP_FAILED; a password is never in its texts
 */
export async function resolveConnection(address: DatabaseAddress): Promise<DatabaseConnection> {
  try {
    const { client, connection } = await openClient(address);
    await client.end();
    return connection;
  } catch (error) {
    throw error instanceof TourneyError ? error : describeRefusal(address, error);
  }
}

/** Older servers lack what the schema uses. */
const OLDEST_VERSION = 15;
const NO_SUCH_DATABASE = "3D000";

function refuseUnfit(address: DatabaseAddress, version: number, encoding: string): void {
  if (version < OLDEST_VERSION)
    throw new TourneyError("SETUP_FAILED", {
      message: `The server of ${describeAddress(address)} is PostgreSQL ${version}.`,
      reason: `Tourney uses what PostgreSQL has since version ${OLDEST_VERSION}.`,
      remedy: "Name a newer server. Nothing was changed.",
    });
  if (encoding !== "UTF8")
    throw new TourneyError("SETUP_FAILED", {
      message: `The database ${describeAddress(address)} holds text as ${encoding}.`,
      reason: "Answers are in every script there is, which only UTF8 can hold.",
      remedy: "Name a database in UTF8, or one that is not there: then it is made. Nothing was changed.",
    });
}

/**
 * Makes the database when the server has none of that name, and checks that the server is new enough.
 *
 * @throws TourneyError DATABASE_UNAVAILABLE or SETUP_FAILED
 */
export async function ensureDatabase(address: DatabaseAddress): Promise<void> {
  try {
    const { client } = await openClient(address);
    const { rows } = await client
      .query<{ version: string; encoding: string }>(
        "SELECT current_setting('server_version_num') AS version, current_setting('server_encoding') AS encoding",
      )
      .finally(() => client.end());
    refuseUnfit(address, Math.floor(Number(rows[0]?.version) / 10_000), rows[0]?.encoding ?? "");
  } catch (error) {
    if (error instanceof TourneyError) throw error;
    if (codeOf(error) !== NO_SUCH_DATABASE) throw describeRefusal(address, error);
    await makeDatabase(address, error);
  }
}

async function makeDatabase(address: DatabaseAddress, missing: unknown): Promise<void> {
  try {
    const { client } = await openClient({ ...address, name: "postgres" });
    await client
      .query(`CREATE DATABASE ${client.escapeIdentifier(address.name)} ENCODING 'UTF8' TEMPLATE template0`)
      .finally(() => client.end());
  } catch (cause) {
    const reason = `${messageOf(missing)}, and it cannot be made: ${messageOf(cause)}`;
    throw describeRefusal(address, Object.assign(new Error(reason, { cause }), { code: NO_SUCH_DATABASE }));
  }
}

/** Drops every database whose name begins so, and the render workers' roles of them, as tests do with their own. */
export async function dropDatabases(address: DatabaseAddress, prefix: string): Promise<void> {
  const { client } = await openClient({ ...address, name: "postgres" });
  const find = async (sql: string) => (await client.query<{ name: string }>(sql, [prefix])).rows;
  try {
    for (const { name } of await find("SELECT datname AS name FROM pg_database WHERE starts_with(datname, $1)"))
      await client.query(`DROP DATABASE ${client.escapeIdentifier(name)} WITH (FORCE)`);
    for (const { name } of await find("SELECT rolname AS name FROM pg_roles WHERE starts_with(rolname, $1)"))
      await client.query(`DROP ROLE ${client.escapeIdentifier(name)}`);
  } finally {
    await client.end();
  }
}
