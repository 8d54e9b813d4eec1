import * as z from "zod";
import { findBrowser, launchBrowser } from "./launch.js";

/** A4 in inches, and its margins. */
const PAPER = {
  paperWidth: 8.27,
  paperHeight: 11.69,
  marginTop: 0.6,
  marginBottom: 0.6,
  marginLeft: 0.6,
  marginRight: 0.6,
};
/** Processor time that laying out and printing may take. */
const PRINT_LIMIT_MS = 60_000;

/**
 * An HTML page as a PDF, laid out for paper: in the browser that records entries, shut in as it is then. The page needs nothing from elsewhere.
 *
 * @throws TourneyError BROWSER_MISSING
 */
export async function printPage(
  page: string,
  { browserPath, errors }: { browserPath: string | undefined; errors: (line: string) => void },
): Promise<Buffer> {
  const browser = launchBrowser({ browser: { ...findBrowser(browserPath), isRealTime: true }, errors });
  try {
    const { pipe } = browser;
    const { targetId } = z
      .object({ targetId: z.string() })
      .parse(await pipe.send("Target.createTarget", { url: "about:blank" }));
    const { sessionId } = z
      .object({ sessionId: z.string() })
      .parse(await pipe.send("Target.attachToTarget", { targetId, flatten: true }));
    const { frameTree } = z
      .object({ frameTree: z.object({ frame: z.object({ id: z.string() }) }) })
      .parse(await pipe.send("Page.getFrameTree", {}, sessionId));
    await pipe.send("Page.setDocumentContent", { frameId: frameTree.frame.id, html: page }, sessionId, PRINT_LIMIT_MS);
    // Pictures in data addresses are read after the document.
    await pipe.send(
      "Runtime.evaluate",
      {
        expression: "Promise.all([...document.images].map((image) => image.decode().catch(() => {})))",
        awaitPromise: true,
      },
      sessionId,
      PRINT_LIMIT_MS,
    );
    const printed = await pipe.send("Page.printToPDF", { ...PAPER, printBackground: true }, sessionId, PRINT_LIMIT_MS);
    return Buffer.from(z.object({ data: z.base64() }).parse(printed).data, "base64");
  } finally {
    await browser.end();
  }
}
