import { keep } from "#app/views/frame/kept-here.ts";
import type { Block } from "#core/text/block.ts";
import type { Composing } from "./remarks.ts";

/** A remark that was begun, as the browser keeps it until it is sent or given up. */
export interface Begun extends Composing {
  body: string;
  wording: Block[] | null;
}

/** So many are kept of one piece; who begins more finishes some first. */
const MOST = 20;

const isOn = (one: Composing) => (other: Composing) =>
  one.proposes === other.proposes && JSON.stringify(one.place) === JSON.stringify(other.place);

/** The remarks somebody began on a piece and has not sent, the oldest first. */
export function begunHere(storageKey: string): Begun[] {
  try {
    const kept = JSON.parse(localStorage.getItem(storageKey) ?? "[]") as Begun[];
    return kept.filter(({ body, wording }) => body !== "" || wording !== null);
  } catch {
    return [];
  }
}

/** What was begun at a place; nothing where nothing was. */
export const begunAt = (storageKey: string, place: Composing): Begun =>
  begunHere(storageKey).find(isOn(place)) ?? { ...place, body: "", wording: null };

/** Keeps what is being written at a place. */
export function keepBegun(storageKey: string, one: Begun): void {
  const others = begunHere(storageKey).filter((other) => !isOn(one)(other));
  keep(localStorage, storageKey, JSON.stringify([...others, one].slice(-MOST)));
}

/** Lets go of what was begun at a place: it was sent, or given up. */
export function dropBegun(storageKey: string, place: Composing): void {
  const others = begunHere(storageKey).filter((other) => !isOn(place)(other));
  if (others.length > 0) keep(localStorage, storageKey, JSON.stringify(others));
  else localStorage.removeItem(storageKey);
}
