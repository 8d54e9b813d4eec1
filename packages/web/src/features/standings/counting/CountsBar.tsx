import { EVERYTHING, Kind, KINDS, type WhatCounts } from "@tourney/core/contract";
import { describePages } from "@tourney/core/what-counts";
import { count } from "../../../lib/format.js";
import { CheckField } from "../../../ui/controls.js";
import { PopoverMenu } from "../../../ui/PopoverMenu.js";
import type { Choices } from "./counter.js";

interface BarProps {
  counts: WhatCounts;
  /** Undefined until the ballots are there. */
  choices: Choices | undefined;
  /** Older set-ups that could compete. */
  formerVersions: number;
  onChoose: (counts: WhatCounts) => void;
  /** What can be chosen from is wanted now. */
  onWant: () => void;
}

/** Puts a value into a list or takes it out. */
const toggle = <T,>(list: readonly T[], value: T): T[] =>
  list.includes(value) ? list.filter((other) => other !== value) : [...list, value];

const LEGEND = "m-0 mb-1 p-0 text-[12px] font-semibold text-soft";

/** What counts, in menus: everything in them is in the address. */
export function CountsBar(props: BarProps) {
  return (
    <>
      <KindMenu {...props} />
      <PromptMenu {...props} />
      <PanelMenu {...props} />
      <VoterMenu {...props} />
      <RuleMenu {...props} />
    </>
  );
}

function KindMenu({ counts, onChoose }: BarProps) {
  const label = counts.kind.length === 0 ? "All kinds" : counts.kind.map((kind) => KINDS[kind].plural).join(", ");
  return (
    <PopoverMenu name="Kinds" label={label} isChosen={counts.kind.length > 0} className="w-48">
      {Kind.options.map((kind) => (
        <CheckField
          key={kind}
          label={KINDS[kind].plural}
          checked={counts.kind.includes(kind)}
          onChange={() => onChoose({ ...counts, kind: toggle(counts.kind, kind) })}
        />
      ))}
    </PopoverMenu>
  );
}

const Fetching = () => <p className="m-0 text-soft">Fetching the ballots …</p>;

function PromptMenu({ counts, choices, onChoose, onWant }: BarProps) {
  const chosen = counts.prompt.length + counts.tag.length;
  const titleOf = (key: string) => choices?.prompts.find((prompt) => prompt.key === key)?.title ?? key;
  const label =
    chosen === 0
      ? counts.variants === "out"
        ? "No variants"
        : "All prompts"
      : chosen === 1
        ? (counts.tag[0] ?? titleOf(counts.prompt[0]!))
        : counts.prompt.length > 0
          ? count(counts.prompt.length, "prompt")
          : count(counts.tag.length, "tag");
  const tags = [...new Set(choices?.prompts.flatMap((prompt) => prompt.tags))].toSorted();
  return (
    <PopoverMenu name="Prompts" label={label} isChosen={chosen > 0 || counts.variants === "out"} onOpen={onWant}>
      {choices === undefined ? <Fetching /> : null}
      {choices?.prompts.some(({ isVariant }) => isVariant) ? (
        <CheckField
          label="Without variants"
          checked={counts.variants === "out"}
          onChange={() => onChoose({ ...counts, variants: counts.variants === "out" ? "in" : "out" })}
        />
      ) : null}
      {tags.length > 0 ? (
        <fieldset className="m-0 grid gap-1.5 border-0 p-0">
          <legend className={LEGEND}>Tagged</legend>
          {tags.map((tag) => (
            <CheckField
              key={tag}
              label={tag}
              checked={counts.tag.includes(tag)}
              onChange={() => onChoose({ ...counts, tag: toggle(counts.tag, tag) })}
            />
          ))}
        </fieldset>
      ) : null}
      {choices ? (
        <fieldset className="m-0 grid gap-1.5 border-0 p-0">
          <legend className={LEGEND}>Only these prompts</legend>
          {choices.prompts.map(({ key, title, kind, isVariant }) => (
            <CheckField
              key={key}
              label={isVariant ? `${title} (variant, ${kind})` : `${title} (${kind})`}
              checked={counts.prompt.includes(key)}
              onChange={() => onChoose({ ...counts, prompt: toggle(counts.prompt, key) })}
            />
          ))}
        </fieldset>
      ) : null}
    </PopoverMenu>
  );
}

function PanelMenu({ counts, choices, onChoose, onWant }: BarProps) {
  const titleOf = (id: string) => choices?.panels.find((panel) => panel.id === id)?.title ?? "One panel";
  const { from, to, panel } = counts;
  const days =
    from === undefined
      ? to === undefined
        ? null
        : `until ${to}`
      : to === undefined
        ? `since ${from}`
        : `${from} – ${to}`;
  const panels = panel.length === 0 ? null : panel.length === 1 ? titleOf(panel[0]!) : `${panel.length} panels`;
  const setDay = (name: "from" | "to", value: string) => {
    onChoose({ ...counts, [name]: value === "" ? undefined : value });
  };
  return (
    <PopoverMenu
      name="Panels and days"
      label={[panels, days].filter((part) => part !== null).join(", ") || "All panels"}
      isChosen={panels !== null || days !== null}
      onOpen={onWant}
    >
      {choices === undefined ? <Fetching /> : null}
      {choices ? (
        <fieldset className="m-0 grid gap-1.5 border-0 p-0">
          <legend className={LEGEND}>Only these panels</legend>
          {choices.panels.map(({ id, title, edition }) => (
            <CheckField
              key={id}
              label={`${title} (edition ${edition})`}
              checked={panel.includes(id)}
              onChange={() => onChoose({ ...counts, panel: toggle(panel, id) })}
            />
          ))}
        </fieldset>
      ) : null}
      <fieldset className="m-0 grid grid-cols-2 gap-2 border-0 p-0">
        <legend className={LEGEND}>Only ballots cast on these days, in UTC</legend>
        {(["from", "to"] as const).map((name) => (
          <label key={name} className="grid gap-1">
            {name === "from" ? "From" : "To"}
            <input
              type="date"
              value={counts[name] ?? ""}
              onChange={({ target }) => setDay(name, target.value)}
              className="h-7 min-w-0 rounded border border-rule bg-sheet px-1.5 text-ink"
            />
          </label>
        ))}
      </fieldset>
    </PopoverMenu>
  );
}

function VoterMenu({ counts, choices, onChoose, onWant }: BarProps) {
  const { without } = counts;
  return (
    <PopoverMenu
      name="Voters"
      label={without.length === 0 ? "All voters" : `Without ${count(without.length, "voter")}`}
      isChosen={without.length > 0}
      onOpen={onWant}
    >
      {choices === undefined ? <Fetching /> : null}
      {choices?.panels.map(({ id, title }, panel) => (
        <fieldset key={id} className="m-0 grid gap-1.5 border-0 p-0">
          <legend className={LEGEND}>{title}</legend>
          {choices.voters
            .filter((voter) => voter.panel === panel)
            .map((voter, index) => (
              <CheckField
                key={voter.id}
                label={voter.name === "" ? `Voter ${index + 1}, without a name` : voter.name}
                checked={!without.includes(voter.id)}
                onChange={() => onChoose({ ...counts, without: toggle(without, voter.id) })}
              />
            ))}
        </fieldset>
      ))}
      <p className="m-0 text-soft">Whom you have left out on Voting does not count here either.</p>
    </PopoverMenu>
  );
}

const BROKEN: Record<WhatCounts["broken"], string> = {
  as_voted: "As people voted",
  lose: "They lose to any page that shows something",
  leave_out: "Their ballots do not count",
};
const UNDELIVERED: Record<WhatCounts["undelivered"], string> = {
  as_voted: "As each panel had it",
  leave_out: "It does not count",
};

function RuleMenu({ counts, choices, formerVersions, onChoose, onWant }: BarProps) {
  const { broken, undelivered, versions } = counts;
  const isFirst = counts.pages === EVERYTHING.pages;
  const offered = new Set([EVERYTHING.pages, ...(choices?.otherPages ?? []), counts.pages]);
  const pages = Object.fromEntries([...offered].map((one) => [one, describePages(one)]));
  const rules = [
    ...(isFirst ? [] : [describePages(counts.pages)]),
    ...(broken === "as_voted" ? [] : [broken === "lose" ? "Broken: lose" : "Broken: left out"]),
    ...(undelivered === "as_voted" ? [] : ["Undelivered: left out"]),
    ...(versions === "present" ? [] : ["Older set-ups, too"]),
  ];
  return (
    <PopoverMenu
      name="Rules"
      label={rules.join(", ") || "As voted"}
      isChosen={rules.length > 0}
      onOpen={onWant}
      className="w-80"
    >
      {offered.size > 1 ? (
        <Radios
          legend="Pages that are compared"
          options={pages}
          value={counts.pages}
          onChange={(value) => onChoose({ ...counts, pages: value })}
        />
      ) : null}
      <Radios
        legend="Pages that show nothing: blank, crashed or hung"
        options={BROKEN}
        value={broken}
        onChange={(value) => onChoose({ ...counts, broken: value })}
      />
      <Radios
        legend="What was not delivered"
        options={UNDELIVERED}
        value={undelivered}
        onChange={(value) => onChoose({ ...counts, undelivered: value })}
      />
      {formerVersions > 0 || versions === "all" ? (
        <CheckField
          label={`${count(formerVersions, "older set-up")} as competitors of their own`}
          checked={versions === "all"}
          onChange={() => onChoose({ ...counts, versions: versions === "all" ? "present" : "all" })}
        />
      ) : null}
    </PopoverMenu>
  );
}

function Radios<T extends string>({
  legend,
  options,
  value,
  onChange,
}: {
  legend: string;
  options: Record<T, string>;
  value: T;
  onChange: (value: T) => void;
}) {
  return (
    <fieldset className="m-0 grid gap-1.5 border-0 p-0">
      <legend className={LEGEND}>{legend}</legend>
      {(Object.entries(options) as [T, string][]).map(([key, words]) => (
        <label key={key} className="flex items-center gap-2">
          <input
            type="radio"
            name={legend}
            checked={key === value}
            onChange={() => onChange(key)}
            className="accent-(--ink)"
          />
          {words}
        </label>
      ))}
    </fieldset>
  );
}
