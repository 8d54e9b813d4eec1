/**
 * Listens to what the server pushes; the browser connects again by itself when the line breaks.
 *
 * @returns ends it.
 */
export function listenTo(path: string, event: string, onData: (data: unknown) => void): () => void {
  if (typeof EventSource === "undefined") return () => undefined;
  const events = new EventSource(path);
  events.addEventListener(event, ({ data }: MessageEvent<string>) => onData(JSON.parse(data)));
  return () => events.close();
}
