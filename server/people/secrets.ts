import { createCipheriv, createDecipheriv, createHmac, hkdfSync, randomBytes } from "node:crypto";

/** A new secret for a cookie or a link: 256 bits, safe in an address. */
export const newSecret = () => randomBytes(32).toString("base64url");

/** What the database keeps of a secret: without the installation's key it opens nothing. */
export const secretId = (secret: string) => createHmac("sha256", installationKey()).update(secret).digest("hex");

/** Enciphers what must be read again, with AES-256-GCM under a key drawn from the installation's. */
export function encipher(text: string): string {
  const nonce = randomBytes(12);
  const cipher = createCipheriv("aes-256-gcm", cipherKey(), nonce);
  const sealed = Buffer.concat([cipher.update(text, "utf8"), cipher.final()]);
  return Buffer.concat([nonce, cipher.getAuthTag(), sealed]).toString("base64");
}

/** Reads what `encipher` wrote. @throws when it was changed, or written under another key */
export function decipher(stored: string): string {
  const bytes = Buffer.from(stored, "base64");
  const reader = createDecipheriv("aes-256-gcm", cipherKey(), bytes.subarray(0, 12));
  reader.setAuthTag(bytes.subarray(12, 28));
  return Buffer.concat([reader.update(bytes.subarray(28)), reader.final()]).toString("utf8");
}

/** A secret the installation can always make anew, for somebody outside to know it by. @param what whom it is shared with */
export const sharedSecret = (what: string) => createHmac("sha256", cipherKey()).update(`shared ${what}`).digest("hex");

/** What proves to who shares a secret that something was sent by us, and when: HMAC-SHA-256 over `timestamp.body`, hex. */
export const signed = (secret: string, timestamp: string, body: string) =>
  createHmac("sha256", secret).update(`${timestamp}.${body}`).digest("hex");

const installationKey = () => process.env.SESSION_SECRET ?? "";
const cipherKey = () => Buffer.from(hkdfSync("sha256", installationKey(), "", "elenco second factor", 32));
