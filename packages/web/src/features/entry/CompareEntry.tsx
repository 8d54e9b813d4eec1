import { listNaturalPairs } from "@tourney/core/compare";
import type { EntryDetail } from "@tourney/core/contract";
import { DropdownMenu } from "radix-ui";
import { useEditionInAddress, useEditionNavigate } from "../../api/edition-links.js";
import { useListComparableQuery } from "../../api/entry-api.js";

/** Puts the entry beside what lies nearest to it, or beside all of its prompt. */
export function CompareEntry({ entry }: { entry: EntryDetail }) {
  const navigate = useEditionNavigate();
  const edition = useEditionInAddress() ?? undefined;
  const { data: comparable = [] } = useListComparableQuery({ entryId: entry.id, edition });
  const own = comparable.find(({ entryId }) => entryId === entry.id);
  const pairs = own === undefined ? [] : listNaturalPairs(own, comparable);
  const open = (ids: readonly string[]) => navigate(`/compare?entries=${ids.join(",")}`);
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger className="inline-flex h-8 items-center rounded border border-rule bg-sheet px-3 whitespace-nowrap text-ink hover:border-ink">
        Compare ▾
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="end"
          sideOffset={4}
          className="z-40 min-w-64 rounded border border-rule bg-sheet py-1 shadow-lg"
        >
          {[...pairs, { key: "alone", label: "Choose what stands beside it", entryIds: [entry.id] }].map(
            ({ key, label, entryIds }) => (
              <DropdownMenu.Item
                key={key}
                onSelect={() => open(entryIds)}
                className="flex cursor-pointer items-center gap-4 px-3 py-1.5 outline-none data-[highlighted]:bg-ground"
              >
                <span className="flex-1">{label}</span>
                {entryIds.length > 1 ? <span className="figures text-[13px] text-soft">{entryIds.length}</span> : null}
              </DropdownMenu.Item>
            ),
          )}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
