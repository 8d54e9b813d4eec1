import { isSameSuite } from "@tourney/core/suite";
import type { SuiteDifference } from "@tourney/core/contract";

const FIELD_WORDS: Record<string, string> = {
  title: "title",
  text: "text",
  stages: "further turns",
  starterFiles: "starter files",
  variantOf: "variant of",
  furtherViewports: "further viewports",
  seconds: "seconds recorded",
  motion: "motion expected",
  watchpoints: "what to look for",
  mendTemplate: "mend template",
};

/** What changed between two editions, or from the newest edition to a file: prompt by prompt, member by member. */
export function Difference({ difference }: { difference: SuiteDifference }) {
  if (isSameSuite(difference)) return <p className="text-soft">Nothing differs.</p>;
  const { head, added, removed, reordered, changed } = difference;
  return (
    <div>
      <ul className="m-0 mb-2 list-none p-0">
        {added.map((key) => (
          <li key={key}>
            <span className="font-semibold text-sound">+ added</span>{" "}
            <span className="font-mono text-[12px]">{key}</span>
          </li>
        ))}
        {removed.map((key) => (
          <li key={key}>
            <span className="font-semibold text-broken">− removed</span>{" "}
            <span className="font-mono text-[12px]">{key}</span>
          </li>
        ))}
        {reordered ? <li>The order of the prompts is another.</li> : null}
      </ul>
      {head.length > 0 ? <Changes title="The suite itself" fields={head} /> : null}
      {changed.map(({ key, title, fields }) => (
        <Changes key={key} title={title} fields={fields} />
      ))}
    </div>
  );
}

function Changes({ title, fields }: { title: string; fields: SuiteDifference["head"] }) {
  return (
    <section className="border-t border-rule py-2">
      <h3 className="m-0 mb-1 text-[14px]">{title}</h3>
      {fields.map(({ field, before, after }) => (
        <div key={field} className="mb-1 grid grid-cols-[130px_1fr] gap-2">
          <span className="text-soft">{FIELD_WORDS[field] ?? field}</span>
          <span className="min-w-0 break-words whitespace-pre-wrap">
            {before === "" ? null : <del className="text-broken">{before}</del>}
            {before === "" || after === "" ? null : <br />}
            {after === "" ? null : <ins className="text-sound no-underline">{after}</ins>}
          </span>
        </div>
      ))}
    </section>
  );
}
