/** What is made of an object that never changes, made once for each of them and forgotten with it. */
export function oncePer<O extends object, T>(make: (of: O) => T): (of: O) => T {
  const made = new WeakMap<O, { value: T }>();
  return (of) => {
    const known = made.get(of) ?? { value: make(of) };
    made.set(of, known);
    return known.value;
  };
}
