import type { StripFrame } from "@tourney/core/contract";
import type { RawPrompt, SuitePath, YamlIssue } from "@tourney/core/suite";
import type { ReactNode } from "react";
import { Button, CheckField, SelectField, TextArea } from "../../ui/controls.js";
import { asList, asRecord, asText, formatViewports, toNames, toNumber, toViewports } from "./raw-values.js";
import { TypedField, type TypedProps } from "./TypedField.js";
import { useTyped } from "./use-typed.js";
import { WalkthroughEditor } from "./WalkthroughEditor.js";

interface PromptFormProps {
  prompt: RawPrompt;
  /** Keys of all prompts of the suite. */
  keys: readonly string[];
  issues: readonly YamlIssue[];
  /** Pictures of this prompt from an earlier edition, to point at. */
  frames: readonly StripFrame[];
  onSet: (path: SuitePath, value: unknown) => void;
}

/** A member of the prompt as a field: its text, what is wrong with it, and how a change is handed on. */
type Bind = (
  path: SuitePath,
  value: unknown,
  read?: (text: string) => unknown,
) => { value: string; error: string | undefined; onText: (text: string) => void };

const KINDS = ["game", "animation", "drawing", "app"].map((kind) => [kind, kind] as const);

/**
 * One prompt as a form over the suite file: every change is written into the file, so that file and form are one text
 * with one history. What the file says may be wrong; it is shown as it stands, with what is wrong beside it.
 */
export function PromptForm({ prompt: { index, value }, keys, issues, frames, onSet }: PromptFormProps) {
  const base: SuitePath = ["prompts", index];
  const issueAt = (path: SuitePath) => {
    const full = [...base, ...path].join(".");
    return issues.find((issue) => issue.path === full || issue.path.startsWith(`${full}.`))?.message;
  };
  const set = (path: SuitePath, next: unknown) => onSet([...base, ...path], next);
  const bind: Bind = (path, member, read = (text) => text) => ({
    value: asText(member),
    error: issueAt(path),
    onText: (text) => set(path, read(text)),
  });
  const parts = { value, bind, set, issueAt };
  return (
    <div className="max-w-[880px] px-6 py-4">
      <Part title="What it is">
        <div className="grid grid-cols-6 gap-x-4 gap-y-2">
          <TypedField className="col-span-3" label="Title" {...bind(["title"], value["title"])} />
          <TypedField className="col-span-3" label="Key" {...bind(["key"], value["key"])} />
          <TypedField
            className="col-span-6"
            label="In one line"
            hint="Voters read it above the stages."
            {...bind(["summary"], value["summary"])}
          />
          <Choice className="col-span-2" label="Kind" options={KINDS} {...bind(["kind"], value["kind"])} />
          <TypedField
            className="col-span-4"
            label="Tags"
            hint="Separated by commas"
            {...bind(["tags"], asList(value["tags"]).map(asText).join(", "), toNames)}
          />
        </div>
      </Part>
      <SentPart {...parts} />
      <RulesPart {...parts} />
      <RecordingPart {...parts} />
      <Part title="Walkthrough">
        <WalkthroughEditor
          steps={asList(value["walkthrough"])}
          seconds={Number(value["seconds"] ?? 6) || 6}
          viewport={readViewport(value["viewport"])}
          frames={frames}
          issueAt={(step) => issueAt(["walkthrough", step])}
          onChange={(steps) => set(["walkthrough"], steps.length === 0 ? undefined : steps)}
        />
      </Part>
      <WatchpointsPart {...parts} />
      <VariantPart {...parts} keys={keys.filter((key) => key !== value["key"])} />
    </div>
  );
}

function readViewport(value: unknown): { width: number; height: number } {
  const { width, height } = asRecord(value);
  return { width: Number(width) || 1280, height: Number(height) || 800 };
}

interface PartProps {
  value: RawPrompt["value"];
  bind: Bind;
  set: (path: SuitePath, value: unknown) => void;
  issueAt: (path: SuitePath) => string | undefined;
}

function Part({ title, children }: { title: string; children: ReactNode }) {
  return (
    <section aria-label={title} className="border-b border-rule pb-4 not-first:pt-4">
      <h3 className="m-0 mb-2 text-[15px] leading-5">{title}</h3>
      {children}
    </section>
  );
}

function SentPart({ value, bind, set }: PartProps) {
  // A draft of format version 1 goes on calling them stages.
  const member = "stages" in value ? "stages" : "turns";
  const turns = asList(value[member]);
  const files = asList(value["starterFiles"]);
  return (
    <Part title="What is sent">
      <TypedArea label="Text" rows={8} {...bind(["text"], value["text"])} />
      {turns.map((turn, index) => (
        <div key={index} className="mt-2 flex items-start gap-2">
          <TypedArea
            className="min-w-0 flex-1"
            label={`Then, as turn ${index + 2}`}
            rows={3}
            {...bind([member, index, "text"], asRecord(turn)["text"])}
          />
          <Remove label={`Remove turn ${index + 2}`} onClick={() => set([member], without(turns, index))} />
        </div>
      ))}
      {files.map((file, index) => (
        <div key={index} className="mt-2 flex items-start gap-2">
          <div className="grid min-w-0 flex-1 gap-2">
            <TypedField
              label={`File ${index + 1}`}
              {...bind(["starterFiles", index, "path"], asRecord(file)["path"])}
            />
            <TypedArea
              label="What is in it"
              mono
              rows={4}
              {...bind(["starterFiles", index, "text"], asRecord(file)["text"])}
            />
          </div>
          <Remove label={`Remove file ${index + 1}`} onClick={() => set(["starterFiles"], without(files, index))} />
        </div>
      ))}
      <div className="mt-2 flex gap-2">
        <Button compact onClick={() => set([member], [...turns, { text: "Now animate it." }])}>
          Add a follow-up turn
        </Button>
        <Button
          compact
          onClick={() => set(["starterFiles"], [...files, { path: `file-${files.length + 1}.txt`, text: "" }])}
        >
          Add a file to give
        </Button>
      </div>
    </Part>
  );
}

const LIBRARIES = [
  ["forbidden", "forbidden"],
  ["allowed", "allowed"],
  ["only", "only these"],
  ["use", "to be used"],
] as const;

function RulesPart({ value, bind, set, issueAt }: PartProps) {
  const rules = asRecord(value["rules"]);
  const { libraries } = rules;
  const used = asRecord(libraries)["use"];
  const names = asList(Array.isArray(libraries) ? libraries : used).map(asText);
  const mode = Array.isArray(libraries) ? "only" : used !== undefined ? "use" : asText(libraries ?? "forbidden");
  const setRule = (name: string, next: unknown) => {
    const all = Object.entries({ ...rules, [name]: next }).filter(([, member]) => member !== undefined);
    set(["rules"], all.length === 0 ? undefined : Object.fromEntries(all));
  };
  const toLibraries = (chosen: string, list: readonly string[]) => {
    if (chosen === "forbidden") return undefined;
    if (chosen === "allowed") return "allowed";
    return chosen === "only" ? list : { use: list };
  };
  const placeholderNames = names.length > 0 ? names : ["d3"];
  return (
    <Part title="Rules">
      <div className="grid grid-cols-6 gap-x-4 gap-y-2">
        <Choice
          className="col-span-2"
          label="Files"
          options={[
            ["one", "one file that holds everything"],
            ["several", "several allowed"],
          ]}
          value={rules["singleFile"] === false ? "several" : "one"}
          error={issueAt(["rules", "singleFile"])}
          onText={(text) => setRule("singleFile", text === "several" ? false : undefined)}
        />
        <Choice
          className="col-span-2"
          label="Libraries"
          options={LIBRARIES}
          value={mode}
          error={issueAt(["rules", "libraries"])}
          onText={(text) => setRule("libraries", toLibraries(text, placeholderNames))}
        />
        {mode === "only" || mode === "use" ? (
          <TypedField
            className="col-span-2"
            label="Which"
            hint="Separated by commas"
            value={names.join(", ")}
            error={undefined}
            onText={(text) => setRule("libraries", toLibraries(mode, toNames(text) ?? []))}
          />
        ) : (
          <span className="col-span-2" />
        )}
        <Choice
          className="col-span-2"
          label="Frameworks"
          options={[
            ["allowed", "allowed"],
            ["forbidden", "forbidden"],
          ]}
          {...bind(["rules", "framework"], rules["framework"] ?? "allowed")}
          onText={(text) => setRule("framework", text === "allowed" ? undefined : text)}
        />
        <Choice
          className="col-span-2"
          label="Language"
          options={[
            ["", "any"],
            ["html", "an HTML page"],
            ["svg", "an SVG file"],
            ["javascript", "plain JavaScript"],
          ]}
          {...bind(["rules", "language"], rules["language"])}
          onText={(text) => setRule("language", text === "" ? undefined : text)}
        />
      </div>
    </Part>
  );
}

function RecordingPart({ value, bind, set, issueAt }: PartProps) {
  const viewport = readViewport(value["viewport"]);
  return (
    <Part title="Recording">
      <div className="grid grid-cols-6 gap-x-4 gap-y-2">
        <TypedField
          className="col-span-2"
          label="Viewport"
          hint="As in 1280 × 800"
          value={`${viewport.width} × ${viewport.height}`}
          error={issueAt(["viewport"])}
          onText={(text) => set(["viewport"], toViewports(text)?.[0])}
        />
        <TypedField
          className="col-span-2"
          label="Further viewports"
          hint="As in 390 × 844, 768 × 1024"
          value={formatViewports(value["furtherViewports"])}
          error={issueAt(["furtherViewports"])}
          onText={(text) => set(["furtherViewports"], toViewports(text))}
        />
        <TypedField
          className="col-span-1"
          label="Seconds"
          inputMode="decimal"
          {...bind(["seconds"], value["seconds"] ?? 6, toNumber)}
        />
        <CheckField
          className="col-span-6"
          label="Something is expected to move by itself"
          checked={value["motion"] === true}
          onChange={(event) => set(["motion"], event.target.checked)}
        />
      </div>
    </Part>
  );
}

const EVIDENCE = ["", "picture", "motion", "controls", "text", "log", "code"].map(
  (kind) => [kind, kind === "" ? "anything" : kind] as const,
);

function WatchpointsPart({ value, set, issueAt }: PartProps) {
  const watchpoints = asList(value["watchpoints"]);
  const write = (index: number, text: string, evidence: string) =>
    set(
      ["watchpoints"],
      watchpoints.map((item, at) => (at !== index ? item : evidence === "" ? text : { text, evidence })),
    );
  return (
    <Part title="What to look for">
      {watchpoints.map((item, index) => {
        const text = typeof item === "string" ? item : asText(asRecord(item)["text"]);
        const evidence = asText(asRecord(item)["evidence"]);
        return (
          <div key={index} className="flex items-start gap-2">
            <TypedField
              className="min-w-0 flex-1"
              label={`Watch-point ${index + 1}`}
              value={text}
              error={issueAt(["watchpoints", index])}
              onText={(next) => write(index, next, evidence)}
            />
            <Choice
              className="w-32"
              label="Seen in"
              options={EVIDENCE}
              value={evidence}
              error={undefined}
              onText={(next) => write(index, text, next)}
            />
            <Remove
              label={`Remove watch-point ${index + 1}`}
              onClick={() => set(["watchpoints"], without(watchpoints, index))}
            />
          </div>
        );
      })}
      <Button compact className="mt-1" onClick={() => set(["watchpoints"], [...watchpoints, "It works"])}>
        Add a watch-point
      </Button>
    </Part>
  );
}

function VariantPart({ value, bind, set, keys }: PartProps & { keys: readonly string[] }) {
  const variant = asRecord(value["variantOf"]);
  const of = asText(variant["prompt"]);
  return (
    <Part title="Variant">
      <div className="grid grid-cols-6 gap-x-4 gap-y-2">
        <Choice
          className="col-span-2"
          label="Of"
          hint="The same task in other words"
          options={[["", "none: a task of its own"], ...keys.map((key) => [key, key] as const)]}
          {...bind(["variantOf", "prompt"], of)}
          onText={(text) =>
            set(
              ["variantOf"],
              text === ""
                ? undefined
                : { prompt: text, change: asText(variant["change"]) || "What is worded otherwise" },
            )
          }
        />
        {of === "" ? null : (
          <TypedField
            className="col-span-4"
            label="What is worded otherwise"
            {...bind(["variantOf", "change"], variant["change"])}
          />
        )}
      </div>
    </Part>
  );
}

const without = (list: readonly unknown[], index: number): unknown[] | undefined =>
  list.length === 1 ? undefined : list.filter((_, at) => at !== index);

const Remove = ({ label, onClick }: { label: string; onClick: () => void }) => (
  <Button className="mt-[26px]" aria-label={label} title={label} onClick={onClick}>
    ×
  </Button>
);

function TypedArea({ value, error, onText, ...rest }: TypedProps & { rows: number; mono?: boolean }) {
  return <TextArea {...rest} {...useTyped(value, onText)} error={error} />;
}

function Choice({
  value,
  error,
  onText,
  options,
  ...rest
}: TypedProps & { options: readonly (readonly [string, string])[] }) {
  // A value that is none of the choices is shown as it stands: the file may say anything.
  const all = options.some(([option]) => option === value) ? options : [...options, [value, value] as const];
  return (
    <SelectField {...rest} options={all} value={value} error={error} onChange={(event) => onText(event.target.value)} />
  );
}
