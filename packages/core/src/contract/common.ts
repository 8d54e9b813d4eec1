import * as z from "zod";

/** A name used in files, addresses and commands: lower-case words joined by hyphens. */
export const Key = z
  .string()
  .min(1)
  .max(64)
  .regex(/^[a-z0-9]+(-[a-z0-9]+)*$/, "use lower-case letters, digits and single hyphens, as in lock-keeper")
  .meta({ id: "Key" });

export const Id = z.uuid();
export const Instant = z.iso.datetime();

/** SHA-256 as 64 hexadecimal digits. */
export const Sha256 = z
  .string()
  .regex(/^[0-9a-f]{64}$/)
  .meta({ id: "Sha256" });

/** The body of a failed request (RFC 9457), with what, why and what to do. */
export const Problem = z
  .object({
    type: z.string(),
    title: z.string(),
    status: z.int(),
    code: z.string(),
    detail: z.string(),
    remedy: z.string(),
    requestId: z.string(),
    issues: z.array(z.object({ path: z.string(), message: z.string() })).optional(),
  })
  .meta({ id: "Problem" });
export type Problem = z.infer<typeof Problem>;

/** The longest suite or entrants file that is read: reading takes some 300 times its length in memory. */
export const MOST_YAML_LENGTH = 2_000_000;
export const YAML_TOO_LONG = "is longer than 2 million characters: no file of prompts or entrants is";
export const YamlText = z.string().min(1).max(MOST_YAML_LENGTH, YAML_TOO_LONG);
