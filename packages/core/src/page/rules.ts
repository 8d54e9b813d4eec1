import type { FindingRule } from "../contract/index.js";

export interface RuleWords {
  /** A word or two for it, as on a legend. */
  word: string;
  /** What it says when it is there. */
  meaning: string;
  /** How it is found, with its thresholds. */
  method: string;
  /** When it is wrong. */
  canErr: string;
}

/** What each finding means and how it can err; docs/findings.md is written from this. */
export const RULE_WORDS: Readonly<Record<FindingRule, RuleWords>> = {
  blank: {
    word: "blank",
    meaning: "Nothing is drawn in the whole clip, the inputs of the walkthrough included.",
    method: "In every frame fewer than 0.02 % of the pixels differ from the commonest colour by more than 8 of 255.",
    canErr: "A page that waits for an input which the walkthrough does not make. A single dot.",
  },
  still: {
    word: "still",
    meaning: "Nothing moves although the prompt expects motion.",
    method: "Between no two neighbouring frames do more than 0.02 % of the pixels change by more than 8 of 255.",
    canErr:
      "Motion that returns to the same picture at every frame taken; a game that waits for a start key which the walkthrough does not press.",
  },
  exception: {
    word: "exception",
    meaning: "A script threw and nobody caught it, or a promise was rejected and nobody minded.",
    method: "What the browser reports as uncaught, each message once, with its first time and place.",
    canErr: "An exception may be harmless: the page can work all the same.",
  },
  crashed: {
    word: "crashed",
    meaning: "The page brought the browser down, or used more than 1.2 GB, or filled the script engine's 256 MB.",
    method: "The outcome of the recording.",
    canErr: "A page that is merely large for this recorder may run in a voter's browser.",
  },
  hung: {
    word: "hung",
    meaning: "The page, or a worker of it, stopped answering.",
    method:
      "Its processes use more than 20 s of processor time for one frame of page time, or more than 130 s for a clip of 6 s; a worker says nothing for 15 s of processor time; or dialogs or windows are opened without end. What a busy machine does not give is not counted, and a second recording must come to the same.",
    canErr: "A very heavy scene that a voter's graphics card draws at once.",
  },
  dead_control: {
    word: "dead control",
    meaning: "A control or key did nothing when it was used; graver when nothing that was tried did.",
    method:
      "The clip is compared with the same clip in which the page is not told of the input: document and pixels are equal. Hover and focus alone do not count, nor does the control's own look.",
    canErr:
      "Effects that show neither in the document nor in the picture (sound), or later than 0.4 s after the input. A control that has to wait for another input.",
  },
  unreadable_text: {
    word: "hard to read",
    meaning: "Text does not stand out from its ground: hardly readable below 2.5 to 1, a note below the norm.",
    method: "axe-core's color-contrast rule at the end of the clip, by WCAG 2.2, 1.4.3.",
    canErr: "Text on pictures, gradients and canvases is not seen. Text that is not meant to be read.",
  },
  overflow: {
    word: "cut off",
    meaning: "Text or controls reach beyond the window, or hide part of their own text.",
    method:
      "Boxes of elements at the end of the clip: the page can be scrolled sideways by more than 8 px, a text or control ends more than 8 px beyond the right edge, or a text is larger than a box that cuts it off.",
    canErr: "What is cut off on purpose, as in a ticker.",
  },
  missing_control: {
    word: "missing control",
    meaning: "An input of the suite looks for a control by its name, and there is none.",
    method: "The accessibility tree is searched for the role and for the name, or a part of it, when the input is due.",
    canErr: "The page may call it otherwise, or show it later.",
  },
  needs_device: {
    word: "needs a device",
    meaning:
      "It asks for something that a recording does not have: a camera, a gamepad, a screen that can be touched …",
    method:
      "The interfaces of the browser that its own text uses. It is a note where something else that was tried worked.",
    canErr: "It may ask for it only when it is there, and do well without.",
  },
  missing_asset: {
    word: "missing file",
    meaning: "It asks for a file of its own that is not there, or shows a picture that cannot be read.",
    method:
      "Requests to its own address that nothing answers; images without a size. Icons that browsers ask for by habit are left out.",
    canErr: "A file that is tried and not needed.",
  },
  library_missing: {
    word: "library missing",
    meaning:
      "It loads a library from a public host which is not on the shelf: what it shows may be no fault of its own.",
    method: "The address names a library; the shelf has none of that name. The evidence says how to add it.",
    canErr: "The address may name a file that the library never had.",
  },
  blocked_request: {
    word: "asked the network",
    meaning: "It asked a host outside for something; nothing outside is reached.",
    method: "Every request that neither its own files nor the shelf answer.",
    canErr: "Web fonts and the like are often dispensable.",
  },
  navigated: {
    word: "went elsewhere",
    meaning: "It left its own page by itself, which ended the recording.",
    method:
      "It asks for another document without having been given an input, twice. Where an input leads is not followed, and loading itself again is not leaving, unless it does so more than ten times.",
    canErr: "A page that shows itself in a second document of its own.",
  },
  popup: {
    word: "other windows",
    meaning: "It opened another window or tried to download a file; a voter's frame allows neither.",
    method: "Windows that are opened, and what the browser says it blocked.",
    canErr: "A link that a walkthrough clicks on may well open a window.",
  },
  dialog: {
    word: "dialog",
    meaning: "It opened a dialog of the browser, which was dismissed at once.",
    method: "alert, confirm, prompt and the like.",
    canErr: "A question that an input of the walkthrough asks for may be in place.",
  },
  slow_frames: {
    word: "slow frames",
    meaning:
      "It draws fewer than 30 frames a second on the machine that recorded it, or stutters when its load is turned up.",
    method:
      "Median interval between frames in 1 s on the machine's own clock is above 34 ms; or a frame takes 25 ms of processor time at most as the page is, and 50 ms or more at some level of its load.",
    canErr: "It depends on the machine, which has no graphics card, and on what else it did.",
  },
  tall_page: {
    word: "tall page",
    meaning: "The page goes on below the window: the filmstrip shows its top only, a picture of its own the whole.",
    method: "It can be scrolled and is more than 1.25 times as tall as the window.",
    canErr: "For an application that may be right; it is a note there.",
  },
  goes_wrong: {
    word: "goes wrong",
    meaning:
      "It begins well and then empties, stops when it throws, or shows NaN or undefined. Where its load was turned up: it throws then, or after minutes, or its memory grows without end.",
    method:
      "The last two frames have less than 5 % of what the frames before have; or motion ends within 1.5 frames of an exception; or such a word stands in the text at the end. Left alone for three minutes of its time: it throws after the first quarter of a minute, or its memory more than doubles by more than 20 MB and is not given back.",
    canErr: "A fade to black at the end of the clip. A text that is about NaN.",
  },
  accessibility: {
    word: "accessibility",
    meaning: "Controls or pictures without a name, a page without a title or language.",
    method: "axe-core's rules for names of buttons, links, fields and pictures, title and language.",
    canErr: "What is only drawn on a canvas is not seen.",
  },
  unstable: {
    word: "unstable",
    meaning: "Recorded again, it was not the same to the byte; other findings may be chance.",
    method: "Frames, log and outcome of two or more recordings under the same clock and seed are compared.",
    canErr: "Workers, sound and animated pictures have clocks of their own: it need not be the page's fault.",
  },
};
