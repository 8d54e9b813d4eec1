import { TourneyError } from "../errors.js";

/** The columns of a file of ballots, in any order; others are ignored, and so is a ballot that says why it is not counted. */
export const BALLOT_COLUMNS = [
  "voter",
  "prompt",
  "kind",
  "left",
  "right",
  "lean",
  "left_works",
  "right_works",
  "at",
  "not_counted",
] as const;
type Column = (typeof BALLOT_COLUMNS)[number];
const NEEDED = ["voter", "prompt", "left", "right", "lean"] as const;

/** Whole numbers of any count, kept in few bytes. */
class GrowingColumn {
  private data = new Int32Array(1024);
  length = 0;

  push(value: number): void {
    if (this.length === this.data.length) {
      const larger = new Int32Array(this.data.length * 2);
      larger.set(this.data);
      this.data = larger;
    }
    this.data[this.length++] = value;
  }

  toArray(): Int32Array {
    return this.data.slice(0, this.length);
  }
}

/** Numbers names in the order of their first appearance. */
class NameList {
  readonly names: string[] = [];
  private readonly numbers = new Map<string, number>();

  numberOf(name: string): number {
    const known = this.numbers.get(name);
    if (known !== undefined) return known;
    this.numbers.set(name, this.names.length);
    return this.names.push(name) - 1;
  }
}

/** Takes in a table of ballots line by line, names turned into numbers. */
export class BallotTable {
  private readonly voters = new NameList();
  private readonly prompts = new NameList();
  private readonly entrantNames = new NameList();
  private readonly columns = {
    voter: new GrowingColumn(),
    prompt: new GrowingColumn(),
    left: new GrowingColumn(),
    right: new GrowingColumn(),
    outcome: new GrowingColumn(),
    leftWorks: new GrowingColumn(),
    rightWorks: new GrowingColumn(),
  };
  private readonly place: Partial<Record<Column, number>>;

  /**
   * @param head the names of the columns.
   * @param kind takes only ballots on prompts of this kind.
   * @throws TourneyError INVALID_INPUT for a column that is missing or there twice.
   */
  constructor(
    head: readonly string[],
    private readonly kind?: string,
  ) {
    const names = head.map((name) => name.trim().toLowerCase());
    this.place = Object.fromEntries(
      BALLOT_COLUMNS.flatMap((name) => (names.includes(name) ? [[name, names.indexOf(name)]] : [])),
    );
    const needed: readonly Column[] = kind === undefined ? NEEDED : [...NEEDED, "kind"];
    const missing = needed.filter((name) => this.place[name] === undefined);
    const twice = BALLOT_COLUMNS.find((name) => names.filter((other) => other === name).length > 1);
    if (missing.length === 0 && twice === undefined) return;
    throw new TourneyError("INVALID_INPUT", {
      message:
        twice === undefined
          ? `The file has no column ${missing.map((name) => `“${name}”`).join(", ")}.`
          : `The file has the column “${twice}” twice.`,
      reason: `Its first line names ${head.length === 0 ? "nothing" : head.slice(0, 12).join(", ").slice(0, 200)}.`,
      remedy: `Give it a first line with ${BALLOT_COLUMNS.join(",")}; kind, left_works, right_works, at and not_counted may be left out.`,
    });
  }

  get length(): number {
    return this.columns.outcome.length;
  }

  /** @throws TourneyError INVALID_INPUT that names the line. */
  add(cells: readonly string[], line: number): void {
    const cell = (name: Column): string =>
      this.place[name] === undefined ? "" : (cells[this.place[name]] ?? "").trim();
    if (this.kind !== undefined && cell("kind") !== this.kind) return;
    if (cell("not_counted") !== "") return;
    for (const name of NEEDED) if (cell(name) === "") refuseLine(line, `has no ${name}`);
    const lean = Number(cell("lean"));
    if (!Number.isInteger(lean) || lean < -2 || lean > 2)
      refuseLine(line, `has the lean ${JSON.stringify(cell("lean").slice(0, 60))}, which is none of -2, -1, 0, 1, 2`);
    if (cell("left") === cell("right"))
      refuseLine(line, `pairs ${JSON.stringify(cell("left").slice(0, 60))} with itself`);
    this.columns.voter.push(this.voters.numberOf(cell("voter")));
    this.columns.prompt.push(this.prompts.numberOf(cell("prompt")));
    this.columns.left.push(this.entrantNames.numberOf(cell("left")));
    this.columns.right.push(this.entrantNames.numberOf(cell("right")));
    // Lean −2 (left by far) … 2 (right by far) is outcome 1 … 5.
    this.columns.outcome.push(lean + 3);
    this.columns.leftWorks.push(readWorks(cell("left_works"), line));
    this.columns.rightWorks.push(readWorks(cell("right_works"), line));
  }

  /** The names of the entrants, and the ballots as columns of numbers. */
  finish() {
    const { voter, prompt, left, right, outcome, leftWorks, rightWorks } = this.columns;
    return {
      entrants: this.entrantNames.names,
      ballots: {
        voter: voter.toArray(),
        prompt: prompt.toArray(),
        left: left.toArray(),
        right: right.toArray(),
        outcome: outcome.toArray(),
      },
      works: { left: leftWorks.toArray(), right: rightWorks.toArray() },
    };
  }
}

function readWorks(text: string, line: number): number {
  if (/^(|1|true|yes)$/i.test(text)) return 1;
  if (/^(0|false|no)$/i.test(text)) return 0;
  return refuseLine(
    line,
    `says ${JSON.stringify(text.slice(0, 60))} of whether a page works, which is neither true nor false`,
  );
}

function refuseLine(line: number, what: string): never {
  throw new TourneyError("INVALID_INPUT", {
    message: `Line ${line} ${what}.`,
    reason: "A ballot says who voted, on which prompt, which two entrants, and how far to which side.",
    remedy: "Correct the line or take it out; nothing has been rated.",
  });
}
