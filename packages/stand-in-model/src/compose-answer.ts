import { createRandom, hashText, pickOne, type Random } from "@tourney/core/random";
import { type Exhibit, findFolder } from "./exhibits.js";
import { GRADES, type Grade, type Habit, type StandInModel } from "./models.js";

/** Colours a page is painted with, so that two models which write a page of one grade do not write the same page. */
const PALETTES = [
  { deep: "#12283f", mid: "#3f7f9f", light: "#e9f1ef", accent: "#e4572e", warm: "#c98b3c" },
  { deep: "#1c2140", mid: "#5a6ea8", light: "#eef0f7", accent: "#f2b134", warm: "#d9793b" },
  { deep: "#0f3036", mid: "#3c8f86", light: "#eaf4ec", accent: "#d8435e", warm: "#b58a4a" },
  { deep: "#2a2036", mid: "#7a5c8f", light: "#f3edf2", accent: "#e98a15", warm: "#c46a4a" },
  { deep: "#26302b", mid: "#6f8f72", light: "#f2f3e8", accent: "#b8322a", warm: "#a8763e" },
  { deep: "#152a52", mid: "#4c8ecb", light: "#f0f5fa", accent: "#ef6f2e", warm: "#caa04c" },
] as const;

const OPENINGS = [
  "Here is a complete version.",
  "I kept everything in one file, so it runs as it is.",
  "Below is the page you asked for.",
  "This draws everything by hand, without any library.",
];
const CLOSINGS = [
  "The colours and speeds are constants near the top, should you want to change them.",
  "Everything runs without a network connection.",
  "I tested the steps in my head; let me know what you would like to refine.",
  "It fills the window and keeps running.",
];

export interface AnswerRequest {
  seed: number;
  model: StandInModel;
  /** The user's last message. */
  text: string;
  /** How often this model was asked this before: another sample of the same request. */
  sample: number;
}

/** The whole answer of a made-up model to a request: the same for the same seed, model, text and sample. */
export function composeAnswer(
  { seed, model, text, sample }: AnswerRequest,
  exhibits: ReadonlyMap<string, Record<Grade, Exhibit>>,
): string {
  if (text.trim().length < 60) return "ready";
  const random = createRandom(hashText(`${seed} ${model.id} ${findFolder(text)} ${sample}`));
  const grade = drawGrade(model.talent, random);
  const paint = createPainter(random);
  const exhibit = exhibits.get(findFolder(text))![grade];
  return wordAnswer(exhibit, paint, model.habit, random);
}

function drawGrade(talent: readonly number[], random: Random): Grade {
  let left = random() * talent.reduce((sum, weight) => sum + weight, 0);
  const index = talent.findIndex((weight) => (left -= weight) < 0);
  return GRADES[index === -1 ? GRADES.length - 1 : index]!;
}

function createPainter(random: Random): (text: string) => string {
  const palette = pickOne(PALETTES, random);
  return (text) =>
    text.replace(/\{\{(deep|mid|light|accent|warm)\}\}/g, (_, name: keyof typeof palette) => palette[name]);
}

const fence = (language: string, text: string) => `\`\`\`${language}\n${text.trimEnd()}\n\`\`\``;

function wordAnswer({ page, css, js }: Exhibit, paint: (text: string) => string, habit: Habit, random: Random): string {
  const painted = paint(page);
  const language = painted.trimStart().startsWith("<svg") ? "svg" : "html";
  const opening = pickOne(OPENINGS, random);
  const closing = pickOne(CLOSINGS, random);
  if (css !== null || js !== null) {
    const parts = [
      "There are three parts.",
      `**index.html**\n\n${fence("html", painted)}`,
      css === null ? "" : `**style.css**\n\n${fence("css", paint(css))}`,
      js === null ? "" : `**script.js**\n\n${fence("js", paint(js))}`,
      closing,
    ];
    return `${parts.filter((part) => part !== "").join("\n\n")}\n`;
  }
  switch (habit) {
    case "fenced":
      return `${opening}\n\n${fence(language, painted)}\n\n${closing}\n`;
    case "draft-then-final":
      return `Let me start with the outline:\n\n${fence("html", "<!DOCTYPE html>\n<html>\n<body>\n  <!-- the rest of the code goes here -->\n</body>\n</html>")}\n\nThat leaves out the drawing itself. The full version:\n\n${fence(language, painted)}\n\n${closing}\n`;
    case "chatty":
      return `${opening}\n\nA few thoughts first:\n\n- one render loop, nothing else\n- \`requestAnimationFrame\` where something moves\n\n${fence("", painted)}\n\nTo change the pace, edit the one line that advances it, for example:\n\n${fence("js", "speed = 0.5;")}\n\n${closing}\n`;
    case "bare":
      return painted;
  }
}
