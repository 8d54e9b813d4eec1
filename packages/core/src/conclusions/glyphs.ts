/**
 * The fixed set of 16 hues and glyphs by which entrants are told apart everywhere but in the booth. Neighbours in the list
 * differ in both, so that either alone is enough; the dark theme has a lighter set.
 */
const GLYPHS: readonly { light: string; dark: string; path: string }[] = [
  { light: "#1f5fa8", dark: "#6ba6ea", path: "M8 1 15 8 8 15 1 8Z" },
  { light: "#b4521e", dark: "#e8925c", path: "M2 2H14V14H2Z" },
  { light: "#6d3f99", dark: "#b78ae0", path: "M8 1.5 15 14H1Z" },
  { light: "#2e8bc0", dark: "#6fc3ee", path: "M8 1a7 7 0 1 1 0 14A7 7 0 0 1 8 1Z" },
  { light: "#2f7d4f", dark: "#6cc08d", path: "M1 5H15V11H1Z" },
  { light: "#6b7785", dark: "#a9b4c0", path: "M5.5 1H10.5V5.5H15V10.5H10.5V15H5.5V10.5H1V5.5H5.5Z" },
  { light: "#a37d1c", dark: "#d9b452", path: "M8 14.5 1 2H15Z" },
  { light: "#8f2d3c", dark: "#e07d8b", path: "M4.5 2H11.5L15 8 11.5 14H4.5L1 8Z" },
  { light: "#0f7c86", dark: "#55c2cc", path: "M8 .8 10 6 15.4 6.2 11.2 9.6 12.7 15 8 12 3.3 15 4.8 9.6.6 6.2 6 6Z" },
  { light: "#c05a86", dark: "#ec94b9", path: "M8 1a7 7 0 0 1 7 7H1a7 7 0 0 1 7-7Z" },
  { light: "#4d5b1f", dark: "#a8b86a", path: "M5 1H11V15H5Z" },
  { light: "#7a4b2a", dark: "#c99a74", path: "M3 1 8 6 13 1 15 3 10 8 15 13 13 15 8 10 3 15 1 13 6 8 1 3Z" },
  { light: "#3d4fb5", dark: "#8d9bf2", path: "M1 8a7 7 0 0 0 14 0Z" },
  { light: "#b33a2b", dark: "#f08873", path: "M8 1 14.7 5.9 12.1 13.7H3.9L1.3 5.9Z" },
  { light: "#3e7f78", dark: "#7cc4bb", path: "M1 3H7V9H15V13H1Z" },
  { light: "#5c5470", dark: "#a79fc0", path: "M8 1a7 7 0 1 1 0 14A7 7 0 0 1 8 1ZM8 5a3 3 0 1 0 0 6 3 3 0 0 0 0-6Z" },
];

/** The colour of an entrant, for either theme. */
export const glyphColor = (glyph: number): string => `light-dark(${GLYPHS[glyph]!.light}, ${GLYPHS[glyph]!.dark})`;
/** The shape of an entrant's glyph, in a box of 16. */
export const glyphPath = (glyph: number): string => GLYPHS[glyph]!.path;
