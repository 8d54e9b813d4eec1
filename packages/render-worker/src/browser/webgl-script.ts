import { word } from "./frame-script.js";

/** Waits until all that was drawn in a context is done: a pixel of it can only be had then. */
const FINISH = `    const natives = ({ readPixels, bindFramebuffer, bindBuffer, getParameter, getProgramParameter, getActiveUniform }) => ({ readPixels, bindFramebuffer, bindBuffer, getParameter, getProgramParameter, getActiveUniform });
    const first = natives(WebGLRenderingContext.prototype), second = WebGl2 && natives(WebGl2.prototype), pixel = new Uint8Array(4);
    const isSecondWebGl = (gl) => Boolean(WebGl2) && gl instanceof WebGl2, nativesOf = (gl) => (isSecondWebGl(gl) ? second : first);
    finish = (gl, { source }) => {
      const isSecond = isSecondWebGl(gl), { readPixels, bindFramebuffer, bindBuffer, getParameter } = nativesOf(gl);
      const packed = isSecond ? getParameter.call(gl, 0x88ed) : null, place = isSecond ? 0x8ca8 : 0x8d40;
      if (packed) bindBuffer.call(gl, 0x88eb, null);
      if (source) bindFramebuffer.call(gl, place, null);
      readPixels.call(gl, 0, 0, 1, 1, 0x1908, 0x1401, pixel);
      if (source) bindFramebuffer.call(gl, place, source);
      if (packed) bindBuffer.call(gl, 0x88eb, packed);
    };
`;

/** How what a page calls is followed. */
const WRAPPERS = `    const read = (canvas) => {
      for (const drawing of drawings.values()) if (drawing.isBehind && drawing.canvas === canvas) isMissed = true;
    };
    const readAny = (args) => { for (const arg of args) if (arg instanceof HTMLCanvasElement) read(arg); };
    const wrap = (prototype, names, make) => {
      for (const name of names) {
        const original = prototype?.[name];
        if (typeof original === "function") prototype[name] = make(original, name);
      }
    };
    const follows = (before) => (original) => function (...args) {
      const drawing = drawings.get(this);
      if (drawing) before(drawing, args);
      return original.apply(this, args);
    };
    const takes = (original) => function (...args) { readAny([this, ...args]); return original.apply(this, args); };
`;

/** What a page calls: drawing that may be left out, reading that must not have missed any, and what tells where is drawn. */
const FOLLOWED = `    for (const prototype of [WebGLRenderingContext.prototype, WebGl2?.prototype]) {
      wrap(prototype, ["drawArrays", "drawElements", "clear", "drawArraysInstanced", "drawElementsInstanced", "drawRangeElements", "clearBufferfv", "clearBufferiv", "clearBufferuiv", "clearBufferfi", "blitFramebuffer"],
        (original, name) => function (...args) { if (!leavesOut(this, drawings.get(this), name)) return original.apply(this, args); });
      wrap(prototype, ["readPixels", "copyTexImage2D", "copyTexSubImage2D", "copyTexSubImage3D"], follows((drawing) => { if (drawing.source === null) read(drawing.canvas); else for (const texture of texturesOf(drawing, drawing.source)) uses(drawing, texture); }));
      wrap(prototype, ["texImage2D", "texSubImage2D", "texImage3D", "texSubImage3D"], follows((drawing, args) => readAny(args)));
      wrap(prototype, ["beginTransformFeedback", "beginQuery"], follows((drawing) => { drawing.captures++; }));
      wrap(prototype, ["endTransformFeedback", "endQuery"], follows((drawing) => { drawing.captures--; }));
      wrap(prototype, ["bindFramebuffer"], follows((drawing, [place, buffer = null]) => {
        if (buffer && !drawing.targets.has(buffer)) attach(drawing, buffer, "own", buffer);
        if (place !== 0x8ca8) drawing.target = buffer;
        if (place !== 0x8ca9) drawing.source = buffer;
      }));
      wrap(prototype, ["framebufferTexture2D"], follows((drawing, [place, attachment, , texture]) => { const bound = place === 0x8ca8 ? drawing.source : drawing.target; if (bound && texture) attach(drawing, bound, attachment, texture); }));
      wrap(prototype, ["framebufferTextureLayer"], follows((drawing, [place, attachment, texture]) => { const bound = place === 0x8ca8 ? drawing.source : drawing.target; if (bound && texture) attach(drawing, bound, attachment, texture); }));
      wrap(prototype, ["activeTexture"], follows((drawing, [unit]) => { drawing.unit = unit - 0x84c0; }));
      wrap(prototype, ["bindTexture"], follows((drawing, [place, texture = null]) => { drawing.units.set(drawing.unit + ":" + place, texture); }));
      wrap(prototype, ["useProgram"], follows((drawing, [program = null]) => { drawing.program = program; }));
      wrap(prototype, ["uniform1i"], follows((drawing, [place, unit]) => { if (place) samplerUnits.set(place, [unit]); }));
      wrap(prototype, ["uniform1iv"], follows((drawing, [place, units]) => { if (place) samplerUnits.set(place, [...units]); }));
      wrap(prototype, ["getUniformLocation"], (original) => function (program, name) {
        const place = original.call(this, program, name);
        if (place && program) { const places = placesOf.get(program) ?? new Map(); placesOf.set(program, places); places.set(String(name).replace(/\\[0\\]$/, ""), place); }
        return place;
      });
      wrap(prototype, ["linkProgram"], follows((drawing, [program]) => { samplersOf.delete(program); }));
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
 * Pages also draw into textures of their own, as for shadows. The recorder leaves that out too, if every frame that samples such a texture first
 * clears it and draws into it. Where a frame looks at what another has drawn, the pictures are a part of the page's memory, and all are drawn.
 */
const TARGETS = `    const samplerUnits = new WeakMap(), placesOf = new WeakMap(), samplersOf = new WeakMap();
    const texturesOf = (drawing, target) => [...(drawing.targets.get(target)?.values() ?? [])];
    const attach = (drawing, target, attachment, texture) => {
      const attached = drawing.targets.get(target) ?? new Map();
      drawing.targets.set(target, attached);
      const known = drawing.textures.get(texture) ?? { clearedIn: null, drawnIn: null, isBehind: false };
      drawing.textures.set(texture, known);
      drawing.hasTargets = true;
      attached.set(attachment, known);
    };
    // The first frames are drawn whole: what they show of the page decides.
    const canLeaveOutTarget = (drawing) => !drawing.hasMemory && drawing.framesDrawn >= LEARNT_FRAMES;
    const remembers = (drawing) => {
      drawing.hasMemory = true;
      if (drawing.hasBehind) isMissed = true;
    };
    const writeTo = (drawing, target, { clears, isWhole }) => {
      if (drawing.lastDrawn !== frameNumber) { drawing.lastDrawn = frameNumber; drawing.framesDrawn++; }
      for (const texture of texturesOf(drawing, target)) {
        if (clears || isWhole) { texture.clearedIn = frameNumber; if (clears) continue; }
        // What is drawn before the page's frames begin, or outside them, is drawn once and for all.
        if (depth > 0 && texture.clearedIn !== frameNumber) remembers(drawing);
        texture.drawnIn = depth > 0 ? frameNumber : null;
        texture.isBehind = false;
      }
    };
    const uses = (drawing, texture) => {
      if (texture.isBehind) isMissed = true;
      if (texture.drawnIn !== null && texture.drawnIn !== frameNumber) remembers(drawing);
    };
    const samplersIn = (gl, program) => {
      const known = samplersOf.get(program);
      if (known) return known;
      const names = [];
      for (let i = 0, n = nativesOf(gl).getProgramParameter.call(gl, program, 0x8b86); i < n; i++) {
        const { type, name } = nativesOf(gl).getActiveUniform.call(gl, program, i);
        const place = type === 0x8b5e ? 0x0de1 : type === 0x8b60 ? 0x8513 : type === 0x8b62 ? 0x0de1 : type === 0x8dc5 ? 0x8513 : null;
        if (place !== null) names.push([name.replace(/\\[0\\]$/, ""), place]);
      }
      samplersOf.set(program, names);
      return names;
    };
    const sampleAll = (gl, drawing) => {
      if (!drawing.hasTargets || !drawing.program || drawing.hasMemory) return;
      for (const [name, place] of samplersIn(gl, drawing.program)) {
        const where = placesOf.get(drawing.program)?.get(name);
        for (const unit of (where && samplerUnits.get(where)) ?? [0]) {
          const bound = drawing.units.get(unit + ":" + place), texture = bound && drawing.textures.get(bound);
          if (texture) uses(drawing, texture);
        }
      }
    };
`;

/**
 * Drawing by WebGL is what a page takes its time for on a machine without a graphics processor, so it is left out of frames that nobody sees:
 * what a page draws to its visible canvas from within a frame, where that leaves no other trace. Should that have been wrong, because the page
 * read its canvas, or drew nothing in a frame that is looked at, the recorder throws that recording away and makes another in which every frame is drawn.
 *
 * A hidden frame that does draw something waits until that is done, so that no other frame inherits the work.
 *
 * @param drawsAll whether nothing is left out.
 */
export const webglScript = (drawsAll: boolean): string => `  let isHidden = false, depth = 0, isMissed = false;
  const drawings = new Map();
  const LEARNT_FRAMES = 3;
  let frameNumber = 0, frameTime = null;
  const beginFrame = (time) => {
    depth++;
    if (time !== frameTime) { frameTime = time; frameNumber++; }
  };
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
        drawings.set(context, { canvas: this, target: null, source: null, captures: 0, program: null, unit: 0, units: new Map(), targets: new WeakMap(), textures: new WeakMap(), hasTargets: false, hasMemory: false, hasBehind: false, framesDrawn: 0, lastDrawn: -1, isKept: !attributes || attributes.preserveDrawingBuffer, isBehind: false, hasWork: false });
      }
      return context;
    };
${FINISH}${TARGETS}    const leavesOut = (gl, drawing, name) => {
      if (!drawing) return false;
      const { target } = drawing, clears = name.startsWith("clear"), isWhole = name === "blitFramebuffer";
      if (!${drawsAll} && isHidden && depth > 0 && drawing.captures === 0 && !drawing.isKept && drawing.canvas.isConnected && (target === null || canLeaveOutTarget(drawing))) {
        if (target !== null) for (const texture of texturesOf(drawing, target)) texture.isBehind = drawing.hasBehind = true;
        else drawing.isBehind = true;
        return true;
      }
      drawing.hasWork = true;
      if (isWhole) { if (drawing.source === null) read(drawing.canvas); else for (const texture of texturesOf(drawing, drawing.source)) uses(drawing, texture); }
      else if (!clears) sampleAll(gl, drawing);
      if (target !== null) writeTo(drawing, target, { clears, isWhole });
      else drawing.isBehind = false;
      return false;
    };
${WRAPPERS}${FOLLOWED}  }
`;
