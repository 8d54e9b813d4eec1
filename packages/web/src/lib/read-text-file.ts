import { toTourneyError } from "@tourney/core/errors";
import { decodeText } from "@tourney/core/text-file";

/** The text of a file that a person chose or dropped. Rejects where it is no text, with the place. */
export const readTextFile = async (file: File): Promise<string> =>
  decodeText(new Uint8Array(await file.arrayBuffer()), file.name);

/** Why it could not be read, and what to do. */
export function describeUnreadable(thrown: unknown): string {
  const { message, remedy } = toTourneyError(thrown);
  return `${message} ${remedy}`;
}
