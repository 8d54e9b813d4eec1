import { type SharedInput, StageWord } from "@tourney/core/stage";
import { type RefObject, useEffect, useRef } from "react";
import type { StageChannel } from "./use-stage-channel.js";

/** How a stage of a comparison takes part in inputs that go to all. */
export interface InputSharing {
  /** Somebody did this in the stage, which has the keyboard. */
  onInput: (input: SharedInput) => void;
  /** Whether the stage found something to act an input out on. */
  onActed: (found: boolean, what: string) => void;
  /** Called with a way to have an input acted out in the stage, and with null when it goes. */
  connect: (act: ((input: SharedInput) => void) | null) => void;
}

/** A page that says more in a second than any hand can do is not listened to for the rest of it. */
const MOST_A_SECOND = 200;

/**
 * Carries inputs out of a stage and into it. What comes out of it is believed only while the stage has the keyboard, and only in the shape of an
 * input: a page may say what it likes.
 */
export function useSharedInputs(
  { frame, channel }: { frame: RefObject<HTMLIFrameElement | null>; channel: StageChannel },
  sharing: InputSharing | undefined,
): void {
  const latest = useRef(sharing);
  useEffect(() => {
    latest.current = sharing;
  });
  const isOn = sharing !== undefined;
  useEffect(() => {
    if (!isOn) return;
    let heard = 0;
    const timer = setInterval(() => (heard = 0), 1000);
    const silence = channel.listen((said) => {
      if (typeof said !== "object" || ++heard > MOST_A_SECOND) return;
      const word = StageWord.safeParse(said);
      if (!word.success) return;
      if (word.data.tourney === "acted") latest.current?.onActed(word.data.found, word.data.what);
      else if (document.activeElement === frame.current) latest.current?.onInput(word.data.input);
    });
    latest.current?.connect((input) => channel.say({ tourney: "act", input }));
    const connected = latest.current;
    return () => {
      clearInterval(timer);
      silence();
      connected?.connect(null);
    };
  }, [frame, channel, isOn]);
}
