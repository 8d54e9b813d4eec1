/** Keys that are held while another is struck, with the bit by which the browser's protocol knows each. */
export const MODIFIERS = { Alt: 1, Control: 2, Meta: 4, Shift: 8 } as const;
export type Modifier = keyof typeof MODIFIERS;

/** A key as pages are told of it (W3C UI Events, KeyboardEvent: key and code), with its legacy `keyCode`. */
export interface KeyDefinition {
  key: string;
  /** Where it is on a US keyboard; empty for a character that is not on one. */
  code: string;
  keyCode: number;
  /** What it types, if anything. */
  text?: string;
}

/** A key and what is held with it, in the order in which it is pressed. */
export interface Chord {
  modifiers: Modifier[];
  key: KeyDefinition;
}

/** The key that is held for a modifier. */
export const modifierKey = (modifier: Modifier): KeyDefinition => ({ key: modifier, ...NAMED[modifier]! });

const named = (code: string, keyCode: number, text?: string) => ({ code, keyCode, ...(text ? { text } : {}) });

const NAMED: Readonly<Record<string, Omit<KeyDefinition, "key">>> = {
  Alt: named("AltLeft", 18),
  Control: named("ControlLeft", 17),
  Meta: named("MetaLeft", 91),
  Shift: named("ShiftLeft", 16),
  ArrowDown: named("ArrowDown", 40),
  ArrowLeft: named("ArrowLeft", 37),
  ArrowRight: named("ArrowRight", 39),
  ArrowUp: named("ArrowUp", 38),
  Backspace: named("Backspace", 8),
  CapsLock: named("CapsLock", 20),
  ContextMenu: named("ContextMenu", 93),
  Delete: named("Delete", 46),
  End: named("End", 35),
  Enter: named("Enter", 13, "\r"),
  Escape: named("Escape", 27),
  Home: named("Home", 36),
  Insert: named("Insert", 45),
  PageDown: named("PageDown", 34),
  PageUp: named("PageUp", 33),
  Pause: named("Pause", 19),
  Tab: named("Tab", 9),
  ...Object.fromEntries(Array.from({ length: 12 }, (_, i) => [`F${i + 1}`, named(`F${i + 1}`, 112 + i)])),
};

/** The keys of a US keyboard that type a character: code, keyCode, the character, and the one with Shift. */
const TYPING: readonly (readonly [code: string, keyCode: number, plain: string, shifted: string])[] = [
  ...Array.from(
    { length: 10 },
    (_, digit) => [`Digit${digit}`, 48 + digit, String(digit), ")!@#$%^&*("[digit]!] as const,
  ),
  ...Array.from({ length: 26 }, (_, i) => {
    const upper = String.fromCharCode(65 + i);
    return [`Key${upper}`, 65 + i, upper.toLowerCase(), upper] as const;
  }),
  ["Space", 32, " ", " "],
  ["Semicolon", 186, ";", ":"],
  ["Equal", 187, "=", "+"],
  ["Comma", 188, ",", "<"],
  ["Minus", 189, "-", "_"],
  ["Period", 190, ".", ">"],
  ["Slash", 191, "/", "?"],
  ["Backquote", 192, "`", "~"],
  ["BracketLeft", 219, "[", "{"],
  ["Backslash", 220, "\\", "|"],
  ["BracketRight", 221, "]", "}"],
  ["Quote", 222, "'", '"'],
];

const isModifier = (name: string): name is Modifier => name in MODIFIERS;

/**
 * A key by its name: a value of `KeyboardEvent.key`, `Space`, or a character; with what is held meanwhile before it, as in
 * `Control+z` or `Shift+ArrowLeft`. A character that needs Shift on a US keyboard has it held.
 *
 * @returns null when there is no key of that name.
 */
export function readChord(name: string): Chord | null {
  // The last plus may be the key itself.
  const parts = name.endsWith("++") ? [...name.slice(0, -2).split("+"), "+"] : name === "+" ? ["+"] : name.split("+");
  const last = parts.pop()!;
  if (!parts.every(isModifier) || new Set([...parts, last]).size !== parts.length + 1) return null;
  const found = readKey(last);
  if (found === null) return null;
  const { needsShift, ...key } = found;
  const modifiers: Modifier[] = needsShift && !parts.includes("Shift") ? [...parts, "Shift"] : parts;
  // With Control, Alt or Meta held a key is a command and types nothing.
  const types = key.text !== undefined && modifiers.every((modifier) => modifier === "Shift");
  return { modifiers, key: types ? key : { key: key.key, code: key.code, keyCode: key.keyCode } };
}

function readKey(name: string): (KeyDefinition & { needsShift: boolean }) | null {
  if (Object.hasOwn(NAMED, name)) return { key: name, ...NAMED[name]!, needsShift: false };
  const character = name === "Space" ? " " : name;
  for (const [code, keyCode, plain, shifted] of TYPING) {
    if (character !== plain && character !== shifted) continue;
    return { key: character, code, keyCode, text: character, needsShift: character !== plain };
  }
  // A character of another keyboard: pages are told of it as of one that an input method made.
  return /^\P{C}$/u.test(character)
    ? { key: character, code: "", keyCode: 0, text: character, needsShift: false }
    : null;
}
