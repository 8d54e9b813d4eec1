/** What leans are called, from −2 to +2. */
export const LEAN_WORDS = ["left by far", "left", "even", "right", "right by far"] as const;
