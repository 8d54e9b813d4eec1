export { SharedInput, StageWord } from "./shared-input.js";
export { dropIntegrity, STAGE_PRELUDE, STAGE_SANDBOX, wrapDrawing } from "./stage-page.js";
