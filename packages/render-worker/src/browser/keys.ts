import { type Chord, modifierKey, MODIFIERS } from "@tourney/core/contract";

/** One event of a key, as `Input.dispatchKeyEvent` is told of it. */
export interface KeyEvent {
  type: "keyDown" | "keyUp";
  key: string;
  code: string;
  windowsVirtualKeyCode: number;
  modifiers: number;
  text?: string;
}

/** What is sent to press a key with what is held meanwhile, and what to let go of them. */
export function listKeyEvents({ modifiers, key }: Chord): { down: KeyEvent[]; up: KeyEvent[] } {
  let held = 0;
  const describe = (type: KeyEvent["type"], { key: name, code, keyCode, text }: Chord["key"]): KeyEvent => ({
    type,
    key: name,
    code,
    windowsVirtualKeyCode: keyCode,
    modifiers: held,
    ...(type === "keyDown" && text !== undefined ? { text } : {}),
  });
  const down = modifiers.map((name) => {
    held |= MODIFIERS[name];
    return describe("keyDown", modifierKey(name));
  });
  down.push(describe("keyDown", key));
  const up = [describe("keyUp", key)];
  for (const name of modifiers.toReversed()) {
    held &= ~MODIFIERS[name];
    up.push(describe("keyUp", modifierKey(name)));
  }
  return { down, up };
}
