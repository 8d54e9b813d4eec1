import { Contest } from "@tourney/core/contract";
import type { ChosenBout } from "@tourney/core/pairing";
import * as z from "zod";

const EntryOfBout = z.object({ entryId: z.string(), promptId: z.string(), competitorId: z.string() });
const TurnBout = z.object({
  id: z.string(),
  ordinal: z.int(),
  token: z.string(),
  leftToken: z.string(),
  rightToken: z.string(),
  promptId: z.string(),
  left: EntryOfBout,
  right: EntryOfBout,
  isRepeat: z.boolean(),
  isAutomatic: z.boolean(),
  /** One that was not answered in time is `returned`: an answer to it counts all the same. */
  state: z.enum(["open", "answered", "skipped", "returned"]),
});
export type TurnBout = z.infer<typeof TurnBout>;

/** A voter whose turn it is, with the panel's rules and everything that was put before this voter. */
export const Turn = z.object({
  voterId: z.string(),
  tokenHash: z.string(),
  revoked: z.boolean(),
  panelId: z.string(),
  panelToken: z.string(),
  editionId: z.string(),
  contest: Contest,
  /** The version that stands in every bout, as the entrant is set up now. */
  newcomer: z.string().nullable(),
  quota: z.int(),
  closed: z.boolean(),
  bouts: z.array(TurnBout),
});
export type Turn = z.infer<typeof Turn>;

/** The name of a side of bout `o`, in SQL: what `nameSide` makes of its version and form. */
export const sideOf = (side: "left" | "right"): string => `rtrim(o.${side}_version_id || ' ' || o.${side}_form)`;

/** A bout that is not answered goes back after this long. */
export const OPEN_FOR = "30 minutes";

/** A bout to be put before a voter, with all that is decided before it is stored. */
export interface NewBout extends ChosenBout {
  id: string;
  ordinal: number;
  token: string;
  leftToken: string;
  rightToken: string;
  /** The side that loses without being shown; null for a bout that is shown. */
  losesUnseen: "left" | "right" | null;
}
