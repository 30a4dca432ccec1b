import { decipher, encipher, newSecret, secretId } from "./secrets.ts";

const { SESSION_SECRET } = process.env;
afterAll(() => {
  process.env.SESSION_SECRET = SESSION_SECRET;
});
beforeEach(() => {
  process.env.SESSION_SECRET = "a".repeat(40);
});

test("a secret is long, safe in an address, and never the same twice", () => {
  const many = Array.from({ length: 100 }, newSecret);
  expect(new Set(many).size).toBe(100);
  for (const one of many) expect(one).toMatch(/^[A-Za-z0-9_-]{43}$/);
});

test("what is kept of a secret is neither it nor guessed from it without the installation's key", () => {
  const secret = newSecret();
  const kept = secretId(secret);
  expect(kept).toMatch(/^[0-9a-f]{64}$/);
  expect(secretId(secret)).toBe(kept);
  expect(secretId(`${secret.slice(0, -1)}~`)).not.toBe(kept);
  process.env.SESSION_SECRET = "b".repeat(40);
  expect(secretId(secret)).not.toBe(kept);
});

test("what is enciphered reads back, looks different each time, and is refused when changed or under another key", () => {
  const text = "JBSWY3DPEHPK3PXP, größer als nichts";
  const sealed = encipher(text);
  expect(decipher(sealed)).toBe(text);
  expect(encipher(text)).not.toBe(sealed);
  expect(sealed).not.toContain("JBSW");
  const bytes = Buffer.from(sealed, "base64");
  for (const at of [0, 13, bytes.length - 1]) {
    const changed = Buffer.from(bytes);
    changed[at] = (changed[at] ?? 0) ^ 1;
    expect(() => decipher(changed.toString("base64"))).toThrow();
  }
  process.env.SESSION_SECRET = "b".repeat(40);
  expect(() => decipher(sealed)).toThrow();
});
