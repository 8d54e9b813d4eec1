import { type ApiToken, ApiTokenInput } from "@tourney/core/contract";
import { TourneyError } from "@tourney/core/errors";
import { parseInput } from "../http/parse-input.js";
import { withServices } from "./with-services.js";

/** Makes a token for scripts, and prints it this once: alone on standard output, so that a script can keep it. */
export async function addToken(name: string, { scope }: { scope: string[] }): Promise<void> {
  const input = parseInput(ApiTokenInput, { name, scopes: scope.flatMap((some) => some.split(",")) }, "The token");
  await withServices(async ({ tokens }) => {
    console.log((await tokens.add(input)).token);
    console.error("It is shown this once. Send it as `Authorization: Bearer TOKEN`.");
  });
}

export async function listTokens({ json = false }: { json?: boolean }): Promise<void> {
  await withServices(async ({ tokens }) => {
    const all = await tokens.list();
    if (json) console.log(JSON.stringify(all, null, 2));
    else if (all.length === 0) console.log("There is no token.");
    else for (const token of all) console.log(describeToken(token));
  });
}

const describeToken = ({ id, name, scopes, createdAt, lastUsedAt, revokedAt }: ApiToken): string =>
  [
    ...[id, name, scopes.join(","), `made ${createdAt}`],
    lastUsedAt === null ? "never used" : `last used ${lastUsedAt}`,
    ...(revokedAt === null ? [] : [`revoked ${revokedAt}`]),
  ].join("  ");

/** Revokes a token by its id, or by its name where one alone has it. */
export async function revokeToken(name: string): Promise<void> {
  await withServices(async ({ tokens }) => {
    const found = (await tokens.list()).filter(
      (token) => token.revokedAt === null && [token.id, token.name].includes(name),
    );
    const [token] = found;
    if (token === undefined || found.length > 1) {
      throw new TourneyError("NOT_FOUND", {
        message:
          token === undefined
            ? `There is no token ${name} that opens anything.`
            : `${found.length} tokens are called ${name}.`,
        reason: "A token is revoked by its id, or by a name that it alone has.",
        remedy: "List them with `./tourney token list`. None was revoked.",
      });
    }
    await tokens.revoke(token.id);
    console.log(`${token.name} opens nothing any more.`);
  });
}
