import type { PromptRatings } from "@tourney/core/contract";
import { EditionLink } from "../../api/edition-links.js";
import { useGetWallQuery } from "../../api/wall-api.js";

/** Where two competitors can be looked at side by side: each prompt that both have answered, with how far they are apart on it. */
export function PairPrompts({
  editionId,
  versionIds,
  ratings,
}: {
  editionId: string;
  versionIds: readonly [string, string];
  ratings: PromptRatings | undefined;
}) {
  const { data: wall } = useGetWallQuery({ editionId, take: 1, versions: "all" });
  if (wall === undefined) return <p className="m-0 px-3 text-soft">Loading …</p>;
  const entryOf = (promptId: string, versionId: string) =>
    wall.cells.find((cell) => cell.promptId === promptId && cell.versionId === versionId)?.entryId ?? null;
  const ratingOf = (promptId: string, versionId: string) =>
    ratings?.prompts.find((prompt) => prompt.promptId === promptId)?.ratings.find((one) => one.versionId === versionId)
      ?.rating ?? null;
  const shared = wall.prompts.flatMap(({ id, title }) => {
    const [first, second] = versionIds.map((versionId) => entryOf(id, versionId));
    if (first === null || second === null) return [];
    const [own, other] = versionIds.map((versionId) => ratingOf(id, versionId));
    return [{ id, title, entryIds: [first, second], ahead: own === null || other === null ? null : own! - other! }];
  });
  if (shared.length === 0) return <p className="m-0 px-3 text-soft">No prompt has an answer by both.</p>;
  return (
    <ul aria-label="Compare on a prompt" className="m-0 list-none p-0">
      {shared
        .toSorted((a, b) => (b.ahead ?? -Infinity) - (a.ahead ?? -Infinity))
        .map(({ id, title, entryIds, ahead }) => (
          <li key={id}>
            <EditionLink
              to={`/compare?entries=${entryIds.join(",")}`}
              className="flex gap-2 px-3 py-1 text-ink no-underline hover:bg-ground focus-visible:bg-ground"
            >
              <span className="min-w-0 flex-1 truncate">{title}</span>
              <span className="figures text-soft" title="Rating points that the first is ahead by on this prompt">
                {ahead === null ? "" : `${ahead >= 0 ? "+" : "−"}${Math.abs(Math.round(ahead))}`}
              </span>
            </EditionLink>
          </li>
        ))}
    </ul>
  );
}
