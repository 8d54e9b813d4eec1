import { AxeBuilder } from "@axe-core/playwright";
import type { Page } from "@playwright/test";

/** What axe finds on the page, in both themes. What outputs do in their frames is theirs. */
export async function listFaults(page: Page): Promise<string[]> {
  const faults: string[] = [];
  for (const colorScheme of ["light", "dark"] as const) {
    await page.emulateMedia({ colorScheme, reducedMotion: "reduce" });
    // Colours change with the next picture: in between, some are of one theme and some of the other.
    await page.evaluate(() => new Promise((resolve) => requestAnimationFrame(() => requestAnimationFrame(resolve))));
    const { violations } = await new AxeBuilder({ page })
      .options({ iframes: false })
      .withTags(["wcag2a", "wcag2aa", "wcag22aa"])
      .analyze();
    faults.push(
      ...violations.map(
        ({ id, nodes }) => `${colorScheme}: ${id} ${nodes.map(({ html }) => html.slice(0, 160)).join(" | ")}`,
      ),
    );
  }
  return faults;
}
