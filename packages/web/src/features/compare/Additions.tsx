import { listNaturalPairs, MOST_COMPARED } from "@tourney/core/compare";
import type { ComparableEntry } from "@tourney/core/contract";
import { Popover } from "radix-ui";
import { describeComparable } from "../../lib/comparable-words.js";
import { EntrantGlyph } from "../../ui/glyphs.js";

interface AdditionsProps {
  comparable: readonly ComparableEntry[];
  ids: readonly string[];
  onChoose: (ids: readonly string[]) => void;
}

/** What else may stand here: the comparisons that lie nearest to the first entry, and every entry of the prompt. */
export function Additions({ comparable, ids, onChoose }: AdditionsProps) {
  const own = comparable.find(({ entryId }) => entryId === ids[0]);
  const pairs = own === undefined ? [] : listNaturalPairs(own, comparable);
  const addable = comparable.filter(({ entryId, isSamePrompt }) => isSamePrompt && !ids.includes(entryId));
  return (
    <>
      <Menu label="+ Add" disabled={ids.length >= MOST_COMPARED || addable.length === 0}>
        {addable.map((entry) => (
          <Item key={entry.entryId} onSelect={() => onChoose([...ids, entry.entryId])}>
            <EntrantGlyph glyph={entry.entrant.glyph} />
            <span className="flex-1">{entry.entrant.name}</span>
            <span className="text-[13px] text-soft">{describeComparable(entry)}</span>
          </Item>
        ))}
      </Menu>
      <Menu label="Compare with …" disabled={pairs.length === 0}>
        {pairs.map(({ key, label, entryIds }) => (
          <Item key={key} onSelect={() => onChoose(entryIds)}>
            <span className="flex-1">{label}</span>
            <span className="figures text-[13px] text-soft">{entryIds.length}</span>
          </Item>
        ))}
      </Menu>
    </>
  );
}

function Menu({ label, disabled, children }: { label: string; disabled: boolean; children: React.ReactNode }) {
  return (
    <Popover.Root>
      <Popover.Trigger
        disabled={disabled}
        className="inline-flex h-7 items-center rounded border border-dashed border-rule bg-transparent px-2.5 text-[13px] text-ink hover:border-ink disabled:opacity-50"
      >
        {label}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="start"
          sideOffset={4}
          className="z-40 max-h-[60vh] w-80 max-w-[calc(100vw-32px)] overflow-auto rounded border border-rule bg-sheet py-1 shadow-lg"
        >
          {children}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

function Item({ onSelect, children }: { onSelect: () => void; children: React.ReactNode }) {
  return (
    <Popover.Close
      onClick={onSelect}
      className="flex w-full items-center gap-2 border-0 bg-transparent px-3 py-1.5 text-left text-ink hover:bg-ground focus-visible:bg-ground"
    >
      {children}
    </Popover.Close>
  );
}
