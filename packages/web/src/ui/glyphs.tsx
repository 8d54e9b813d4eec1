import { glyphColor, glyphPath } from "@tourney/core/conclusions";

export { glyphColor, glyphPath };

/** An entrant's glyph. Its name stands beside it, so it is hidden from assistive technology. */
export function EntrantGlyph({ glyph, size = 14 }: { glyph: number; size?: number }) {
  return (
    <svg viewBox="0 0 16 16" width={size} height={size} aria-hidden="true" className="shrink-0">
      <path d={glyphPath(glyph)} style={{ fill: glyphColor(glyph) }} fillRule="evenodd" />
    </svg>
  );
}
