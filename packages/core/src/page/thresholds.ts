/** A frame with fewer drawn pixels than this is blank: 0.02 % of 1280×800 is about 200 pixels, less than one short word. */
export const BLANK_CONTENT_SHARE = 0.0002;
/** Fewer changed pixels than this in every interval is no motion that a person would see. */
export const STILL_MOTION_SHARE = 0.0002;
