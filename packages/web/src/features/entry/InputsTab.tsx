import type { EntryDetail, Recording } from "@tourney/core/contract";
import { describeControls, describeInput } from "@tourney/core/page";
import { pictureUrl } from "../../ui/Picture.js";

type Step = Recording["steps"][number];

const EFFECTS: Record<Step["effect"], { word: string; className: string }> = {
  changed: { word: "✓ The page answered", className: "text-sound" },
  none: { word: "✕ Nothing happened", className: "text-broken" },
  not_found: { word: "? Not found on the page", className: "text-care-ink" },
  not_judged: { word: "Not judged", className: "text-soft" },
};

/** Each input of the walkthrough with the page right before it and after it. */
export function InputsTab({ entry }: { entry: EntryDetail }) {
  const steps = entry.render?.recording?.steps ?? [];
  const controls = entry.render?.recording?.controls ?? [];
  if (steps.length === 0) {
    return (
      <p className="mt-0 text-soft">
        Nothing was pressed: the prompt has no walkthrough, and nothing was found on the page that could be tried.
      </p>
    );
  }
  const isDefault = steps[0]!.origin === "default";
  return (
    <>
      {isDefault ? (
        <p className="mt-0 text-soft">The prompt has no walkthrough, so what the page offers was tried, each once.</p>
      ) : null}
      <Controls controls={controls} />
      <ol className="m-0 list-none p-0">
        {steps.map((step, index) => (
          <li key={index} className="border-b border-rule py-2.5">
            <p className="m-0 mb-1.5 flex gap-3">
              <span className="figures w-12 shrink-0 text-soft">{(step.atMs / 1000).toFixed(1)} s</span>
              <span className="min-w-0 flex-1 font-semibold break-words">{nameOf(step)}</span>
              <span className={EFFECTS[step.effect].className}>{EFFECTS[step.effect].word}</span>
            </p>
            <div className="grid grid-cols-2 gap-2 pl-12">
              <StepPicture file={step.before} label="before" />
              <StepPicture file={step.after} label="after" />
            </div>
          </li>
        ))}
      </ol>
    </>
  );
}

/** How many of the page's controls answer, and which do not. */
function Controls({ controls }: { controls: Recording["controls"] }) {
  const counted = describeControls(controls);
  if (counted === null) return null;
  const list = (state: Recording["controls"][number]["state"], word: string) => {
    const names = controls.filter((item) => item.state === state).map(({ control }) => control);
    return names.length === 0 ? null : (
      <p className="m-0 text-soft">
        {word}: {names.join(", ")}
      </p>
    );
  };
  return (
    <div className="mb-2 border-b border-rule pb-2">
      <p className="m-0 font-semibold">Controls: {counted}</p>
      {list("dead", "No answer")}
      {list("not_tried", "Not tried")}
    </div>
  );
}

function nameOf(step: Step): string {
  const name = describeInput(step.input, step.control);
  return `${name[0]!.toUpperCase()}${name.slice(1)}`;
}

function StepPicture({ file, label }: { file: string | null; label: string }) {
  if (file === null) return <span className="text-[12px] text-soft">No picture {label}</span>;
  return (
    <a href={pictureUrl(file)} target="_blank" rel="noreferrer" className="text-[12px] text-soft no-underline">
      <img
        src={pictureUrl(file)}
        alt={`The page ${label}`}
        loading="lazy"
        className="block w-full border border-rule"
      />
      {label}
    </a>
  );
}
