/** What Input.dispatchKeyEvent needs to make a key look real to the page. */
export interface KeyDefinition {
  key: string;
  code: string;
  windowsVirtualKeyCode: number;
  text?: string;
}

const NAMED: Record<string, Omit<KeyDefinition, "key">> = {
  ArrowLeft: { code: "ArrowLeft", windowsVirtualKeyCode: 37 },
  ArrowUp: { code: "ArrowUp", windowsVirtualKeyCode: 38 },
  ArrowRight: { code: "ArrowRight", windowsVirtualKeyCode: 39 },
  ArrowDown: { code: "ArrowDown", windowsVirtualKeyCode: 40 },
  Enter: { code: "Enter", windowsVirtualKeyCode: 13, text: "\r" },
  Tab: { code: "Tab", windowsVirtualKeyCode: 9 },
  Escape: { code: "Escape", windowsVirtualKeyCode: 27 },
  Backspace: { code: "Backspace", windowsVirtualKeyCode: 8 },
  Shift: { code: "ShiftLeft", windowsVirtualKeyCode: 16 },
};

/** The definition of a key by its KeyboardEvent.key; `Space` may be written out. */
export function defineKey(name: string): KeyDefinition {
  if (name === "Space" || name === " ") return { key: " ", code: "Space", windowsVirtualKeyCode: 32, text: " " };
  const named = NAMED[name];
  if (named) return { key: name, ...named };
  const upper = name.toUpperCase();
  const isLetter = /^[A-Z]$/.test(upper);
  const isDigit = /^[0-9]$/.test(name);
  const code = isLetter ? `Key${upper}` : isDigit ? `Digit${name}` : name;
  const text = name.length === 1 ? { text: name } : {};
  return { key: name, code, windowsVirtualKeyCode: isLetter || isDigit ? upper.charCodeAt(0) : 0, ...text };
}
