import { hashText } from "@tourney/core/random";
import { type AnswerRequest, composeAnswer, showsQuirk } from "./compose-answer.js";
import type { Exhibits } from "./exhibits.js";
import type { StandInModel } from "./models.js";

/** A conversation as both protocols have it. */
export interface Conversation {
  model: StandInModel;
  turns: readonly { role: "user" | "assistant"; text: string }[];
  maxTokens: number | null;
}

export interface Reply {
  text: string;
  end: "stop" | "length" | "stall" | "reset";
  /** The model id that the answer claims to be from. */
  reportedModel: string;
}

/** Four characters a token: the usual rule of thumb for English and code. */
export const CHARACTERS_PER_TOKEN = 4;
export const countTokens = (text: string): number => Math.ceil(text.length / CHARACTERS_PER_TOKEN);

const isContinue = (text: string) => /\bcontinue\b/i.test(text) && text.length < 400;
const isMend = (text: string) => /\breported\b[^]*\n- /i.test(text);

/** Works out what a made-up model answers in a conversation, and remembers only how often it was asked what. */
export class Speaker {
  private readonly asked = new Map<string, number>();
  private readonly hadTrouble = new Set<string>();

  constructor(
    private readonly options: { seed: number; faults: boolean },
    private readonly exhibits: Exhibits,
  ) {}

  /** Whether the model is busy now: once for a request that the seed picked for it. */
  isBusy(conversation: Conversation): boolean {
    return this.hasTrouble(this.requestOf(conversation, 0), "busy");
  }

  answer(conversation: Conversation): Reply {
    const { model, turns, maxTokens } = conversation;
    const last = turns.at(-1)?.text ?? "";
    const continued = isContinue(last) ? this.continue(conversation) : null;
    const request = this.requestOf(conversation, continued === null ? this.nextSample(conversation) : 0);
    const whole = continued ?? composeAnswer(request, this.exhibits);
    const isFirst = continued === null && (request.mends ?? 0) === 0;
    const limit = maxTokens === null ? Number.POSITIVE_INFINITY : maxTokens * CHARACTERS_PER_TOKEN;
    const ownLimit =
      isFirst && showsQuirk(request, "stopsAtLimit") ? Math.ceil(whole.length * 0.6) : Number.POSITIVE_INFINITY;
    const length = Math.min(whole.length, limit, ownLimit);
    const end = this.hasTrouble(request, "stalls")
      ? "stall"
      : this.hasTrouble(request, "resets")
        ? "reset"
        : length < whole.length
          ? "length"
          : "stop";
    const reportedModel = showsQuirk(request, "reportsOtherModel")
      ? `${model.id.replace(/-[^-]*$/, "")}-mini`
      : model.id;
    return {
      text: whole.slice(0, end === "stall" || end === "reset" ? Math.ceil(length / 2) : length),
      end,
      reportedModel,
    };
  }

  /** What is asked for: the last user's message that is neither a mend nor a plea to go on, with the mends after it. */
  private requestOf({ model, turns }: Conversation, sample: number): AnswerRequest {
    const asks = turns.filter(({ role, text }) => role === "user" && !isContinue(text));
    const own = asks.findLastIndex(({ text }) => !isMend(text) && text.length >= 60);
    const text = (asks[own] ?? asks.at(-1))?.text ?? "";
    return {
      ...this.options,
      model,
      text: own > 0 ? `${text}\n${asks[0]!.text}` : text,
      sample,
      mends: own === -1 ? 0 : asks.length - 1 - own,
    };
  }

  private nextSample(conversation: Conversation): number {
    const { model, text, mends } = this.requestOf(conversation, 0);
    if ((mends ?? 0) > 0) return 0;
    const topic = `${model.id} ${hashText(text)}`;
    const sample = this.asked.get(topic) ?? 0;
    this.asked.set(topic, sample + 1);
    return sample;
  }

  /** The rest of an answer of which the conversation holds the beginning. */
  private continue(conversation: Conversation): string | null {
    const parts: string[] = [];
    for (const { role, text } of conversation.turns.toReversed()) {
      if (role === "assistant") parts.unshift(text);
      else if (!isContinue(text)) break;
    }
    const soFar = parts.join("");
    const { model, text } = this.requestOf(conversation, 0);
    const samples = Math.max(1, this.asked.get(`${model.id} ${hashText(text)}`) ?? 0);
    for (let sample = 0; sample < samples; sample++) {
      const whole = composeAnswer(this.requestOf(conversation, sample), this.exhibits);
      if (whole.startsWith(soFar)) return whole.slice(soFar.length);
    }
    return null;
  }

  /** Troubles that pass: each comes once for a request that the seed picked for it. */
  private hasTrouble(request: AnswerRequest, quirk: "busy" | "stalls" | "resets"): boolean {
    const key = `${quirk} ${request.model.id} ${hashText(request.text)}`;
    if (this.hadTrouble.has(key) || !showsQuirk({ ...request, sample: 0 }, quirk)) return false;
    this.hadTrouble.add(key);
    return true;
  }
}
