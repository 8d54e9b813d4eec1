/**
 * Events by which the recorder's own world speaks with what it has put into the page's: a word that is answered by preventing the event.
 * They carry nothing that a page could use, and a page that sends them itself changes its own frames only.
 */
export const WORDS = {
  /** The browser does not draw this frame. Its time is the event's detail, and the page's frame callbacks are called now. */
  frame: "tourney:frame",
  /** The frames that follow are shown, or hidden: nobody sees what is drawn in them. */
  shows: "tourney:shows",
  hides: "tourney:hides",
  /** Was something left out that should have been seen? */
  isMissed: "tourney:is-missed",
} as const;

export const word = (name: keyof typeof WORDS): string => JSON.stringify(WORDS[name]);

/**
 * Frames are told in whole milliseconds, and come to the page whether they are drawn or not: a page's own steps are the same sixty a second,
 * while the browser lays out and paints only what is looked at. Needs `round`, `beginFrame` and `endFrame`.
 */
export const FRAME_SCRIPT = `  const { requestAnimationFrame: raf, cancelAnimationFrame: cancel } = globalThis;
  /** When a frame that is not drawn is being told of. */
  let hiddenAt = null;
  if (raf) {
    const asked = new Map();
    const call = (callback, time) => {
      beginFrame(time);
      try { callback(time); } finally { endFrame(); }
    };
    globalThis.requestAnimationFrame = (callback) => {
      const id = raf.call(globalThis, typeof callback === "function" ? (time) => { asked.delete(id); call(callback, round(time)); } : callback);
      asked.set(id, callback);
      return id;
    };
    globalThis.cancelAnimationFrame = (id) => { asked.delete(id); cancel.call(globalThis, id); };
    // Called by an event, so that what one of them throws is reported as the browser reports it, and the others are called.
    const turn = new EventTarget();
    const { addEventListener: listen, dispatchEvent: dispatch } = EventTarget.prototype;
    addEventListener(${word("frame")}, (event) => {
      const time = hiddenAt = event.detail;
      for (const [id, callback] of [...asked]) {
        if (!asked.delete(id)) continue;
        cancel.call(globalThis, id);
        listen.call(turn, "frame", () => call(callback, time), { once: true });
        dispatch.call(turn, new Event("frame"));
      }
      hiddenAt = null;
    });
  }
`;
