import { hashToken } from "../tokens.js";

/** The name a voter's browser sees for the page to open, whatever the model called it. */
export const STAGE_PAGE = "page";
/** Its recording, to be shown instead. */
export const STAGE_RECORDING = "recording";

/**
 * The address of one stage of a bout: the same shape for every output. Each is on a host of its own when the pattern has a place for its name
 * (`*`), so that the browser gives each a process of its own: a page that hangs takes neither the booth nor the other stage with it.
 *
 * @param stageOrigin as in http://*.localhost:4611
 */
export const stageAddress = (stageOrigin: string, token: string, page = STAGE_PAGE): string =>
  `${stageOrigin.replace("*", `stage-${hashToken(token).slice(0, 20)}`)}/stage/${token}/${page}`;

/** Whether a request's own host is one that exhibits are served on. */
export function isExhibitHost(host: string, { exhibitOrigin, stageOrigin }: ExhibitOrigins): boolean {
  const [exhibitHost, stageHost] = [exhibitOrigin, stageOrigin].map((origin) => origin.replace(/^https?:\/\//, ""));
  const escaped = stageHost!.replace(/[.+?^${}()|[\]\\]/g, String.raw`\$&`).replace("*", "stage-[0-9a-f]{20}");
  return host === exhibitHost || new RegExp(`^${escaped}$`).test(host);
}

export interface ExhibitOrigins {
  /** Where the lead sees entries live. */
  exhibitOrigin: string;
  /** Where voters see them: may have a `*` in the place of a host's name. */
  stageOrigin: string;
}
