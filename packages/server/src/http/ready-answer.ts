import { promisify } from "node:util";
import { constants, gzip } from "node:zlib";
import type { Request, Response } from "express";

const pack = promisify(gzip);
/** Shorter ones are not worth it. */
const LEAST_PACKED = 8000;

/** The answer of an operation as it goes over the wire, which has been checked by its schema. */
export class ReadyAnswer {
  private packed: Promise<Buffer> | null = null;

  /** @param tag tells it apart from others, where the caller may hold it already */
  constructor(
    readonly text: string,
    readonly tag: string | null = null,
  ) {}

  /** Sends it, or that the caller holds it already. */
  send(response: Response): void {
    if (this.tag !== null) response.set("ETag", this.tag);
    response.type("json").send(this.text);
  }

  /** Sends it as `send` does, but packs it where it is long: once, however often it is sent, and by the quickest level, since the others win little more. */
  async sendPacked(request: Request, response: Response): Promise<void> {
    response.vary("Accept-Encoding");
    if (this.tag !== null) response.set("ETag", this.tag);
    if (request.fresh || this.text.length < LEAST_PACKED || !request.acceptsEncodings("gzip")) {
      this.send(response);
      return;
    }
    this.packed ??= pack(this.text, { level: constants.Z_BEST_SPEED });
    const packed = await this.packed;
    response.type("json").set("Content-Encoding", "gzip").send(packed);
  }
}
