import type { ApiToken, TokenScope } from "@tourney/core/contract";
import { useState } from "react";
import { toast } from "sonner";
import { toApiError } from "../../api/tourney-api.js";
import { copyText } from "../../lib/copy-text.js";
import { formatAgo, formatExact } from "../../lib/format.js";
import { useNow } from "../../lib/use-now.js";
import { Button, Field } from "../../ui/controls.js";
import { ErrorNotice } from "../../ui/notices.js";
import { Sheet } from "../../ui/Sheet.js";
import { useAddTokenMutation, useListTokensQuery, useRevokeTokenMutation } from "./tokens-api.js";

const COMMAND = "./tourney run --suite suite.yaml --entrants entrants.yaml --wait --json --fail-on 'broken>5%'";
const REFRESH_MS = 30_000;

const SCOPES: readonly (readonly [TokenScope, string])[] = [
  ["read", "read: everything that the lead sees"],
  ["run", "run: freeze suites, enter entrants, send prompts to models"],
  ["change", "change: everything else, such as panels and marks"],
];

/** How a run is started by a script: the command, and tokens for the HTTP API. */
export function ScriptsSheet({ open, onOpenChange }: { open: boolean; onOpenChange: (open: boolean) => void }) {
  return (
    <Sheet
      title="From a script"
      description="One command asks what is missing, waits for answers and recordings, and ends with a code that says how it went."
      open={open}
      onOpenChange={onOpenChange}
    >
      <div className="flex items-center gap-2">
        <code className="min-w-0 flex-1 rounded border border-rule bg-sheet px-2.5 py-1.5 font-mono text-[12px] leading-[18px]">
          {COMMAND}
        </code>
        <Button onClick={() => copyText(COMMAND, "The command")}>Copy</Button>
      </div>
      <h2 className="mt-6 mb-1 text-[16px] leading-6">Tokens for the HTTP API</h2>
      <p className="m-0 mb-3 text-soft">
        A script on another machine sends one in the header{" "}
        <code className="font-mono text-[12px]">Authorization: Bearer TOKEN</code>. What it can call is described in{" "}
        <a className="underline" href="/api/openapi.json">
          openapi.json
        </a>
        .
      </p>
      <TokenForm />
      <TokenList />
    </Sheet>
  );
}

function TokenForm() {
  const [name, setName] = useState("");
  const [scopes, setScopes] = useState<readonly TokenScope[]>(["read"]);
  const [add, { data, isLoading, error, reset }] = useAddTokenMutation();
  const submit = async () => {
    const result = await add({ name, scopes: [...scopes] });
    if (result.data) setName("");
  };
  if (data) {
    return (
      <div role="status" className="mb-4 grid gap-2 rounded border border-ink p-3">
        <p className="m-0">
          <strong>{data.made.name}</strong> is made. It is shown this once: keep it where the script finds it.
        </p>
        <div className="flex items-center gap-2">
          <code className="min-w-0 flex-1 overflow-x-auto rounded border border-rule bg-sheet px-2.5 py-1.5 font-mono text-[12px]">
            {data.token}
          </code>
          <Button onClick={() => copyText(data.token, "The token")}>Copy</Button>
          <Button onClick={reset}>Done</Button>
        </div>
      </div>
    );
  }
  return (
    <form
      className="mb-4 grid gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        void submit();
      }}
    >
      {error ? <ErrorNotice error={error} /> : null}
      <Field
        label="What it is for"
        placeholder="nightly check"
        maxLength={60}
        value={name}
        onChange={(event) => setName(event.target.value)}
      />
      <fieldset className="m-0 grid gap-1 border-0 p-0">
        <legend className="mb-1 p-0">What it may do</legend>
        {SCOPES.map(([scope, words]) => (
          <label key={scope} className="flex items-center gap-2">
            <input
              type="checkbox"
              className="accent-(--ink)"
              checked={scopes.includes(scope)}
              onChange={({ target }) =>
                setScopes(target.checked ? [...scopes, scope] : scopes.filter((other) => other !== scope))
              }
            />
            {words}
          </label>
        ))}
      </fieldset>
      <div>
        <Button type="submit" disabled={isLoading || name.trim() === "" || scopes.length === 0}>
          Make a token
        </Button>
      </div>
    </form>
  );
}

function TokenList() {
  const { data: tokens = [], error } = useListTokensQuery();
  if (error) return <ErrorNotice error={error} />;
  const open = tokens.filter(({ revokedAt }) => revokedAt === null);
  if (open.length === 0) return <p className="m-0 text-soft">No token opens anything yet.</p>;
  return (
    <ul aria-label="Tokens" className="m-0 grid list-none gap-0 p-0">
      {open.map((token) => (
        <TokenLine key={token.id} token={token} />
      ))}
    </ul>
  );
}

/** A token that opens something. It is revoked for good, so it is asked for twice. */
function TokenLine({ token: { id, name, scopes, createdAt, lastUsedAt } }: { token: ApiToken }) {
  const nowMs = useNow(REFRESH_MS);
  const [isSure, setSure] = useState(false);
  const [revoke, { isLoading }] = useRevokeTokenMutation();
  const submit = async () => {
    const { error } = await revoke(id);
    if (error) toast.error(toApiError(error).detail);
    else toast(`${name} opens nothing any more.`);
  };
  return (
    <li className="flex flex-wrap items-center gap-x-3 gap-y-1 border-t border-rule py-2">
      <strong className="min-w-0 truncate">{name}</strong>
      <span className="text-soft">{scopes.join(", ")}</span>
      <span className="figures flex-1 text-soft">
        <time dateTime={createdAt} title={formatExact(createdAt)}>
          made {formatAgo(createdAt, nowMs)}
        </time>
        {lastUsedAt === null ? ", never used" : `, last used ${formatAgo(lastUsedAt, nowMs)}`}
      </span>
      {isSure ? (
        <>
          <span>It cannot be given back.</span>
          <Button compact disabled={isLoading} onClick={() => void submit()}>
            Revoke it
          </Button>
          <Button compact tone="quiet" onClick={() => setSure(false)}>
            Keep it
          </Button>
        </>
      ) : (
        <Button compact tone="quiet" aria-label={`Revoke ${name}`} onClick={() => setSure(true)}>
          Revoke
        </Button>
      )}
    </li>
  );
}
