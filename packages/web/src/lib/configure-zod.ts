import * as z from "zod";

// The page's own policy forbids code made from text, which Zod tries for speed as soon as a schema is made: so this module
// comes before every other.
z.config({ jitless: true });
