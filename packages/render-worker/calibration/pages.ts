import {
  BLOCKED,
  CRASHED,
  DEAD,
  DIALOG,
  EXCEPTION,
  HUNG,
  LIBRARY,
  MISSING,
  MISSING_CONTROL,
  NEEDS,
  NAVIGATED,
  POPUP,
  UNSTABLE,
} from "./behaved.js";
import type { LabelledSet } from "./build.js";
import { ACCESSIBILITY, BLANK, OVERFLOW, SLOW, STILL, TALL, UNREADABLE, WRONG } from "./shown.js";

/** Pages made for each rule: some on which it should find something, and some that come near and on which it should not. */
export const LABELLED: readonly LabelledSet[] = [
  BLANK,
  STILL,
  EXCEPTION,
  CRASHED,
  HUNG,
  NAVIGATED,
  DEAD,
  WRONG,
  MISSING_CONTROL,
  NEEDS,
  MISSING,
  LIBRARY,
  BLOCKED,
  POPUP,
  DIALOG,
  UNREADABLE,
  OVERFLOW,
  TALL,
  ACCESSIBILITY,
  SLOW,
  UNSTABLE,
];
