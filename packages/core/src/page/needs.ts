import type { Found, Observed } from "./observed.js";

/** More of a page's text is not read for what it needs. */
const MOST_TEXT = 500_000;

/** Something that a page may need of a machine, and the words in a script by which it asks for it. */
const NEEDS: readonly (readonly [need: string, asked: RegExp])[] = [
  ["a camera", /\bgetUserMedia\s*(?:\?\.\s*)?\(\s*\{[^}]{0,500}\bvideo\b/],
  ["a microphone", /\bgetUserMedia\s*(?:\?\.\s*)?\(\s*\{[^}]{0,500}\baudio\b|\bSpeechRecognition\b/],
  ["a gamepad", /\bgetGamepads\s*(?:\?\.\s*)?\(|["'`]gamepadconnected["'`]/],
  ["motion sensors", /["'`]device(?:orientation|motion)["'`]|\b(?:Accelerometer|Gyroscope)\s*\(/],
  ["a MIDI instrument", /\brequestMIDIAccess\s*(?:\?\.\s*)?\(/],
  ["a device by cable or radio", /\bnavigator\s*\.\s*(?:bluetooth|serial|usb|hid)\b/],
  ["the place where it is", /\bgeolocation\s*\.\s*(?:getCurrentPosition|watchPosition)\b/],
  ["the screen's picture", /\bgetDisplayMedia\s*(?:\?\.\s*)?\(/],
];
const TOUCH = /["'`]touchstart["'`]|\bontouchstart\b/;
const OTHER_INPUT =
  /["'`](?:mousedown|pointerdown|click|keydown|keyup|input)["'`]|\bon(?:mousedown|pointerdown|click|keydown|keyup|input)\b|<(?:button|input|select|textarea)\b/i;

/** What a page asks a machine for, by the interfaces that its text uses, in words. */
export function listNeeds(texts: readonly string[]): string[] {
  const read = texts.map((text) => text.slice(0, MOST_TEXT));
  const needs = NEEDS.filter(([, asked]) => read.some((text) => asked.test(text))).map(([need]) => need);
  const isTouchOnly = read.some((text) => TOUCH.test(text)) && !read.some((text) => OTHER_INPUT.test(text));
  return isTouchOnly ? [...needs, "a screen that can be touched"] : needs;
}

/** What it needs and a recording does not have. It weighs more where nothing else that was tried did anything. */
export function findNeeds({ needs, steps }: Observed): Found[] {
  const answersOtherwise = steps.some(({ effect }) => effect === "changed");
  return needs.map((need) => ({
    rule: "needs_device",
    severity: answersOtherwise ? "note" : "warning",
    message: `Asks for ${need}`,
    atMs: null,
    evidence: "Its script uses the browser's interface for it; a recording has none",
  }));
}
