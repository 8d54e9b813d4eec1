import { createRandom, hashText, pickOne, type Random } from "@tourney/core/random";
import { type Exhibit, type Exhibits, findFolder, type Folder, lacksHint } from "./exhibits.js";
import { putInGivenFiles } from "./given-files.js";
import { GRADES, type Grade, type Habit, type Quirks, type StandInModel } from "./models.js";

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
const REFUSALS = [
  "I'm sorry, but I can't help with building this one. I would be glad to describe how such an exhibit might work instead.",
  "I have to decline this request, as I am not able to create interactive content of this sort.",
];

export interface AnswerRequest {
  seed: number;
  model: StandInModel;
  /** The user's last message that asks for something to be built. */
  text: string;
  /** How often this model was asked this before: another sample of the same request. */
  sample: number;
  /** How often errors were fed back since: each makes the page better. */
  mends?: number;
  /** Whether the model's quirks show. */
  faults?: boolean;
}

/** Grades that a page is worse by when the wording leaves its hint out. */
const HINT_WORTH = 1;

const topicRandom = ({ seed, model, text, sample }: AnswerRequest, what = "") =>
  createRandom(
    hashText(`${what}${seed} ${model.id} ${findFolder(text)}${lacksHint(text) ? " unhinted" : ""} ${sample}`),
  );

/** Whether a quirk shows in this answer, by the seed alone. */
export function showsQuirk(request: AnswerRequest, quirk: keyof Quirks): boolean {
  return request.faults === true && topicRandom(request, `${quirk} `)() < request.model.quirks[quirk];
}

/** The whole answer of a made-up model to a request: the same for the same seed, model, text, sample and mends. */
export function composeAnswer(request: AnswerRequest, exhibits: Exhibits): string {
  const { model, text, mends = 0 } = request;
  if (text.trim().length < 60) return "ready";
  const random = topicRandom(request);
  const drawn = GRADES.indexOf(drawGrade(model.talent, random)) + (lacksHint(text) ? HINT_WORTH : 0);
  const grade = GRADES[Math.min(GRADES.length - 1, Math.max(0, drawn - mends))]!;
  const paint = createPainter(random);
  if (mends === 0 && showsQuirk(request, "refuses") && request.sample === 0) return `${pickOne(REFUSALS, random)}\n`;
  const folder = exhibits.get(findFolder(text))!;
  const found = findOwn(request, folder) ?? folder.byGrade[grade];
  const exhibit = { ...found, page: putInGivenFiles(found.page, text) };
  if (mends === 0 && showsQuirk(request, "usesFramework")) return wordComponent(paint(exhibit.page));
  const signed = showsQuirk(request, "namesItself") ? sign(exhibit, model) : exhibit;
  const words = wordAnswer(signed, paint, mends > 0 ? "fenced" : model.habit, random);
  return mends > 0 ? `You are right, that was a mistake of mine. The whole corrected version:\n\n${words}` : words;
}

/** Troubles that come the first time that something is asked, so that it is asked again. */
const FIRST_TROUBLES = ["refuses", "stalls", "resets"] as const;

/** The page that a model writes for this request itself, where there is one. Further samples of a request are anybody's. */
function findOwn(request: AnswerRequest, { byModel }: Folder): Exhibit | undefined {
  const { model, text, sample, mends = 0 } = request;
  const lost = FIRST_TROUBLES.filter((trouble) => showsQuirk({ ...request, sample: 0 }, trouble)).length;
  if (sample > lost) return undefined;
  const own = byModel.get(model.id);
  if (mends > 0) return byModel.get(`${model.id}.mended`) ?? own;
  return lacksHint(text) ? (byModel.get(`${model.id}.unhinted`) ?? own) : own;
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

/** Some models sign what they make, where a visitor may see it. */
function sign(exhibit: Exhibit, { name }: StandInModel): Exhibit {
  const isDrawing = exhibit.page.trimStart().startsWith("<svg");
  const page = isDrawing
    ? exhibit.page.replace(/(<svg[^>]*>)/, `$1\n<!-- Drawn by ${name} -->`)
    : exhibit.page.replace(/<\/title>/i, ` · made by ${name}</title>`);
  return { ...exhibit, page };
}

const fence = (language: string, text: string) => `\`\`\`${language}\n${text.trimEnd()}\n\`\`\``;

/** A page as somebody writes it who cannot leave frameworks alone. */
function wordComponent(page: string): string {
  const title = /<title>([^<]*)<\/title>/i.exec(page)?.[1] ?? "Exhibit";
  const code = `import { useEffect, useRef, useState } from "react";

export default function Exhibit() {
  const canvas = useRef(null);
  const [ticks, setTicks] = useState(0);
  useEffect(() => {
    const timer = setInterval(() => setTicks((n) => n + 1), 100);
    return () => clearInterval(timer);
  }, []);
  return (
    <main style={{ fontFamily: "sans-serif", padding: 24 }}>
      <h1>${title}</h1>
      <div ref={canvas} style={{ width: 400, height: 40, background: "#3f7f9f", marginLeft: ticks % 200 }} />
    </main>
  );
}`;
  return `Here is a component for it:\n\n${fence("jsx", code)}\n\nDrop it into your app.\n`;
}

function wordAnswer({ page, css, js }: Exhibit, paint: (text: string) => string, habit: Habit, random: Random): string {
  const painted = paint(page);
  const language = painted.trimStart().startsWith("<svg") ? "svg" : "html";
  const opening = pickOne(OPENINGS, random);
  const closing = pickOne(CLOSINGS, random);
  if (css !== null || js !== null) {
    return wordFiles(
      [
        ["index.html", "html", painted],
        ...(css === null ? [] : [["style.css", "css", paint(css)] as const]),
        ...(js === null ? [] : [["script.js", "js", paint(js)] as const]),
      ],
      closing,
    );
  }
  switch (habit) {
    case "fenced":
      return `${opening}\n\n${fence(language, painted)}\n\n${closing}\n`;
    case "draft-then-final":
      return `Let me start with the outline:\n\n${fence("html", "<!DOCTYPE html>\n<html>\n<body>\n  <!-- the rest of the code goes here -->\n</body>\n</html>")}\n\nThat leaves out the drawing itself. The full version:\n\n${fence(language, painted)}\n\n${closing}\n`;
    case "chatty":
      return `${opening}\n\nA few thoughts first:\n\n- one render loop, nothing else\n- \`requestAnimationFrame\` where something moves\n\n${fence("", painted)}\n\nTo change the pace, edit the one line that advances it, for example:\n\n${fence("js", "speed = 0.5;")}\n\n${closing}\n`;
    case "several-files":
      return wordFiles(splitPage(painted, language), closing);
    case "reasoning":
      return `<think>\nThe visitor should see at once what this is. Keep it in one file, draw by hand, no library.\n</think>\n\n${opening}\n\n${fence(language, painted)}\n\n${closing}\n`;
    case "bare":
      return painted;
  }
}

type NamedFile = readonly [name: string, language: string, text: string];

function wordFiles(files: readonly NamedFile[], closing: string): string {
  if (files.length === 1) return `${fence(files[0]![1], files[0]![2])}\n\n${closing}\n`;
  const count = ["", "", "two", "three"][files.length] ?? String(files.length);
  return `There are ${count} parts.\n\n${files.map(([name, language, text]) => `**${name}**\n\n${fence(language, text)}`).join("\n\n")}\n\n${closing}\n`;
}

/** A page whose only style element goes into a file of its own, as models do that think in folders. */
function splitPage(page: string, language: string): NamedFile[] {
  const style = /<style>([^]*?)<\/style>/.exec(page);
  if (language === "svg" || style === null) return [["index.html", language, page]];
  return [
    ["index.html", "html", page.replace(style[0], '<link rel="stylesheet" href="style.css">')],
    ["style.css", "css", style[1]!.trim()],
  ];
}
