import { withServices } from "./with-services.js";

/** Takes in a bundle that `export all` wrote, all of it or nothing. */
export async function importBundle(path: string): Promise<void> {
  await withServices(async ({ bundleImports }) => {
    const { manifest, ballots } = await bundleImports.importBundle(path, (text) => console.error(text));
    const { suite, sample, missing } = manifest;
    console.log(
      `${suite.title}, edition ${suite.edition}, is taken in with ${ballots} ballots${sample ? "; there is sample data in it" : ""}${missing.length > 0 ? `; ${missing.length} files were missing already where it comes from` : ""}.`,
    );
    console.log("Panels have new links. Keys of endpoints do not travel: set them before a run.");
  });
}
