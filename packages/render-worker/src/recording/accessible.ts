import type { Target } from "@tourney/core/contract";
import * as z from "zod";
import type { OpenPage } from "./open-page.js";

/** How long the page may take to say what is on it. */
const LOOKUP_LIMIT_MS = 5000;

const AxTree = z.object({
  nodes: z.array(
    z.object({
      ignored: z.boolean().optional(),
      role: z.object({ value: z.string() }).optional(),
      name: z.object({ value: z.coerce.string() }).optional(),
      properties: z
        .array(z.object({ name: z.string(), value: z.looseObject({ value: z.unknown().optional() }) }))
        .optional(),
      backendDOMNodeId: z.int().optional(),
    }),
  ),
});
const BoxModel = z.object({ model: z.object({ border: z.array(z.number()).length(8) }) });

/** Something on the page as assistive technology is told of it. */
export interface Accessible {
  role: string;
  name: string;
  isDisabled: boolean;
  nodeId: number;
  /** Where a link leads. */
  address: string | null;
}

export interface Box {
  left: number;
  top: number;
  right: number;
  bottom: number;
}

/** What the entry's document tells assistive technology, in document order; text runs are left out. */
export async function listAccessible({ send, watch }: OpenPage): Promise<Accessible[]> {
  const where = watch.stageFrameId === null ? {} : { frameId: watch.stageFrameId };
  const tree = AxTree.parse(await send("Accessibility.getFullAXTree", where, LOOKUP_LIMIT_MS));
  return tree.nodes.flatMap(({ ignored, role, name, properties, backendDOMNodeId }) =>
    ignored === true || backendDOMNodeId === undefined || ["StaticText", "InlineTextBox"].includes(role?.value ?? "")
      ? []
      : [
          {
            role: role?.value ?? "",
            name: name?.value ?? "",
            isDisabled: properties?.some((item) => item.name === "disabled" && item.value.value === true) ?? false,
            nodeId: backendDOMNodeId,
            address: z.string().safeParse(properties?.find((item) => item.name === "url")?.value.value).data ?? null,
          },
        ],
  );
}

/** Roles that a person works in the same way, whichever of them a page has chosen. */
const ALIKE = [new Set(["textbox", "searchbox"]), new Set(["checkbox", "switch"])];

const isOfRole = (role: string, wanted: string): boolean =>
  role === wanted || ALIKE.some((roles) => roles.has(role) && roles.has(wanted));

/** What of it a target means: of the same role or one like it, if one is given, and of that name or with the name in it. */
export function findByName(all: readonly Accessible[], target: Extract<Target, { name: string }>): Accessible | null {
  const wanted = target.name.toLowerCase();
  const candidates = all.filter(
    ({ role, name }) =>
      (target.role === undefined || isOfRole(role.toLowerCase(), target.role.toLowerCase())) &&
      name.toLowerCase().includes(wanted),
  );
  return candidates.find(({ name }) => name.toLowerCase() === wanted) ?? candidates[0] ?? null;
}

/** Where something is in the viewport, CSS px; null when it is not drawn. */
export async function findBox({ send }: OpenPage, { nodeId }: Pick<Accessible, "nodeId">): Promise<Box | null> {
  const answer = BoxModel.safeParse(
    await send("DOM.getBoxModel", { backendNodeId: nodeId }, LOOKUP_LIMIT_MS).catch((error: unknown) => {
      // The browser says so when a node has no box; that the page is gone is another matter.
      if (error instanceof Error && error.name === "Error") return null;
      throw error;
    }),
  );
  if (!answer.success) return null;
  const [left, top, , , right, bottom] = answer.data.model.border as [number, number, number, number, number, number];
  return { left, top, right, bottom };
}

/** As it is named to a person. */
export const describeAccessible = ({ role, name }: Pick<Accessible, "role" | "name">): string =>
  name === "" ? `${role} without a name` : `${role} “${name}”`;
