import { word } from "./frame-script.js";

/** Waits until all that was drawn in a context is done: a pixel of it can only be had then. */
const FINISH = `    const natives = ({ readPixels, bindFramebuffer, bindBuffer, getParameter }) => ({ readPixels, bindFramebuffer, bindBuffer, getParameter });
    const first = natives(WebGLRenderingContext.prototype), second = WebGl2 && natives(WebGl2.prototype), pixel = new Uint8Array(4);
    finish = (gl, { source }) => {
      const isSecond = WebGl2 && gl instanceof WebGl2, { readPixels, bindFramebuffer, bindBuffer, getParameter } = isSecond ? second : first;
      const packed = isSecond ? getParameter.call(gl, 0x88ed) : null, place = isSecond ? 0x8ca8 : 0x8d40;
      if (packed) bindBuffer.call(gl, 0x88eb, null);
      if (source) bindFramebuffer.call(gl, place, null);
      readPixels.call(gl, 0, 0, 1, 1, 0x1908, 0x1401, pixel);
      if (source) bindFramebuffer.call(gl, place, source);
      if (packed) bindBuffer.call(gl, 0x88eb, packed);
    };
`;

/** What a page calls: drawing that may be left out, reading that must not have missed any, and what tells where is drawn. */
const FOLLOWED = `    for (const prototype of [WebGLRenderingContext.prototype, WebGl2?.prototype]) {
      wrap(prototype, ["drawArrays", "drawElements", "clear", "drawArraysInstanced", "drawElementsInstanced", "drawRangeElements", "clearBufferfv", "clearBufferiv", "clearBufferuiv", "clearBufferfi", "blitFramebuffer"],
        (original) => function (...args) { if (!leavesOut(drawings.get(this))) return original.apply(this, args); });
      wrap(prototype, ["readPixels", "copyTexImage2D", "copyTexSubImage2D", "copyTexSubImage3D", "blitFramebuffer"], follows((drawing) => { if (drawing.source === null) read(drawing.canvas); }));
      wrap(prototype, ["texImage2D", "texSubImage2D", "texImage3D", "texSubImage3D"], follows((drawing, args) => readAny(args)));
      wrap(prototype, ["beginTransformFeedback", "beginQuery"], follows((drawing) => { drawing.captures++; }));
      wrap(prototype, ["endTransformFeedback", "endQuery"], follows((drawing) => { drawing.captures--; }));
      wrap(prototype, ["bindFramebuffer"], follows((drawing, [place, buffer = null]) => {
        if (place !== 0x8ca8) drawing.target = buffer;
        if (place !== 0x8ca9) drawing.source = buffer;
      }));
      wrap(prototype, ["deleteFramebuffer"], follows((drawing, [buffer]) => {
        if (drawing.target === buffer) drawing.target = null;
        if (drawing.source === buffer) drawing.source = null;
      }));
    }
    wrap(canvases, ["toDataURL", "toBlob", "captureStream"], takes);
    wrap(globalThis.CanvasRenderingContext2D?.prototype, ["drawImage", "createPattern"], takes);
    wrap(globalThis, ["createImageBitmap"], takes);
`;

/**
 * Drawing by WebGL is what a page takes its time for on a machine without a graphics processor, so it is left out of frames that nobody sees:
 * what a page draws to its visible canvas from within a frame, where that leaves no other trace. Should that have been wrong, because the page
 * read its canvas, or drew nothing in a frame that is looked at, the recorder is told, and records the page anew with everything drawn.
 *
 * A hidden frame that does draw something waits until that is done, so that no other frame inherits the work.
 *
 * @param drawsAll whether nothing is left out.
 */
export const webglScript = (drawsAll: boolean): string => `  let isHidden = false, depth = 0, isMissed = false;
  const drawings = new Map();
  const beginFrame = () => { depth++; };
  const endFrame = () => {
    depth--;
    if (!isHidden) return;
    for (const [gl, drawing] of drawings) if (drawing.hasWork) { drawing.hasWork = false; finish(gl, drawing); }
  };
  addEventListener(${word("shows")}, () => { isHidden = false; });
  addEventListener(${word("hides")}, () => { isHidden = true; });
  addEventListener(${word("isMissed")}, (event) => {
    if (!isHidden) for (const { isBehind } of drawings.values()) if (isBehind) isMissed = true;
    if (isMissed) event.preventDefault();
  });
  let finish = () => {};
  if (globalThis.WebGLRenderingContext && globalThis.HTMLCanvasElement) {
    const WebGl2 = globalThis.WebGL2RenderingContext;
    const canvases = HTMLCanvasElement.prototype, { getContext } = canvases;
    const isWebGl = (context) => context instanceof WebGLRenderingContext || (WebGl2 && context instanceof WebGl2);
    canvases.getContext = function (...args) {
      const context = getContext.apply(this, args);
      if (isWebGl(context) && !drawings.has(context)) {
        const attributes = context.getContextAttributes();
        drawings.set(context, { canvas: this, target: null, source: null, captures: 0, isKept: !attributes || attributes.preserveDrawingBuffer, isBehind: false, hasWork: false });
      }
      return context;
    };
${FINISH}    const leavesOut = (drawing) => {
      if (!drawing) return false;
      if (!${drawsAll} && isHidden && depth > 0 && drawing.target === null && drawing.captures === 0 && !drawing.isKept && drawing.canvas.isConnected)
        return drawing.isBehind = true;
      drawing.hasWork = true;
      if (drawing.target === null) drawing.isBehind = false;
      return false;
    };
    const read = (canvas) => {
      for (const drawing of drawings.values()) if (drawing.isBehind && drawing.canvas === canvas) isMissed = true;
    };
    const readAny = (args) => { for (const arg of args) if (arg instanceof HTMLCanvasElement) read(arg); };
    const wrap = (prototype, names, make) => {
      for (const name of names) {
        const original = prototype?.[name];
        if (typeof original === "function") prototype[name] = make(original);
      }
    };
    const follows = (before) => (original) => function (...args) {
      const drawing = drawings.get(this);
      if (drawing) before(drawing, args);
      return original.apply(this, args);
    };
    const takes = (original) => function (...args) { readAny([this, ...args]); return original.apply(this, args); };
${FOLLOWED}  }
`;
