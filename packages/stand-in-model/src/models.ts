/** Grades of the hand-written pages, best first. */
export const GRADES = ["a", "b", "c", "d"] as const;
export type Grade = (typeof GRADES)[number];

/** How a made-up model words its answers. */
export type Habit = "fenced" | "draft-then-final" | "bare" | "chatty";

export interface StandInModel {
  id: string;
  maker: string;
  /** Weights of the grades a … d: how often it writes a page of that grade. */
  talent: readonly [number, number, number, number];
  habit: Habit;
  tokensPerSecond: number;
  firstTokenMs: number;
  /** Share of first requests for a prompt that are answered with "busy" (429), to be sent again. */
  busyShare: number;
}

/** All made up, and steered by the seed alone. */
export const MODELS: readonly StandInModel[] = [
  {
    id: "samphire-3",
    maker: "Brinefield",
    talent: [7, 3, 0, 0],
    habit: "fenced",
    tokensPerSecond: 55,
    firstTokenMs: 900,
    busyShare: 0,
  },
  {
    id: "marram-large",
    maker: "Dune Works",
    talent: [4, 4, 2, 0],
    habit: "draft-then-final",
    tokensPerSecond: 38,
    firstTokenMs: 1400,
    busyShare: 0.1,
  },
  {
    id: "thrift-2",
    maker: "Cliffhouse",
    talent: [1, 4, 4, 1],
    habit: "chatty",
    tokensPerSecond: 90,
    firstTokenMs: 500,
    busyShare: 0,
  },
  {
    id: "eelgrass-1",
    maker: "Cliffhouse",
    talent: [0, 2, 4, 4],
    habit: "bare",
    tokensPerSecond: 120,
    firstTokenMs: 350,
    busyShare: 0.25,
  },
];

export const findModel = (id: string): StandInModel | null => MODELS.find((model) => model.id === id) ?? null;
