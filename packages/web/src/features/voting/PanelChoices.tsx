import { type Edition, Kind, type PanelChange } from "@tourney/core/contract";
import { useListEntrantsQuery } from "../../api/entrants-api.js";
import { Toggle } from "../../ui/controls.js";

interface ChoicesProps extends Pick<PanelChange, "promptIds" | "entrantIds"> {
  edition: Edition;
  issues: Record<string, string>;
  set: (part: Partial<Pick<PanelChange, "promptIds" | "entrantIds">>) => void;
}

/** What the panel shows: all prompts and entrants, or some of them. */
export function PanelChoices({ edition: { prompts }, promptIds, entrantIds, issues, set }: ChoicesProps) {
  const { data: entrants = [] } = useListEntrantsQuery();
  return (
    <>
      <Choice
        legend="Prompts"
        error={issues["promptIds"]}
        items={prompts.map(({ id, title }) => ({ id, name: title }))}
        chosen={promptIds}
        groups={Kind.options.map((kind) => ({
          name: `${kind}s`,
          ids: prompts.filter((prompt) => prompt.kind === kind).map(({ id }) => id),
        }))}
        onChange={(chosen) => set({ promptIds: chosen })}
      />
      <Choice
        legend="Entrants"
        error={issues["entrantIds"]}
        items={entrants.map(({ id, name }) => ({ id, name }))}
        chosen={entrantIds}
        groups={[]}
        onChange={(chosen) => set({ entrantIds: chosen })}
      />
    </>
  );
}

interface ChoiceProps {
  legend: string;
  error: string | undefined;
  items: readonly { id: string; name: string }[];
  /** Null: all, also those that are yet to come. */
  chosen: readonly string[] | null;
  groups: readonly { name: string; ids: readonly string[] }[];
  onChange: (chosen: string[] | null) => void;
}

/** All of some things, or the ones that are pressed. */
function Choice({ legend, error, items, chosen, groups, onChange }: ChoiceProps) {
  const isOn = (id: string) => chosen === null || chosen.includes(id);
  const toggle = (id: string) => {
    const now = chosen ?? items.map((item) => item.id);
    onChange(now.includes(id) ? now.filter((other) => other !== id) : [...now, id]);
  };
  return (
    <fieldset className="col-span-full m-0 min-w-0 border-0 p-0">
      <legend className="mb-1 p-0 text-[13px] font-medium">
        {legend}
        {chosen === null ? (
          <span className="font-normal text-soft"> · all, also later ones</span>
        ) : (
          <button
            type="button"
            className="ml-2 border-0 border-b border-dotted border-soft bg-transparent p-0 text-[13px] font-normal text-soft hover:text-ink"
            onClick={() => onChange(null)}
          >
            all
          </button>
        )}
        {groups
          .filter(({ ids }) => ids.length > 0)
          .map(({ name, ids }) => (
            <button
              key={name}
              type="button"
              className="ml-2 border-0 border-b border-dotted border-soft bg-transparent p-0 text-[13px] font-normal text-soft hover:text-ink"
              onClick={() => onChange([...ids])}
            >
              only {name}
            </button>
          ))}
      </legend>
      <div className="flex flex-wrap gap-1">
        {items.map(({ id, name }) => (
          <Toggle key={id} pressed={isOn(id)} onClick={() => toggle(id)}>
            {name}
          </Toggle>
        ))}
      </div>
      {error === undefined ? null : <p className="m-0 mt-1 text-[13px] text-broken">{error}</p>}
    </fieldset>
  );
}
