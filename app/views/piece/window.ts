import { keep } from "#app/views/frame/kept-here.ts";

const KEY = "elenco:window";

/**
 * This window's own id, by which the server tells two windows of one person apart. It outlives the
 * pages the window shows; a window opened as a copy of another finds its id taken and gets its own.
 */
export function windowId(): Promise<string> {
  asked ??= claim();
  return asked;
}

let asked: Promise<string> | undefined;

async function claim(): Promise<string> {
  const kept = sessionStorage.getItem(KEY);
  const own = kept && (await isFree(kept)) ? kept : crypto.randomUUID();
  keep(sessionStorage, KEY, own);
  if (own !== kept) await isFree(own);
  return own;
}

/** Whether no other window has an id; from then on this one has it. */
export function isFree(id: string): Promise<boolean> {
  return new Promise((resolve) => {
    if (!navigator.locks) return resolve(false);
    void navigator.locks.request(`${KEY}:${id}`, { ifAvailable: true }, (lock) => {
      resolve(lock !== null);
      return lock && new Promise(() => undefined);
    });
  });
}

/** Whether a window of this browser has an id just now. */
export async function isOpen(id: string): Promise<boolean> {
  const { held = [] } = (await navigator.locks?.query()) ?? {};
  return held.some(({ name }) => name === `${KEY}:${id}`);
}
