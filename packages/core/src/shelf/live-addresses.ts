import { LIBRARY_HOSTS } from "./library-request.js";

const ADDRESS = new RegExp(
  `(?:https?:)?//(${LIBRARY_HOSTS.map((host) => host.replaceAll(".", "\\.")).join("|")})(?=[/"'\\s)>?]|$)`,
  "gi",
);

/**
 * A page, script or style with every address of a public library host turned to the same path under `base`, so that a live
 * frame, which may reach no other host, gets from the shelf what the recording got. Relative addresses inside a library keep
 * working, since its folders stay as they are.
 *
 * @param base where the shelf is served, without a slash at its end, as in http://127.0.0.1:4810/shelf
 */
export const addressLibraries = (text: string, base: string): string =>
  text.replace(ADDRESS, (_whole, host: string) => `${base}/${host.toLowerCase()}`);
