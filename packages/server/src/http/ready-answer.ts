import { promisify } from "node:util";
import { constants, gunzip, gzip, type ZlibOptions } from "node:zlib";
import type { Request, Response } from "express";

const pack = promisify<string, ZlibOptions, Buffer>(gzip);
const unpack = promisify<Uint8Array, Buffer>(gunzip);
/** Shorter ones are not worth it. */
const LEAST_PACKED = 8000;
/** The quickest level: the others win little more. */
export const PACKING = { level: constants.Z_BEST_SPEED };

/** The answer of an operation as it goes over the wire, which has been checked by its schema. */
export class ReadyAnswer {
  private packed: Promise<Uint8Array> | null = null;

  /**
   * @param body its text; or that packed, where it is held for long and nearly everybody wants it so
   * @param tag tells it apart from others, where the caller may hold it already
   */
  constructor(
    private readonly body: string | Uint8Array,
    readonly tag: string | null = null,
  ) {}

  /** One that is held packed. @param text of its body */
  static async pack(text: string, tag: string | null = null): Promise<ReadyAnswer> {
    return new ReadyAnswer(await pack(text, PACKING), tag);
  }

  async getText(): Promise<string> {
    return typeof this.body === "string" ? this.body : (await unpack(this.body)).toString("utf8");
  }

  /** Sends it, or that the caller holds it already. */
  async send(response: Response): Promise<void> {
    const text = await this.getText();
    if (this.tag !== null) response.set("ETag", this.tag);
    response.type("json").send(text);
  }

  /** Sends it as `send` does, but packs it where it is long: once, however often it is sent. */
  async sendPacked(request: Request, response: Response): Promise<void> {
    response.vary("Accept-Encoding");
    if (this.tag !== null) response.set("ETag", this.tag);
    // Nothing is unpacked to say that the caller holds it.
    if (request.fresh) return void response.status(304).end();
    const isShort = typeof this.body === "string" && this.body.length < LEAST_PACKED;
    if (isShort || !request.acceptsEncodings("gzip")) return this.send(response);
    this.packed ??= typeof this.body === "string" ? pack(this.body, PACKING) : Promise.resolve(this.body);
    const packed = await this.packed;
    response.type("json").set("Content-Encoding", "gzip").send(packed);
  }
}
