import { readdirSync, readFileSync, writeFileSync } from "node:fs";
import path from "node:path";
import { brotliCompressSync, constants, gzipSync } from "node:zlib";

/** What gains by it, and from how many bytes on. */
const PACKED = /\.(js|css|svg)$/;
const LEAST = 1_000;
/** The best but one: the best takes twice as long for two of a hundred. */
const QUALITY = 10;

/**
 * Packs what browsers fetch, each file beside itself as `.br` and `.gz`; the server sends what a browser takes.
 *
 * @param folder of the built client
 */
export function pack(folder: string): void {
  for (const entry of readdirSync(folder, { recursive: true, withFileTypes: true })) {
    const file = path.join(entry.parentPath, entry.name);
    const bytes = entry.isFile() && PACKED.test(entry.name) ? readFileSync(file) : null;
    if (!bytes || bytes.length < LEAST) continue;
    writeFileSync(`${file}.br`, brotliCompressSync(bytes, { params: { [constants.BROTLI_PARAM_QUALITY]: QUALITY } }));
    writeFileSync(`${file}.gz`, gzipSync(bytes));
  }
}
