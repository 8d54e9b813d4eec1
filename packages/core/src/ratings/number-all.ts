/** Names as numbers from 0 on, in the order in which they come: what the fits take for voters, prompts and entrants. */
export function numberAll(values: readonly string[]): { columns: number[]; numberOf: Map<string, number> } {
  const numberOf = new Map([...new Set(values)].map((value, index) => [value, index]));
  return { columns: values.map((value) => numberOf.get(value)!), numberOf };
}
