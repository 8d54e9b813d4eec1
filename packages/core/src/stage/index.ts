export { SharedInput, StageWord } from "./shared-input.js";
export { addPrelude, dropIntegrity, STAGE_PRELUDE, STAGE_SANDBOX, wrapDrawing } from "./stage-page.js";
