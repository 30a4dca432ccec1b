/** Rows by what they have in common, in the order in which that is first met. */
export function groupBy<T, K>(rows: readonly T[], key: (row: T) => K): Map<K, T[]> {
  const groups = new Map<K, T[]>();
  for (const row of rows) {
    const known = groups.get(key(row));
    if (known) known.push(row);
    else groups.set(key(row), [row]);
  }
  return groups;
}
