import { API, type Operation } from "@tourney/core/contract";
import { ask, type Attack, type Target } from "./target.js";

const NOBODY = {};
const ZERO = "00000000-0000-4000-8000-000000000000";
/** Ends the attacker's own session. */
const NOT_AS_LEAD = new Set(["signOut"]);

const pathOf = ({ path }: Operation): string =>
  path.replace(/:(\w+)/g, (_, name: string) => (name.endsWith("Id") ? ZERO : "a".repeat(24)));
const methodOf = ({ method }: Operation): string => method.toUpperCase();
const isChanging = ({ method }: Operation): boolean => method !== "get";

/** Every operation, by everybody who may not call it. */
export function attackOperations(target: Target): Attack[] {
  const { origin, lead, voter, reader } = target;
  const attacks: Attack[] = [];
  for (const operation of Object.values(API) as Operation[]) {
    const [path, method] = [pathOf(operation), methodOf(operation)];
    const add = (who: string, run: () => Promise<string | null>) =>
      attacks.push({ name: `${operation.id}, ${who}`, run });
    const refused = (headers: Record<string, string>, wanted: readonly number[], host?: string) => async () => {
      const body = isChanging(operation) ? { body: "{}" } : {};
      const { status } = await ask(origin, path, { method, headers, ...body, ...(host === undefined ? {} : { host }) });
      return wanted.includes(status) ? null : `answered ${status}`;
    };
    if (operation.access === "lead") {
      add("nobody", refused(NOBODY, [401]));
      add("a voter", refused(voter, [401]));
      if (operation.scope !== "read") add("a script that may read", refused(reader, [403]));
    }
    if (isChanging(operation))
      add("another site in the lead's browser", refused({ ...lead, Origin: "http://elsewhere.example" }, [403]));
    add("by another name of this machine", refused(lead, [421], "elsewhere.example"));
  }
  return attacks;
}

const BODIES: readonly [string, string][] = [
  ["null", "null"],
  ["a list", "[]"],
  ["a text", '"a"'],
  ["a number beyond all", "1e999"],
  ["half of an object", '{"a":'],
  ["a prototype", '{"__proto__":{"isLead":true},"constructor":{"prototype":{"isLead":true}}}'],
  ["ten thousand lists in one another", `${"[".repeat(10_000)}${"]".repeat(10_000)}`],
  ["a hundred thousand members", `{${Array.from({ length: 100_000 }, (_, i) => `"k${i}":1`).join()}}`],
  ["half a pair and a NUL", '{"title":"\\ud800\\u0000","name":"\\ud800\\u0000","yaml":"\\u0000","note":"\\ud800"}'],
];

/** What nobody's program sends, to every operation that takes something: it is refused in words, and nothing breaks. */
export function attackBodies({ origin, lead }: Target): Attack[] {
  const taking = (Object.values(API) as Operation[]).filter((one) => isChanging(one) && !NOT_AS_LEAD.has(one.id));
  return taking.flatMap((operation) =>
    BODIES.map(([what, body]) => ({
      name: `${operation.id} with ${what}`,
      run: async () => {
        const { status } = await ask(origin, pathOf(operation), { method: methodOf(operation), headers: lead, body });
        return status < 500 ? null : `answered ${status}`;
      },
    })),
  );
}
