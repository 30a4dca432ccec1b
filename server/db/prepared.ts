import type { Queryable } from "./client.ts";

/** A built read that can be sent with other values: what `.prepare()` of the query builder gives. */
export interface Prepared<V, R> {
  execute(values: V): Promise<R>;
}

/**
 * A read whose text is made once for each database and sent again with other values: for a page that
 * asks twenty of them, making the text costs as much as asking.
 *
 * @param make builds the read, with `sql.placeholder(name)` where a value goes
 */
export function prepared<V extends Record<string, unknown>, R>(make: (db: Queryable) => Prepared<V, R>) {
  const made = new WeakMap<Queryable, Prepared<V, R>>();
  return (db: Queryable, values: V): Promise<R> => {
    let query = made.get(db);
    if (!query) {
      query = make(db);
      made.set(db, query);
    }
    return query.execute(values);
  };
}
