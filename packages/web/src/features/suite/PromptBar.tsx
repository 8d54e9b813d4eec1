import { insertPrompt, movePrompt, type RawPrompt, removePrompt } from "@tourney/core/suite";
import { Button, Toggle } from "../../ui/controls.js";
import { asRecord, asText } from "./raw-values.js";

/** A prompt as a form to change it, or as the page it will be. */
export type PromptView = "form" | "page";

interface PromptBarProps {
  prompts: readonly RawPrompt[];
  index: number;
  view: PromptView;
  text: string;
  onView: (view: PromptView) => void;
  onChoose: (index: number) => void;
  /** The file with its list of prompts changed, and which is chosen then. */
  onChange: (text: string | null, chosen: number) => void;
}

/** Which prompt is edited, and what may be done to the list of them. */
export function PromptBar({ prompts, index, view, text, onView, onChoose, onChange }: PromptBarProps) {
  const prompt = prompts[index];
  const freeKey = (wish: string) => {
    const keys = new Set(prompts.map(({ value }) => value["key"]));
    for (let n = 2; ; n++) if (!keys.has(`${wish}-${n}`)) return `${wish}-${n}`;
  };
  return (
    <div className="flex flex-wrap items-center gap-1.5 border-b border-rule px-6 py-2 max-[1200px]:px-4">
      <select
        aria-label="Prompt"
        value={index}
        disabled={prompts.length === 0}
        onChange={(event) => onChoose(Number(event.target.value))}
        className="h-6 max-w-44 min-w-0 rounded border border-rule bg-sheet px-2 text-[13px] text-ink"
      >
        {prompts.map(({ index: at, value }) => (
          <option key={at} value={at}>
            {asText(value["title"]) || asText(value["key"]) || `Prompt ${at + 1}`}
          </option>
        ))}
      </select>
      <Toggle pressed={view === "form"} onClick={() => onView("form")}>
        Form
      </Toggle>
      <Toggle pressed={view === "page"} onClick={() => onView("page")}>
        Page
      </Toggle>
      <span className="ml-auto flex flex-wrap gap-1.5">
        <Button
          compact
          onClick={() => onChange(insertPrompt(text, prompts.length, newPrompt(freeKey("prompt"))), prompts.length)}
        >
          Add
        </Button>
        {prompt === undefined ? null : (
          <>
            <Button
              compact
              onClick={() =>
                onChange(
                  insertPrompt(text, index + 1, toVariant(prompt, freeKey(asText(prompt.value["key"])))),
                  index + 1,
                )
              }
            >
              Variant
            </Button>
            <Button
              compact
              aria-label="Move up"
              disabled={index === 0}
              onClick={() => onChange(movePrompt(text, index, index - 1), index - 1)}
            >
              ↑
            </Button>
            <Button
              compact
              aria-label="Move down"
              disabled={index === prompts.length - 1}
              onClick={() => onChange(movePrompt(text, index, index + 1), index + 1)}
            >
              ↓
            </Button>
            <Button
              compact
              disabled={prompts.length === 1}
              onClick={() => onChange(removePrompt(text, index), Math.max(0, index - 1))}
            >
              Remove
            </Button>
          </>
        )}
      </span>
    </div>
  );
}

const newPrompt = (key: string) => ({
  key,
  title: "New prompt",
  kind: "animation",
  summary: "What it shows, in one line",
  text: "Build …",
  motion: true,
  watchpoints: ["It works"],
});

/** The same task to be worded otherwise; a variant of a variant is one of the first. */
const toVariant = ({ value }: RawPrompt, key: string): Record<string, unknown> => {
  const { key: of, title, kind, summary, variantOf, ...rest } = value;
  const first = asText(asRecord(variantOf)["prompt"]) || asText(of);
  return {
    key,
    title: `${asText(title)}, worded otherwise`.slice(0, 80),
    kind,
    summary,
    variantOf: { prompt: first, change: "What is worded otherwise" },
    ...rest,
  };
};
