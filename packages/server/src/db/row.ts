import * as z from "zod";

/** A timestamptz column, which the driver gives as a Date, as the ISO text of the contract. */
export const isoDate = z.date().transform((date) => date.toISOString());
export const isoDateOrNull = z
  .date()
  .nullable()
  .transform((date) => date?.toISOString() ?? null);
