/** Caches the result of a function of an immutable object, for as long as the object lives. */
export function oncePer<O extends object, T>(make: (of: O) => T): (of: O) => T {
  const made = new WeakMap<O, { value: T }>();
  return (of) => {
    const known = made.get(of) ?? { value: make(of) };
    made.set(of, known);
    return known.value;
  };
}
