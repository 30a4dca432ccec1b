import { useMemo } from "react";

/**
 * Plain data on its way to a page as one string. The router writes and reads what loaders give value by
 * value, which of a long text with a thousand remarks takes longer than all the rest; JSON is one.
 */
export type Packed<T> = string & { readonly holds: T };

export const pack = <T>(data: T): Packed<T> => JSON.stringify(data) as Packed<T>;

/** What was packed; the same object for as long as the same was sent. */
export const usePacked = <T>(packed: Packed<T>): T => useMemo(() => JSON.parse(packed) as T, [packed]);
