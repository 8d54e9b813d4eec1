import { readFile } from "node:fs/promises";
import { join } from "node:path";
import { Router, static as serveFiles } from "express";

/** The built interface: hashed files cached for good, every other address answered with the one page. */
export function staticWeb(webDir: string): Router {
  const router = Router();
  router.use("/assets", serveFiles(join(webDir, "assets"), { immutable: true, maxAge: "1y", fallthrough: false }));
  router.use(serveFiles(webDir, { index: false, maxAge: 0 }));
  router.get("/{*any}", async (_request, response) => {
    const page = await readFile(join(webDir, "index.html"), "utf8");
    response.set("Cache-Control", "no-cache").type("html").send(page);
  });
  return router;
}
