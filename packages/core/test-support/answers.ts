/** Pieces that made-up answers are put together from. */
export const page = (body: string, head = ""): string =>
  `<!DOCTYPE html>\n<html>\n<head><title>Lock</title>${head}</head>\n<body>\n${body}\n</body>\n</html>`;

export const fence = (info: string, text: string, mark = "```"): string => `${mark}${info}\n${text}\n${mark}`;

/** A page long enough to be told from a snippet. */
export const longPage = (word: string): string =>
  page(
    `<canvas id="${word}"></canvas>\n<script>\n${Array.from({ length: 30 }, (_, i) => `const ${word}${i} = ${i} * 2;`).join("\n")}\nrequestAnimationFrame(function step() { requestAnimationFrame(step); });\n</script>`,
  );
