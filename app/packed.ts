import { useMemo } from "react";

/**
 * Plain data on its way to a page as one string. The router writes and reads what loaders give value by
 * value, which of a long text with a thousand remarks takes longer than all the rest; JSON is one.
 */
export type Packed<T> = string & { readonly holds: T };

/** What something packed holds. */
export type Held<P> = P extends Packed<infer T> ? T : never;

export const pack = <T>(data: T): Packed<T> => JSON.stringify(data) as Packed<T>;

/** What was packed; the same object for as long as the same was sent. */
export const usePacked = <T>(packed: Packed<T>): T => useMemo(() => JSON.parse(packed) as T, [packed]);

/** Rows of one shape as columns: what many of them hold is written once. */
export interface Columns<T> {
  readonly size: number;
  /** All that stands anywhere in them; bare texts are joined. */
  readonly texts: string;
  readonly others: readonly unknown[];
  /** Of each key which of those each row holds, texts first; one for all where they hold the same. */
  readonly by: { readonly [K in keyof T]: number | readonly number[] };
}

/** What stands between texts; a text with it in it is not bare. */
const BETWEEN = "\u00a6";

/** Rows as columns, for a list of thousands on its way to a page. What they hold is plain. */
export function columnsOf<T extends object>(rows: readonly T[]): Columns<T> {
  const keys = Object.keys(rows[0] ?? {}) as (keyof T)[];
  const texts: string[] = [];
  const others: unknown[] = [];
  const places = new Map<unknown, number>();
  /** Of what is no bare value: what is written alike is the same. */
  const written = new Map<string, number>();
  /** Texts count up from 0, all else down from -1. */
  const placeOf = (value: unknown): number => {
    const known = places.get(value);
    if (known !== undefined) return known;
    const name = typeof value === "object" && value !== null ? JSON.stringify(value) : null;
    const isText = typeof value === "string" && !value.includes(BETWEEN);
    const place =
      (name === null ? undefined : written.get(name)) ?? (isText ? texts.push(value) - 1 : -others.push(value));
    if (name !== null) written.set(name, place);
    places.set(value, place);
    return place;
  };
  const by = keys.map((key) => {
    const at = rows.map((row) => placeOf(row[key]));
    return [key, at.every((place) => place === at[0]) ? at[0] : at];
  });
  return { size: rows.length, texts: texts.join(BETWEEN), others, by: Object.fromEntries(by) };
}

/** The rows again; equal values are one and the same, and not to be changed. */
export function rowsOf<T extends object>({ size, texts, others, by }: Columns<T>): T[] {
  const bare = texts.split(BETWEEN);
  const columns = Object.entries(by) as [keyof T, number | readonly number[]][];
  return Array.from({ length: size }, (_, i) => {
    const row = {} as T;
    for (const [key, at] of columns) {
      const place = typeof at === "number" ? at : (at[i] ?? 0);
      row[key] = (place < 0 ? others[-place - 1] : bare[place]) as T[keyof T];
    }
    return row;
  });
}
