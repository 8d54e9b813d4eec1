import { describe, expect, it } from "vitest";
import { listNeeds } from "./needs.js";

describe("what a page needs of a machine", () => {
  it.each([
    ["navigator.mediaDevices.getUserMedia({ video: true })", ["a camera"]],
    ["getUserMedia({audio:true})", ["a microphone"]],
    ["for (const pad of navigator.getGamepads()) move(pad)", ["a gamepad"]],
    [`addEventListener("deviceorientation", tilt)`, ["motion sensors"]],
    ["await navigator.requestMIDIAccess()", ["a MIDI instrument"]],
    ["navigator.geolocation.getCurrentPosition(show)", ["the place where it is"]],
    [`canvas.addEventListener("touchstart", start)`, ["a screen that can be touched"]],
    [`on("touchstart", start); on("mousedown", start)`, []],
    ["<p>Point the camera at the gamepad and allow the microphone.</p>", []],
  ])("is read from the interfaces it uses: %s", (text, needs) => expect(listNeeds([text])).toEqual(needs));
});
