import { type RefObject, useEffect, useMemo, useRef } from "react";

/** The app's end of a channel to what a frame shows. */
export interface StageChannel {
  /** Hands the document that the frame has loaded its end. */
  open: () => void;
  say: (word: unknown) => void;
  /** @returns stops listening */
  listen: (hear: (word: unknown) => void) => () => void;
}

/**
 * Speaks with a stage through a channel of their own, and not by messages to the window: anybody can send those, as many and as large as they like, and a
 * page that floods them would be listened to. Only the script of a stage holds the other end.
 */
export function useStageChannel(frame: RefObject<HTMLIFrameElement | null>): StageChannel {
  const port = useRef<MessagePort | null>(null);
  useEffect(() => () => port.current?.close(), []);
  return useMemo(() => {
    const listeners = new Set<(word: unknown) => void>();
    return {
      open() {
        port.current?.close();
        const { port1, port2 } = new MessageChannel();
        port1.onmessage = ({ data }: MessageEvent) => {
          for (const hear of listeners) hear(data);
        };
        port.current = port1;
        frame.current?.contentWindow?.postMessage("tourney:port", "*", [port2]);
      },
      say: (word) => port.current?.postMessage(word),
      listen(hear) {
        listeners.add(hear);
        return () => {
          listeners.delete(hear);
        };
      },
    };
  }, [frame]);
}
