import { EditionLink } from "../../api/edition-links.js";
import { useGetWallQuery } from "../../api/wall-api.js";
import { EntrantGlyph } from "../../ui/glyphs.js";
import { pictureUrl } from "../../ui/Picture.js";

/** What the entrants have built for a prompt: one picture each, leading to the entry. */
export function BuiltStrip({ editionId, promptId }: { editionId: string; promptId: string }) {
  const { currentData: wall } = useGetWallQuery({ editionId, take: 1 });
  const cells = wall?.cells.filter((cell) => cell.promptId === promptId) ?? [];
  const built = (wall?.entrants ?? []).flatMap((entrant) => {
    const cell = cells.find(({ entrantId }) => entrantId === entrant.id);
    return cell?.entryId && cell.picture ? [{ entrant, entryId: cell.entryId, picture: cell.picture }] : [];
  });
  if (built.length === 0) return null;
  return (
    <section aria-labelledby="built-heading" className="mx-8 max-w-[816px] border-t border-rule py-4">
      <h3 id="built-heading" className="m-0 mb-2 text-[15px] leading-5">
        Built for it
      </h3>
      <ul className="m-0 grid list-none grid-cols-[repeat(auto-fill,minmax(140px,1fr))] gap-3 p-0">
        {built.map(({ entrant, entryId, picture }) => (
          <li key={entryId}>
            <EditionLink to={`/entries/${entryId}`} className="block text-ink no-underline hover:underline">
              <img
                src={pictureUrl(picture)}
                alt=""
                loading="lazy"
                className="block aspect-[16/10] w-full border border-rule object-cover"
              />
              <span className="mt-1 flex items-center gap-1.5 text-[12px]">
                <EntrantGlyph glyph={entrant.glyph} />
                <span className="truncate">{entrant.name}</span>
              </span>
            </EditionLink>
          </li>
        ))}
      </ul>
    </section>
  );
}
