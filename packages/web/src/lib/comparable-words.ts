import type { ComparableEntry } from "@tourney/core/contract";

/** What sets an entry apart from the first shot of its entrant on a prompt. */
export const describeComparable = ({
  take,
  turn,
  mends,
  corrections,
  isByHand,
  version,
  isPresent,
  isSuperseded,
}: ComparableEntry): string =>
  [
    ...(isPresent ? [] : [`version ${version}`]),
    ...(take > 1 ? [`take ${take}`] : []),
    ...(turn > 1 ? [`turn ${turn}`] : []),
    ...(mends > 0 ? [`mend ${mends}`] : []),
    ...(corrections > 0 ? [`correction ${corrections}`] : []),
    ...(isByHand ? ["by hand"] : []),
    ...(isSuperseded ? ["superseded"] : []),
  ].join(" · ") || "first shot";
