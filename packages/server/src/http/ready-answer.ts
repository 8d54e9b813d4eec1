/** The answer of an operation as it goes over the wire, which has been checked by its schema. */
export class ReadyAnswer {
  constructor(readonly text: string) {}
}
