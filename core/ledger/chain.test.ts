import fc from "fast-check";
import { entryHash, follow, GENESIS, hashOf, type LedgerEntry, settleErased, type Tail } from "./chain.ts";

const entry = (seq: number, after: unknown = null): LedgerEntry => ({
  seq,
  at: seq * 10,
  actorId: "a",
  forId: null,
  action: "test",
  pieceId: null,
  subjectId: null,
  before: null,
  after,
  origin: "test",
  requestId: "r",
});

function chain(values: unknown[]) {
  let previous = GENESIS;
  return values.map((value, i) => {
    const said = entry(i + 1, value);
    const hash = entryHash(said, previous);
    const row = { ...said, previous, hash, erasedBy: null as number | null };
    previous = hash;
    return row;
  });
}

/** How far a chain can be followed, and what stops it. */
function walk(rows: ReturnType<typeof chain>): string {
  let tail: Tail = { seq: 0, hash: GENESIS };
  for (const row of rows) {
    const next = follow(tail, row);
    if (typeof next === "string") return next;
    tail = next;
  }
  return `sound to ${tail.seq}`;
}

test("the hash is SHA-256 over canonical JSON: the order of keys does not matter", () => {
  expect(hashOf({ b: 1, a: [true, null] })).toBe(hashOf({ a: [true, null], b: 1 }));
  // By Python's hashlib over the bytes {"a":[true,null],"b":1}
  expect(hashOf({ a: [true, null], b: 1 })).toBe("51705a2c9eb3e7e410a58f696a770c3ac3885a0cf43eb7fc88f5e47c11d4d30d");
});

test("a chain can be followed to its end", () => {
  expect(walk(chain([1, "two", { three: 3 }]))).toBe("sound to 3");
});

test("what was erased is known by its hash, and by the entry that says so", () => {
  const rows = chain(["private words", "more", "erased"]).map((row, i) =>
    i === 0 ? { ...row, after: null, erasedBy: 3 } : row,
  );
  expect(walk(rows)).toBe("sound to 3");
  const [first] = rows;
  const erased = new Map([[1, { hash: first?.hash ?? "", by: 3 }]]);
  expect(settleErased(erased, 2, null)).toEqual(erased);
  expect(settleErased(erased, 3, { entries: [{ seq: 1, hash: first?.hash }] })).toEqual(new Map());
  expect(settleErased(erased, 3, { entries: [{ seq: 1, hash: "other" }] })).toMatch(/entry 1 was changed/);
  expect(settleErased(erased, 3, null)).toMatch(/entry 1 was changed/);
});

test("whatever is changed, taken out or put in is found at its place", () =>
  fc.assert(
    fc.property(fc.array(fc.jsonValue(), { minLength: 2, maxLength: 8 }), fc.nat(), (values, n) => {
      const rows = chain(values);
      const at = n % rows.length;
      const changed = rows.map((row, i) => (i === at ? { ...row, origin: "elsewhere" } : row));
      expect(walk(changed)).toBe(`entry ${at + 1} was changed after it was written`);
      if (at < rows.length - 1) expect(walk(rows.filter((_, i) => i !== at))).toBe(`entry ${at + 1} is missing`);
      const rewritten = rows.map((row, i) =>
        i === at ? { ...row, after: [row.after], hash: entryHash(entry(row.seq, [row.after]), row.previous) } : row,
      );
      if (at < rows.length - 1) expect(walk(rewritten)).toMatch(/does not follow from/);
    }),
  ));
