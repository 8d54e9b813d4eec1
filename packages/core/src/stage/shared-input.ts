import * as z from "zod";

const share = z.number().min(-1).max(2);

/** Something on a page, as a person using a screen reader would find it. */
const NamedTarget = z.object({ role: z.string().max(40), name: z.string().max(200) });

const at = { x: share, y: share, target: NamedTarget.nullable() };

/**
 * An input given in one stage of a comparison, as the others act it out. Places are shares of the viewport, 0–1. It comes from a frame whose page
 * may be hostile: nothing of it is trusted but its shape.
 */
export const SharedInput = z.discriminatedUnion("kind", [
  z.object({
    kind: z.literal("key"),
    type: z.enum(["keydown", "keyup"]),
    key: z.string().max(32),
    code: z.string().max(32),
    keyCode: z.int().min(0).max(255),
    repeat: z.boolean(),
    modifiers: z.object({ shiftKey: z.boolean(), ctrlKey: z.boolean(), altKey: z.boolean(), metaKey: z.boolean() }),
  }),
  z.object({
    kind: z.literal("pointer"),
    type: z.enum(["pointerdown", "pointermove", "pointerup", "click", "dblclick", "contextmenu"]),
    button: z.int().min(-1).max(4),
    buttons: z.int().min(0).max(31),
    ...at,
  }),
  z.object({ kind: z.literal("wheel"), deltaX: z.number(), deltaY: z.number(), ...at }),
  z.object({ kind: z.literal("value"), value: z.string().max(10_000), checked: z.boolean().nullable(), ...at }),
]);
export type SharedInput = z.infer<typeof SharedInput>;

/** What a stage says of inputs: one that was given in it, or whether it found something to act a given one out on. */
export const StageWord = z.discriminatedUnion("tourney", [
  z.object({ tourney: z.literal("input"), input: SharedInput }),
  z.object({ tourney: z.literal("acted"), found: z.boolean(), what: z.string().max(300) }),
]);
export type StageWord = z.infer<typeof StageWord>;
