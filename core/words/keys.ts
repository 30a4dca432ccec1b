/**
 * A key made of a name that nothing else has: small letters, digits and hyphens; numbered where taken.
 *
 * @param otherwise what it is called where the name has no letter or digit a key can hold
 */
export function freeKey(name: string, taken: readonly { key: string }[], otherwise = "step"): string {
  const slug = slugOf(name, 50) || otherwise;
  const keys = new Set(taken.map((one) => one.key));
  let key = slug;
  for (let n = 2; keys.has(key); n++) key = `${slug}-${n}`;
  return key;
}

/** A title as it stands in an address: at most `most` small letters, digits and hyphens; empty where it has none. */
export function slugOf(title: string, most: number): string {
  const plain = title.normalize("NFKD").replace(/\p{M}/gu, "").toLowerCase();
  return plain
    .replace(/[^a-z0-9]+/g, "-")
    .replace(/^-/, "")
    .slice(0, most)
    .replace(/-$/, "");
}
