/** The answer of an operation as it goes over the wire, which has been checked by its schema. */
export class ReadyAnswer {
  /** @param tag tells it apart from others, where the caller may hold it already */
  constructor(
    readonly text: string,
    readonly tag: string | null = null,
  ) {}
}
