/** The part of an `EventSource` that is listened to. */
export type Source = Pick<EventSource, "addEventListener" | "close" | "readyState">;

/** The state of a source that will not try again by itself. */
const CLOSED = 2;

/**
 * Listens to a stream of changes until it is stopped. What happened while nobody listened is told once it is
 * listened to again; a stream the server ended for good is opened anew after a while.
 *
 * @param open opens the stream
 * @param changed told that something happened, or may have
 * @param missed asked when the stream first opens: whether something may have happened before
 * @param pause how long until an ended stream is opened anew, in milliseconds
 * @returns what stops it
 */
export function follow(open: () => Source, changed: () => void, missed: () => boolean, pause: number): () => void {
  let opened = false;
  let behind = false;
  let again: ReturnType<typeof setTimeout> | undefined;
  let source: Source;
  const begin = () => {
    source = open();
    source.addEventListener("open", () => {
      if (behind || (!opened && missed())) changed();
      opened = true;
      behind = false;
    });
    source.addEventListener("changed", changed);
    source.addEventListener("error", () => {
      behind = true;
      if (source.readyState !== CLOSED) return;
      changed();
      again = setTimeout(begin, pause);
    });
  };
  begin();
  return () => {
    clearTimeout(again);
    source.close();
  };
}
