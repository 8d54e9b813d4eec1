import { useState } from "react";

/** Copies the voter's own link, with which the voting goes on in another browser. */
export function OwnLink({ url }: { url: string }) {
  const [said, setSaid] = useState<string | null>(null);
  const copy = async () => {
    try {
      await navigator.clipboard.writeText(url);
      setSaid("link copied");
    } catch {
      setSaid(url);
    }
  };
  return (
    <button
      type="button"
      onClick={() => void copy()}
      title="Copies a link with which you go on where you are, in another browser or on another device. It is yours alone."
      className="max-w-72 truncate border-0 border-b border-dotted border-soft bg-transparent p-0 text-[13px] text-soft hover:text-ink"
    >
      {said ?? "go on elsewhere"}
    </button>
  );
}
