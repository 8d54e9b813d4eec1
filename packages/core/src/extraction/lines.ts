/** What a fence's mark stands behind: spaces and the marks of quotations. */
const MARK = /`{3}|~{3}/g;
const BEFORE_MARK = /^[\s>]*$/;

/**
 * An answer's lines, found by their numbers from 0. Of four million of them there are only offsets; those that begin with three backticks or tildes are known by
 * themselves, since no other can open or close a fence.
 */
export class AnswerLines {
  readonly count: number;
  /** Numbers of the lines that begin with a fence's mark, in order. */
  readonly marks: readonly number[];
  private readonly starts: Int32Array;

  constructor(private readonly text: string) {
    this.starts = listStarts(text);
    this.count = this.starts.length - 1;
    this.marks = this.listMarks();
  }

  /** Offset of a line's first character. */
  startOf(line: number): number {
    return this.starts[line]!;
  }

  /** Offset behind a line's break. */
  nextOf(line: number): number {
    return this.starts[line + 1]!;
  }

  /** A line without its break. */
  textOf(line: number): string {
    const { text } = this;
    let end = this.nextOf(line);
    if (text[end - 1] === "\n") end -= text[end - 2] === "\r" && end - 2 >= this.startOf(line) ? 2 : 1;
    return text.slice(this.startOf(line), end);
  }

  /** Lines from one on that begin with a fence's mark. */
  *marksFrom(line: number): Generator<number> {
    for (let at = findFirst(this.marks, line); at < this.marks.length; at++) yield this.marks[at]!;
  }

  private listMarks(): number[] {
    const found: number[] = [];
    let line = 0;
    MARK.lastIndex = 0;
    for (let match = MARK.exec(this.text); match !== null; match = MARK.exec(this.text)) {
      while (this.nextOf(line) <= match.index) line++;
      if (BEFORE_MARK.test(this.text.slice(this.startOf(line), match.index))) found.push(line);
      MARK.lastIndex = this.nextOf(line);
    }
    return found;
  }
}

/** Where each line begins, and the text's length. */
function listStarts(text: string): Int32Array {
  let count = 1;
  for (let at = text.indexOf("\n"); at !== -1; at = text.indexOf("\n", at + 1)) count++;
  const starts = new Int32Array(count + 1);
  let line = 1;
  for (let at = text.indexOf("\n"); at !== -1; at = text.indexOf("\n", at + 1)) starts[line++] = at + 1;
  // What stands behind the last line break is a line if there is anything.
  if (starts[count - 1] === text.length) return starts.subarray(0, count);
  starts[count] = text.length;
  return starts;
}

/** Index of the first of ascending numbers that is not below one. */
export function findFirst(numbers: ArrayLike<number>, least: number): number {
  let [low, high] = [0, numbers.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (numbers[middle]! < least) low = middle + 1;
    else high = middle;
  }
  return low;
}
