import { isSameSuite } from "@tourney/core/suite";
import type { PromptPart, SuiteDifference } from "@tourney/core/contract";
import { count } from "../../lib/format.js";

const FIELD_WORDS: Record<string, string> = {
  title: "title",
  text: "text",
  turns: "further turns",
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
      <Consequences difference={difference} />
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
        {reordered ? <li>The prompts are in a different order.</li> : null}
      </ul>
      {head.length > 0 ? <Changes title="The suite itself" fields={head} /> : null}
      {changed.map(({ key, title, fields, parts }) => (
        <Changes key={key} title={title} fields={fields} parts={parts} />
      ))}
    </div>
  );
}

/** What the changes cost: which prompts keep their answers, and which do not. */
function Consequences({ difference: { added, changed, kept } }: { difference: SuiteDifference }) {
  const reworded = changed.filter(({ parts }) => parts.includes("wording")).length;
  const stale = changed.filter(({ parts }) => parts.includes("recipe") && !parts.includes("wording")).length;
  return (
    <p className="mt-0 mb-2">
      <strong>{count(kept, "prompt")}</strong> {kept === 1 ? "keeps its" : "keep their"} answers and ballots
      {reworded + added.length > 0 ? `; ${count(reworded + added.length, "prompt")} to be asked` : ""}
      {stale > 0 ? `; ${count(stale, "prompt")} to be recorded again` : ""}.
    </p>
  );
}

/** What a change of each part means. */
const PART_WORDS: Record<PromptPart, string> = {
  wording: "new wording: models are asked again",
  recipe: "new recipe: recordings become stale",
  briefing: "told otherwise: costs nothing",
};

function Changes({
  title,
  fields,
  parts = [],
}: {
  title: string;
  fields: SuiteDifference["head"];
  parts?: readonly PromptPart[];
}) {
  return (
    <section className="border-t border-rule py-2">
      <h3 className="m-0 mb-1 text-[14px]">
        {title}
        {parts.length > 0 ? (
          <span className="font-sans text-[12px] font-normal text-soft">
            {" "}
            · {parts.map((part) => PART_WORDS[part]).join(" · ")}
          </span>
        ) : null}
      </h3>
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
