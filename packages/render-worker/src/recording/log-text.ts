const ADDRESS = /\b0x[0-9a-f]{6,16}\b/gi;
/** What the graphics library calls a context by, as in [GroupMarkerNotSet(crbug.com/242999)!:A0C03F0C5C020000]. */
const MARKER = /(!:)[0-9A-F]{8,16}\b/g;

/** A line of a log without places in memory, which are others in every recording. */
export const hideAddresses = (text: string): string => text.replace(ADDRESS, "0x…").replace(MARKER, "$1…");

/** What the browser measured on the machine's clock, without the figure, as in `load: 12.3 ms`. */
export const hideTimes = (text: string): string => text.replace(/(?<!\d)\d+(?:\.\d+)?(?= ?(?:ms|s|min)\b)/g, "…");
