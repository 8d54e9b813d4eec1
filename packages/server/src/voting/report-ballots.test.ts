import { expect, it } from "vitest";
import { SIGN_PLACES } from "../ballots/ballot-queries.sql.js";
import { chooseRated, countHours } from "./report-ballots.js";

const AUTOMATIC = 1 << SIGN_PLACES.isAutomatic.shift;
const RATED = 1 << SIGN_PLACES.isRated.shift;
const table = (rows: readonly { at: number; signs: number }[]) => ({
  ...{ voterIds: ["v"], wordingIds: ["w"], ids: [] },
  entries: ["a", "b"].map((id) => ({ id, versionId: `version of ${id}`, entrantId: `entrant of ${id}` })),
  columns: {
    ...{ at: Int32Array.from(rows, ({ at }) => at), signs: Uint16Array.from(rows, ({ signs }) => signs) },
    ...{ voter: new Int32Array(rows.length), prompt: new Int32Array(rows.length), left: new Int32Array(rows.length) },
    ...{ right: new Int32Array(rows.length).fill(1), reasons: new Uint16Array(rows.length) },
    dwellMs: Int32Array.from(rows.keys()),
  },
});

it("takes the ballots between entrants, with what each says", () => {
  const rated = chooseRated(
    table([
      { at: 1, signs: RATED | 4 },
      { at: 2, signs: 0 },
      { at: 3, signs: RATED | AUTOMATIC },
    ]),
    [],
    new Set(["version of b"]),
  );
  expect(Array.from(rated.dwellMs)).toEqual([0, 2]);
  expect(Array.from(rated.lean)).toEqual([2, -2]);
  expect(Array.from(rated.isAutomatic)).toEqual([0, 1]);
  expect(rated.sides.map(({ isPresent }) => isPresent)).toEqual([false, true]);
});

it("counts by hours what people cast in the last day, in whatever contest", () => {
  const now = Date.parse("2026-11-30T10:30:00Z") / 1000;
  const at = (time: string) => Date.parse(`2026-11-${time}Z`) / 1000;
  const counted = countHours(
    table([
      { at: at("29T10:59:59"), signs: RATED },
      { at: at("29T11:00:00"), signs: RATED },
      { at: at("30T09:29:00"), signs: RATED },
      { at: at("30T09:31:00"), signs: 0 },
      { at: at("30T10:00:00"), signs: RATED | AUTOMATIC },
      { at: at("30T10:20:00"), signs: RATED },
    ]),
    now,
  );
  expect(counted).toEqual({
    hours: [
      { at: "2026-11-29T11:00:00.000Z", ballots: 1 },
      { at: "2026-11-30T09:00:00.000Z", ballots: 2 },
      { at: "2026-11-30T10:00:00.000Z", ballots: 1 },
    ],
    ballotsLastHour: 2,
  });
});
