import { type Compared, listFigures, listUnlike } from "@tourney/core/compare";
import { copyText } from "../../lib/copy-text.js";
import { Button } from "../../ui/controls.js";
import { EntrantGlyph } from "../../ui/glyphs.js";
import { nameOfCompared, toCsv, toMarkdown } from "./figure-table.js";

/** The figures of all, one row each, the best in bold where they can be held against each other. */
export function Figures({ compared }: { compared: readonly Compared[] }) {
  const rows = listFigures(compared);
  const unlike = listUnlike(compared);
  return (
    <section aria-label="Figures">
      <div className="relative overflow-x-auto">
        <table className="figures w-full border-collapse text-[13px]">
          <thead>
            <tr className="border-b border-strong-rule">
              <th scope="col" className="py-1 text-left text-[13px] font-normal text-soft">
                figure
              </th>
              {compared.map(({ entry }) => (
                <th key={entry.id} scope="col" className="py-1 pl-2 text-right">
                  <span className="sr-only">{nameOfCompared(entry)}</span>
                  <span title={nameOfCompared(entry)} className="inline-flex">
                    <EntrantGlyph glyph={entry.entrant.glyph} />
                  </span>
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.map(({ label, texts, best }) => (
              <tr key={label} className="border-b border-rule">
                <th scope="row" className="py-1 text-left pr-1 font-normal text-soft">
                  {label}
                </th>
                {texts.map((text, index) => (
                  <td key={compared[index]!.entry.id} className="py-1 pl-2 text-right whitespace-nowrap">
                    {best[index] ? <strong>{text}</strong> : text}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <p className="mt-2 mb-2 text-[13px] leading-[18px] text-soft">
        Bold is the best of these.{" "}
        {unlike.length === 0 ? "They are like for like." : `Not like for like: ${unlike.join("; ")}.`}
      </p>
      <div className="flex gap-1.5">
        <Button compact onClick={() => copyText(toCsv(compared, rows), "The table")}>
          Copy as CSV
        </Button>
        <Button compact onClick={() => copyText(toMarkdown(compared, rows), "The table")}>
          Copy as Markdown
        </Button>
      </div>
    </section>
  );
}
